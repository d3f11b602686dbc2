/**
 * The browser's decimal library without what no formula computes: circles, other bases, fractions, and the functions
 * that say by a name of the constructor what its numbers have as a method. Its methods hang on one prototype, where the
 * bundler cannot see that nobody calls them; they were two fifths of the library.
 */
import { parseAst, type Plugin } from 'vite';

/** Methods that are left out. Core must not call them (tested); whoever needs one takes it out of this list. */
export const unusedMethods: ReadonlySet<string> = new Set([
  'clampedTo',
  'cosine',
  'cubeRoot',
  'hyperbolicCosine',
  'hyperbolicSine',
  'hyperbolicTangent',
  'inverseCosine',
  'inverseHyperbolicCosine',
  'inverseHyperbolicSine',
  'inverseHyperbolicTangent',
  'inverseSine',
  'inverseTangent',
  'logarithm',
  'sine',
  'tangent',
  'toBinary',
  'toFraction',
  'toHexadecimal',
  'toNearest',
  'toOctal',
]);

type Statement = ReturnType<typeof parseAst>['body'][number];

const library = /\/node_modules\/decimal\.js\/decimal\.mjs$/;

/** Statements `P.cosine = P.cos = function ...` and, within `clone`, `Decimal.cos = cos`. */
function isUnused(statement: Statement): boolean {
  if (statement.type !== 'ExpressionStatement' || statement.expression.type !== 'AssignmentExpression') return false;
  const { left, right } = statement.expression;
  if (left.type !== 'MemberExpression' || left.object.type !== 'Identifier' || left.property.type !== 'Identifier')
    return false;
  const { name } = left.property;
  return left.object.name === 'P'
    ? unusedMethods.has(name)
    : left.object.name === 'Decimal' && right.type === 'Identifier' && right.name === name && name !== 'clone';
}

/** Source of the library without what nobody uses. Throws where the library is not made as it was any more. */
export function withoutUnused(code: string): string {
  const { body } = parseAst(code);
  const clone = body.find((s) => s.type === 'FunctionDeclaration' && s.id?.name === 'clone');
  const within = clone?.type === 'FunctionDeclaration' ? (clone.body?.body ?? []) : [];
  const methods = body.filter(isUnused);
  const functions = within.filter(isUnused);
  if (methods.length !== unusedMethods.size || functions.length < 30)
    throw new Error('The decimal library is made in another way by now: is all that is left out of it still there?');
  return [...methods, ...functions]
    .sort((a, b) => b.start - a.start)
    .reduce((text, { start, end }) => text.slice(0, start) + text.slice(end), code);
}

export function decimalInUse(): Plugin {
  return {
    name: 'decimal-in-use',
    apply: 'build',
    applyToEnvironment: (environment) => environment.name === 'client',
    transform: { filter: { id: library }, handler: (code) => ({ code: withoutUnused(code), map: null }) },
  };
}
