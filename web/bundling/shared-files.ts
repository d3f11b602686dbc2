/**
 * Files for the browser by what pages need at once. By itself the bundler also cuts wherever something that is imported
 * later on shares a module; many small files compress far worse than a few, and each is asked for by itself.
 */
import type { Manifest, Plugin } from 'vite';
import { filesOf } from './files.ts';
import { importsThrough, loadedWith, parseModule, type ParsedModule } from './imports.ts';
import { withLaterImportsLast } from './manifest.ts';

const listOfFiles = '.vite/manifest.json';

interface EntryModule {
  readonly isEntry: boolean;
  readonly importedIds: readonly string[];
}

/** The route of a layout or page, by the entry module that the framework makes of it; '' for what all pages need. */
function routeOf(id: string, { isEntry, importedIds }: EntryModule): string | undefined {
  if (!isEntry) return undefined;
  if (!/\/client-optimized\/nodes\/\w+\.js$/.test(id)) return '';
  return importedIds.map((i) => /\/src\/routes(\/.*)?\/\+\w+\.svelte$/.exec(i)?.[1] ?? '')[0];
}

/** A layout is loaded by each page below it. */
const isLoadedBy = (page: string, route: string): boolean => `${page}/`.startsWith(`${route}/`);

export function sharedFiles(): Plugin {
  const fileOf = new Map<string, string>();
  return {
    name: 'shared-files',
    apply: 'build',
    applyToEnvironment: (environment) => environment.name === 'client',
    configEnvironment(name) {
      if (name !== 'client') return;
      const groups = [{ name: (id: string) => fileOf.get(id) ?? null }];
      return {
        build: {
          rolldownOptions: {
            // The files are whole as they are: nothing is moved into or between them.
            experimental: { chunkOptimization: false },
            preserveEntrySignatures: 'allow-extension' as const,
            output: { codeSplitting: { includeDependenciesRecursively: false, groups } },
          },
        },
      };
    },
    buildEnd() {
      fileOf.clear();
      const known = new Map<string, ParsedModule>();
      // Packages of this repository say that their modules are pure; of others nobody knows here.
      const isPure = (id: string): boolean => !id.includes('/node_modules/');
      const parsedOf = (id: string): ParsedModule => {
        const info = this.getModuleInfo(id);
        const parsed = known.get(id) ?? (info ? parseModule(info, isPure(id)) : { imports: [] });
        known.set(id, parsed);
        return parsed;
      };
      const importsOf = importsThrough(parsedOf, (id) => this.getModuleInfo(id)?.exports ?? []);
      const entries = [...this.getModuleIds()].flatMap((id) => {
        const route = routeOf(id, this.getModuleInfo(id)!);
        return route === undefined ? [] : [{ id, route }];
      });
      const pagesOf = new Map<string, Set<string>>();
      for (const { id, route } of entries)
        for (const loaded of loadedWith(id, importsOf)) {
          const pages = pagesOf.get(loaded) ?? new Set();
          for (const page of entries) if (isLoadedBy(page.route, route)) pages.add(page.route);
          pagesOf.set(loaded, pages);
        }
      filesOf(pagesOf, importsOf, (id) => this.getModuleInfo(id)?.code?.length ?? 0).forEach(({ modules }, i) => {
        for (const id of modules) fileOf.set(id, `shared-${i}`);
      });
    },
    // After the list of built files was made, which is one of them.
    generateBundle: {
      order: 'post',
      handler(_, bundle) {
        const circle = circleIn(bundle);
        if (circle) this.error(`Files import each other: ${circle.join(' > ')}`);
        const list = bundle[listOfFiles];
        if (list?.type !== 'asset') this.error('The list of built files is not there.');
        list.source = JSON.stringify(withLaterImportsLast(JSON.parse(String(list.source)) as Manifest), null, 2);
      },
    },
  };
}

type Bundle = Readonly<Record<string, { readonly type: string; readonly imports?: readonly string[] }>>;

/** Files that import each other, whatever their modules do, would be run in an order that nobody chose. */
function circleIn(bundle: Bundle): readonly string[] | undefined {
  const done = new Set<string>();
  const look = (file: string, from: readonly string[]): readonly string[] | undefined => {
    if (from.includes(file)) return [...from, file];
    if (done.has(file)) return undefined;
    for (const imported of bundle[file]?.imports ?? []) {
      const found = look(imported, [...from, file]);
      if (found) return found;
    }
    done.add(file);
    return undefined;
  };
  for (const file of Object.keys(bundle)) {
    const found = look(file, []);
    if (found) return found;
  }
  return undefined;
}
