import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import Decimal from 'decimal.js';
import { describe, expect, it } from 'vitest';
import { unusedMethods, withoutUnused } from './decimal-in-use.ts';
import { withFirstExample } from './first-example.ts';
import { filesOf, type SharedFile } from './files.ts';
import { withLaterImportsLast } from './manifest.ts';
import { importsThrough, loadedWith, parseModule, type Imports, type SourceModule } from './imports.ts';

/** Modules by id, with the names that they export; what they import is written as an id. */
function imports(modules: Record<string, { readonly code: string; readonly exports?: readonly string[] }>): Imports {
  const parsed = new Map(
    Object.entries(modules).map(([id, { code }]) => {
      const importedIds = [...new Set([...code.matchAll(/from '(\w+)'|import '(\w+)'/g)].map((m) => m[1] ?? m[2]!))];
      return [id, parseModule({ code, importedIds } satisfies SourceModule, !id.startsWith('impure'))] as const;
    }),
  );
  return importsThrough(
    (id) => parsed.get(id) ?? { imports: [] },
    (id) => modules[id]?.exports ?? [],
  );
}

it.each<[string, string, string[]]>([
  ['a module of its own', `import { a } from 'one'; a();`, ['one']],
  ['a name that a face hands on', `import { a } from 'face'; a();`, ['one']],
  ['another name of it', `import { b } from 'face'; b();`, ['two']],
  ['a name that a face imports first', `import { z } from 'face'; z();`, ['two']],
  ['a name out of all of another', `import { c } from 'face'; c();`, ['three']],
  ['a default', `import x from 'face'; x();`, ['one']],
  ['a face taken whole', `import * as all from 'face'; all.a();`, ['face', 'one', 'two', 'three', 'more']],
  ['a module that has to be run', `import 'one';`, ['one']],
  ['a face of a package that may have to be run', `import { a } from 'impure'; a();`, ['impure']],
  ['what is handed on by one that does more', `export { a } from 'face'; globalThis.x = 1;`, ['one']],
])('imports of %s', (_, code, expected) => {
  const importsOf = imports({
    it: { code },
    one: { code: 'export const a = 1; export default a;', exports: ['a', 'default'] },
    two: { code: 'export const b = 1;', exports: ['b'] },
    three: { code: 'export const c = 1;', exports: ['c'] },
    more: { code: `export * from 'three';`, exports: ['c'] },
    face: {
      code: `import { b as y } from 'two'; export { a, default } from 'one'; export { b } from 'two'; export { y as z }; export * from 'more';`,
    },
    impure: { code: `export { a } from 'one';`, exports: ['a'] },
  });
  expect([...importsOf('it')].sort()).toEqual([...expected].sort());
});

/** Random modules that import later ones, and pages that load some of them. */
const graph = fc
  .integer({ min: 4, max: 14 })
  .chain((n) =>
    fc.record({
      edges: fc.array(fc.tuple(fc.nat(n - 1), fc.nat(n - 1)), { minLength: n, maxLength: 3 * n }),
      pages: fc.array(fc.nat(n - 1), { minLength: 1, maxLength: 5 }),
      sizes: fc.array(fc.constantFrom(100, 100, 100, 20_000), { minLength: n, maxLength: n }),
    }),
  )
  .map(({ edges, pages, sizes }) => {
    const next = new Map<string, Set<string>>();
    for (const [a, b] of edges) if (a < b) next.set(`m${a}`, (next.get(`m${a}`) ?? new Set()).add(`m${b}`));
    const importsOf: Imports = (id) => next.get(id) ?? new Set();
    const pagesOf = new Map<string, Set<string>>();
    pages.forEach((root, page) => {
      for (const id of loadedWith(`m${root}`, importsOf))
        pagesOf.set(id, (pagesOf.get(id) ?? new Set()).add(`page ${page}`));
    });
    return { importsOf, pagesOf, sizeOf: (id: string) => sizes[Number(id.slice(1))]! };
  });

it('files hold each module once, load little that a page does not need, and never import each other', () => {
  fc.assert(
    fc.property(graph, ({ importsOf, pagesOf, sizeOf }) => {
      const files = filesOf(pagesOf, importsOf, sizeOf);
      expect(files.flatMap((f) => f.modules).sort()).toEqual([...pagesOf.keys()].sort());
      const fileOf = new Map(files.flatMap((f) => f.modules.map((id) => [id, f] as const)));
      const importedBy = (f: SharedFile) =>
        new Set(f.modules.flatMap((id) => [...importsOf(id)].map((other) => fileOf.get(other)!)));
      // Files import only those after them, so never each other.
      files.forEach((file, i) => {
        for (const other of importedBy(file)) expect(files.indexOf(other)).toBeGreaterThanOrEqual(i);
      });
      for (const page of new Set([...pagesOf.values()].flatMap((pages) => [...pages]))) {
        const loaded = new Set(files.filter((f) => f.modules.some((id) => pagesOf.get(id)!.has(page))));
        for (const file of loaded) for (const other of importedBy(file)) loaded.add(other);
        const inVain = [...loaded].flatMap((f) => f.modules).filter((id) => !pagesOf.get(id)!.has(page));
        expect(inVain.filter((id) => sizeOf(id) > 10_000 || pagesOf.get(id)!.size === 1)).toEqual([]);
      }
    }),
    { numRuns: 1000 },
  );
});

