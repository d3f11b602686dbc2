/** What modules import at once, looking through those that only hand on what others export. */
import { parseAst } from 'vite';

export interface SourceModule {
  readonly code: string | null;
  /** In the order in which the code names them first. */
  readonly importedIds: readonly string[];
}

/** Names that a module exports, of those that another one imports; undefined: whichever there are. */
interface Imported {
  readonly id: string;
  readonly names: readonly string[] | undefined;
}

export interface ParsedModule {
  readonly imports: readonly Imported[];
  /** Of a module that only hands on: where each name comes from, and the modules of which it takes all. */
  readonly handedOn?: { readonly names: ReadonlyMap<string, Imported>; readonly all: readonly string[] };
}

type Statement = ReturnType<typeof parseAst>['body'][number];
type Import = Extract<Statement, { type: 'ImportDeclaration' }>;

const nameOf = (node: { readonly name: string } | { readonly value: unknown }): string =>
  'name' in node ? node.name : String(node.value);
const sourceOf = (s: Statement): string | undefined => ('source' in s && s.source ? String(s.source.value) : undefined);

function namesOf(s: Import['specifiers'][number]): readonly string[] | undefined {
  if (s.type === 'ImportNamespaceSpecifier') return undefined;
  return [s.type === 'ImportSpecifier' ? nameOf(s.imported) : 'default'];
}

/** `pure`: the module need not be run where nothing of it is imported. */
export function parseModule({ code, importedIds }: SourceModule, pure: boolean): ParsedModule {
  const body: readonly Statement[] = code === null ? [] : parseAst(code).body;
  const sources = [...new Set(body.flatMap((s) => sourceOf(s) ?? []))];
  const imports: Imported[] = [];
  const locals = new Map<string, Imported>();
  const names = new Map<string, Imported>();
  const all: string[] = [];
  let handsOnOnly = pure;
  for (const s of body) {
    const source = sourceOf(s);
    const id = source === undefined ? undefined : importedIds[sources.indexOf(source)];
    if (s.type === 'ImportDeclaration' && id !== undefined) {
      const own = s.specifiers.map((i) => ({ local: i.local.name, id, names: namesOf(i) }));
      for (const { local, ...imported } of own) locals.set(local, imported);
      imports.push(...(own.length > 0 ? own : [{ id, names: undefined }]));
    } else if (s.type === 'ExportAllDeclaration' && id !== undefined) {
      imports.push({ id, names: undefined });
      if (s.exported) names.set(nameOf(s.exported), { id, names: undefined });
      else all.push(id);
    } else if (s.type === 'ExportNamedDeclaration' && !s.declaration) {
      for (const e of s.specifiers) {
        const from = id === undefined ? locals.get(nameOf(e.local)) : { id, names: [nameOf(e.local)] };
        if (from) names.set(nameOf(e.exported), from);
        else handsOnOnly = false;
        if (from && id !== undefined) imports.push(from);
      }
    } else handsOnOnly = false;
  }
  return { imports, ...(handsOnOnly && names.size + all.length > 0 ? { handedOn: { names, all } } : {}) };
}

/** The modules that one imports. */
export type Imports = (id: string) => ReadonlySet<string>;

export function importsThrough(
  parsedOf: (id: string) => ParsedModule,
  exportsOf: (id: string) => readonly string[],
): Imports {
  const exportsName = (id: string, name: string): boolean => {
    const { handedOn } = parsedOf(id);
    if (!handedOn) return exportsOf(id).includes(name);
    return handedOn.names.has(name) || handedOn.all.some((from) => exportsName(from, name));
  };
  const follow = ({ id, names }: Imported, into: Set<string>): void => {
    const { handedOn } = parsedOf(id);
    // Where it is taken whole it is a module like others.
    if (!handedOn || !names) into.add(id);
    if (!handedOn) return;
    for (const name of names ?? handedOn.names.keys()) {
      const from = handedOn.names.get(name);
      if (from) follow(from, into);
      else for (const other of handedOn.all) if (exportsName(other, name)) follow({ id: other, names: [name] }, into);
    }
    if (!names) for (const other of handedOn.all) follow({ id: other, names }, into);
  };
  const known = new Map<string, ReadonlySet<string>>();
  return (id) => {
    const before = known.get(id);
    if (before) return before;
    const found = new Set<string>();
    for (const imported of parsedOf(id).imports) follow(imported, found);
    known.set(id, found);
    return found;
  };
}

/** All that is loaded with a module, itself included. */
export function loadedWith(id: string, importsOf: Imports): ReadonlySet<string> {
  const loaded = new Set([id]);
  for (const one of loaded) for (const other of importsOf(one)) loaded.add(other);
  return loaded;
}
