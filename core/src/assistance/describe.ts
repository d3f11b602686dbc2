/** What an editor says of a function or a name when someone rests on it. */
import { functions, findFunction } from '../language/functions/index.ts';
import { type LanguageFunction, signaturesOf } from '../language/functions/function.ts';
import type { Variable } from '../language/expression/checked.ts';
import type { Scope } from '../language/expression/scope.ts';
import { optionsOf, type Type, typeName } from '../language/types/types.ts';
import { valueToText } from '../values/value.ts';
import { Place } from './place.ts';

export interface FunctionHelp {
  readonly name: string;
  /** `words(text: a text): a list of texts`. */
  readonly signature: string;
  readonly help: string;
  /** `words("Fen") gives ["Fen"]`. */
  readonly example: string;
}

export function describeFunction(f: LanguageFunction): FunctionHelp {
  const parameters = signaturesOf(f)[0]!.map((p) => `${p.name}${p.optional ? ' (may be left out)' : ''}`);
  const more = f.variadic ? ', …' : '';
  const [formula, gives] = f.examples[0] ?? ['', null];
  const result = typeof f.result === 'function' ? '' : ` → ${typeName(f.result)}`;
  return {
    name: f.name,
    signature: `${f.name}(${parameters.join(', ')}${more})${result}`,
    help: f.help,
    example: formula ? `${formula} gives ${valueToText(gives, true)}` : '',
  };
}

/** All functions with their help, for the list beside the editor and the documentation. */
export const functionHelp = (): readonly FunctionHelp[] => functions.map(describeFunction);

export interface Description {
  readonly from: number;
  readonly to: number;
  readonly title: string;
  readonly text: string;
}

/** What stands at a place of a formula: a function, or a name with its type. */
export function describeAt(
  text: string,
  at: number,
  scope: Scope,
  variables: readonly Variable[] = [],
): Description | undefined {
  const place = new Place(text, scope, variables);
  const { tokens } = place;
  const index = tokens.findIndex((t) => t.from <= at && at <= t.to && (t.kind === 'name' || t.kind === 'function'));
  const token = tokens[index];
  if (!token) return undefined;
  const { from, to } = token;
  if (token.kind === 'function') {
    const { signature, help, example } = describeFunction(findFunction(text.slice(from, to))!);
    return { from, to, title: signature, text: `${help} ${example}` };
  }
  const value = place.valueBefore(index + 1)!;
  const type = place.typeOf(value, index + 1);
  return type.kind === 'any' ? undefined : { from, to, title: value, text: typeText(type) };
}

function typeText(type: Type): string {
  const name = typeName(type);
  const options = optionsOf(type);
  return options ? `${name}: ${options.names.join(', ')}` : name;
}