it('the list of files tells what is imported later on with the entries, however deep it is', () => {
  const chunk = (file: string, more: object) => ({ file, name: file, ...more });
  expect(
    withLaterImportsLast({
      page: chunk('page.js', { isEntry: true, imports: ['a', 'b'] }),
      a: chunk('a.js', { imports: ['b'], dynamicImports: ['later'] }),
      b: chunk('b.js', { imports: ['a'], dynamicImports: ['later', 'other'] }),
      later: chunk('later.js', { isDynamicEntry: true, imports: ['b'] }),
      other: chunk('other.js', { isDynamicEntry: true }),
    }),
  ).toEqual({
    page: chunk('page.js', { isEntry: true, imports: ['a', 'b'], dynamicImports: ['later', 'other'] }),
    a: chunk('a.js', { imports: ['b'] }),
    b: chunk('b.js', { imports: ['a'] }),
    later: chunk('later.js', { isDynamicEntry: true, imports: ['b'], dynamicImports: ['later', 'other'] }),
    other: chunk('other.js', { isDynamicEntry: true }),
  });
});

describe('the decimal library without what no formula computes', () => {
  const source = fileURLToPath(import.meta.resolve('decimal.js/decimal.mjs'));
  const whole = readFileSync(source, 'utf8');
  const less = withoutUnused(whole);
  const core = import.meta.glob<string>('../../core/src/**/*.ts', { query: '?raw', import: 'default', eager: true });

  it('lacks nothing that core calls', () => {
    const methods = [...whole.matchAll(/^P\.(\w+) = (?:P\.(\w+) = )?function/gm)];
    const gone = methods.flatMap(([, long, short = long]) => (unusedMethods.has(long!) ? [long!, short!] : []));
    const called = new RegExp(String.raw`(?<!Math)\.(${gone.join('|')})\(`);
    const ofConstructor = /\bDecimal(?:Base)?\.(?!clone\b|ROUND_|Rounding\b|Value\b)\w/;
    expect(Object.keys(core).length).toBeGreaterThan(100);
    expect(Object.keys(core).filter((path) => [called, ofConstructor].some((use) => use.test(core[path]!)))).toEqual(
      [],
    );
  });

  it('computes the same', async () => {
    const { Decimal: Lean } = (await import(`data:text/javascript,${encodeURIComponent(less)}`)) as {
      Decimal: typeof Decimal;
    };
    const settings = { precision: 34, rounding: Decimal.ROUND_HALF_EVEN };
    const [a, b] = [Decimal.clone(settings), Lean.clone(settings)];
    const digits = fc.tuple(fc.bigInt({ min: -(10n ** 33n), max: 10n ** 33n }), fc.integer({ min: -40, max: 10 }));
    fc.assert(
      fc.property(digits, digits, fc.integer({ min: -30, max: 30 }), (x, y, n) => {
        const all = (D: typeof Decimal): string[] => {
          const [p, q] = [new D(x.join('e')), new D(y.join('e'))];
          const positive = p.abs().plus(1);
          return [p.plus(q), p.minus(q), p.times(q), p.div(q), p.mod(q), p.pow(n), positive.ln(), positive.sqrt()]
            .concat([new D(n).exp(), p.toDecimalPlaces(5), p.floor(), p.ceil(), p.trunc(), p.round()])
            .map(String)
            .concat(p.toFixed(3), p.toExponential(), p.toPrecision(9), String(p.comparedTo(q)), String(p.precision()));
        };
        expect(all(b)).toEqual(all(a));
      }),
    );
  });

  it('says so where the library is made in another way', () => {
    expect(() => withoutUnused(whole.replace('P.cosine', 'P.other'))).toThrow('made in another way');
  });
});

it.each([
  [
    'of several the first',
    `x({ name: 'a', examples: [['a(1)', 1], ['a("]")', null]], work: 1 });`,
    `x({ name: 'a', examples: [['a(1)', 1]], work: 1 });`,
  ],
  ['of several functions', `[{ examples: [1, 2] }, { examples: [3, [4]] }]`, `[{ examples: [1] }, { examples: [3] }]`],
  ['one alone', `({ examples: [['a', []]] })`, `({ examples: [['a', []]] })`],
  [
    'nothing else that is called so',
    `f(examples, [1, 2]); const examples = [1, 2];`,
    `f(examples, [1, 2]); const examples = [1, 2];`,
  ],
])('a page takes along the example of a function: %s', (_, code, kept) => {
  expect(withFirstExample(code)).toBe(kept);
});
