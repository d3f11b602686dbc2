/** One line of `rigid-rule eval`: an expression, a context, and perhaps a value for unary tests. */
import { check, checkTests } from '../language/expression/check.ts';
import { compile, compileTests } from '../language/expression/compile.ts';
import { bounded } from '../language/expression/runtime.ts';
import { createOpenScope, type Scope } from '../language/expression/scope.ts';
import type { NameScope } from '../language/expression/known-names.ts';
import type { Host } from '../language/types/host.ts';
import { fromJson, toJson } from '../formats/json-value.ts';
import { isContext, type Value } from '../values/value.ts';

const deepestNames = 8;

/** Names inside contexts, so that paths may have spaces. */
function namesOf(v: Value, depth = 0): NameScope | true {
  if (Array.isArray(v)) return v.length > 0 ? namesOf(v[0] as Value, depth) : true;
  if (!isContext(v) || depth > deepestNames) return true;
  return Object.fromEntries([...v].map(([key, inner]) => [key, namesOf(inner, depth + 1)]));
}

/** Where types are wrong a formula gives null, as DMN has it; only one that does not parse is an error. */
function run(text: string, scope: Scope, record: readonly Value[], host: Host): Value | { readonly error: string } {
  const parsed = scope.parser.parse(text);
  if (!parsed.expression) return { error: parsed.diagnostics[0]!.message };
  return compile(parsed.expression, check(parsed.expression, scope))({ record, previous: [], host });
}

const isError = (v: Value | { readonly error: string }): v is { readonly error: string } =>
  typeof v === 'object' && v !== null && Object.hasOwn(v, 'error') && !isContext(v as Value);

/** The answer to one line of JSON, as one line of JSON. Never throws. */
export function evaluateLine(line: string, host: Host): string {
  try {
    return answer(line, host);
  } catch (e) {
    return JSON.stringify({
      error: e instanceof SyntaxError ? `The line is not JSON: ${e.message}` : (e as Error).message,
    });
  }
}

function answer(line: string, host: Host): string {
  const json: unknown = JSON.parse(line.replace(/^\ufeff/, ''));
  if (typeof json !== 'object' || json === null || Array.isArray(json))
    return JSON.stringify({ error: 'The line has to be an object, such as {"expression": "1 + 1", "context": {}}.' });
  const request = json as { expression?: unknown; context?: unknown; unaryTest?: unknown };
  const { expression } = request;
  if (typeof expression !== 'string') return JSON.stringify({ error: 'The line has no expression.' });
  const given = request.context ?? {};
  if (typeof given !== 'object' || Array.isArray(given))
    return JSON.stringify({ error: 'The context has to be an object of values by name.' });
  const empty = createOpenScope([]);
  const value = (json: unknown): Value =>
    fromJson(json, (text) => {
      const result = run(text, empty, [], host);
      if (isError(result)) throw new Error(result.error);
      return result;
    });
  const context = value(given);
  const entries = isContext(context) ? [...context] : [];
  const names = Object.fromEntries(entries.map(([key, v]) => [key, namesOf(v)]));
  const scope = createOpenScope(
    entries.map(([key]) => key),
    names,
  );
  const record = entries.map(([, v]) => v);
  if (Object.hasOwn(request, 'unaryTest')) return test(expression, value(request.unaryTest), scope, record, host);
  const result = run(expression, scope, record, host);
  return isError(result) ? JSON.stringify(result) : `{"value":${toJson(result)}}`;
}

function test(text: string, tested: Value, scope: Scope, record: readonly Value[], host: Host): string {
  const { tests, negated, diagnostics } = scope.parser.parseTests(text);
  if (diagnostics.length > 0) return JSON.stringify({ error: diagnostics[0]!.message });
  const checked = checkTests(tests, scope);
  const result = bounded(compileTests(tests, negated, checked))({ record, previous: [], host, variables: [tested] });
  return `{"value":${toJson(result)}}`;
}
