import { join } from 'node:path';

/**
 * Builds what `server.mjs` runs: the files that browsers ask for, compressed, and the application with its manifest.
 *
 * @param {{ out: string }} options folder, which is made anew
 * @returns {import('@sveltejs/kit').Adapter}
 */
export default function adapter({ out }) {
  return {
    name: 'server.mjs',
    async adapt(builder) {
      builder.rimraf(out);
      builder.writeClient(join(out, 'client'));
      await builder.compress(join(out, 'client'));
      builder.writeServer(join(out, 'server'));
    },
    supports: { read: () => true },
  };
}
