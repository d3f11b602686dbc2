/**
 * The framework would let any function ask for the request that it is called in, also after an `await`. Nobody here asks:
 * routes are given their request. To offer it, Node 20 follows every promise by hooks, which was a quarter of the
 * processor time of a read. Where a platform has no such storage the framework goes on without.
 */
import type { Plugin } from 'vite';

const inside = /\/@sveltejs\/kit\/src\/exports\/internal\/event\.js$/;
const storage = `import('node:async_hooks')`;

export function synchronousRequest(): Plugin {
  return {
    name: 'synchronous-request',
    apply: 'build',
    enforce: 'pre',
    applyToEnvironment: (environment) => environment.name === 'ssr',
    transform: {
      filter: { id: inside },
      handler(code) {
        if (!code.includes(storage)) this.error(`${storage} is not there any more: is this plugin still needed?`);
        return { code: code.replace(storage, `Promise.reject(new Error('not offered'))`), map: null };
      },
    },
  };
}
