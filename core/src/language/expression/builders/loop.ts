/** `for`, `some` and `every`: what runs once for each item of a list, or of several within each other. */
import type { Value } from '../../../values/value.ts';
import type { Expression, For, Quantified } from '../ast.ts';
import { and, or } from '../operators.ts';
import { bodyPrice } from '../price.ts';
import { type Environment, type Running, itemsOf, sequence, spend } from '../runtime.ts';
import type { Builder, Building } from './building.ts';

type Domain = (env: Environment) => readonly Value[] | null;

export const loop: Builder<For | Quantified> = ({ kind, iterators, body }, building) =>
  building.with(iterators.length + 1, (stackIndex) => {
    // A domain sees the variables before its own.
    const domains = iterators.map(({ domain, end }, i) =>
      building.at(stackIndex + i, () => domainOf(domain, end, building)),
    );
    const price = 1 + bodyPrice(body);
    const domainPrices = iterators.map(({ domain, end }) => bodyPrice(domain) + (end ? bodyPrice(end) : 0));
    const partial = stackIndex + iterators.length;
    const run = building.build(body);
    const looksBack = building.names(body, (m) => m.kind === 'variable' && m.stackIndex === partial);
    return (env) => {
      const results: Value[] = [];
      let verdict: boolean | null = kind === 'every';
      let runsOver = true;
      const visit = (i: number): void => {
        if (i === domains.length) {
          spend(env, price);
          if (looksBack) {
            spend(env, results.length);
            env.variables![partial] = results.slice();
          }
          const v = run(env);
          if (kind === 'for') results.push(v);
          else verdict = kind === 'some' ? or(verdict, v) : and(verdict, v);
          return;
        }
        // A loop inside that has nothing to run over is work as well.
        spend(env, domainPrices[i]!);
        const items = domains[i]!(env);
        if (items === null) {
          runsOver = false;
          return;
        }
        for (const item of items) {
          env.variables![stackIndex + i] = item;
          visit(i + 1);
          if (!runsOver) return;
        }
      };
      visit(0);
      // What is no list, nor two ends of a range, is nothing to run over (DMN 1.3, 10.3.2.14).
      if (!runsOver) return null;
      return kind === 'for' ? results : verdict;
    };
  });

function domainOf(domain: Expression, end: Expression | undefined, building: Building): Domain {
  const from = building.build(domain);
  if (!end) return (env) => itemsOf(from(env), (env as Running).meter);
  const to = building.build(end);
  return (env) => sequence(from(env), to(env), (env as Running).meter);
}
