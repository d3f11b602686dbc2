import base from './vite.config.ts';
import { writeFileSync } from 'node:fs';
import { brotliCompressSync } from 'node:zlib';
const c = base as any;
c.plugins = [...c.plugins, { name: 'zz', generateBundle(o: any, bundle: any) {
  if (!String(o.dir).includes('client')) return;
  const out: any = {};
  for (const f of Object.values(bundle) as any[]) if (f.type === 'chunk') out[f.fileName] = { imports: f.imports, dyn: f.dynamicImports, facade: f.facadeModuleId, size: f.code.length, br: brotliCompressSync(f.code).length, modules: Object.fromEntries(Object.entries(f.modules).map(([k, m]: any) => [k.replace(/.*\/work\/main\//, ''), m.renderedLength])) };
  writeFileSync('/tmp/x/bundle.json', JSON.stringify(out));
} }];
export default c;
