/** What it takes to settle a write, in one module: for a browser that is given nothing else. */
export { compileProgram } from '../compile/index.ts';
export { canonicalJson, type Rulebook } from '../document/index.ts';
export type { Write } from '../records/index.ts';
export { settle } from '../settle/index.ts';
