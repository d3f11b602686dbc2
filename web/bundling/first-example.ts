/**
 * Of a function's examples, which are its tests as well, a browser shows the first: the others stay out of what every page
 * takes along.
 */
import { parseAst, type Plugin } from 'vite';

const functions = /\/core\/src\/language\/functions\/[a-z-]+\.ts$/;

interface Node {
  readonly type: string;
  readonly start: number;
  readonly end: number;
}

/** Lists with more than one element that stand as `examples`, in their order. */
function* examplesIn(node: unknown): Generator<{ readonly elements: readonly Node[] } & Node> {
  if (Array.isArray(node)) for (const n of node) yield* examplesIn(n);
  if (typeof node !== 'object' || node === null) return;
  const { type, key, value } = node as { type?: string; key?: { name?: string }; value?: Node & { elements?: Node[] } };
  if (type === 'Property' && key?.name === 'examples' && value?.elements && value.elements.length > 1)
    yield { ...value, elements: value.elements };
  else if (!Array.isArray(node)) for (const child of Object.values(node)) yield* examplesIn(child);
}

/** Source of functions with one example each. */
export function withFirstExample(code: string): string {
  const found = [...examplesIn(parseAst(code).body)];
  return found.reduceRight((text, { elements, end }) => `${text.slice(0, elements[0]!.end)}]${text.slice(end)}`, code);
}

export function firstExample(): Plugin {
  return {
    name: 'first-example',
    apply: 'build',
    // Once it is JavaScript.
    enforce: 'post',
    applyToEnvironment: (environment) => environment.name === 'client',
    transform: { filter: { id: functions }, handler: (code) => ({ code: withFirstExample(code), map: null }) },
  };
}
