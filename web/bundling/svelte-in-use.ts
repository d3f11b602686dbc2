/**
 * The framework takes two functions out of Svelte by destructuring all of it, where the bundler cannot see that nobody
 * uses the others: ways of former versions to start components and to hear of updates came with every page.
 */
import type { Plugin } from 'vite';

const taking = /\/@sveltejs\/kit\/src\/runtime\/client\/client\.js$/;
const destructured = 'const { onMount, tick } = svelte;';
const named = 'const onMount = svelte.onMount, tick = svelte.tick;';

export function svelteInUse(): Plugin {
  return {
    name: 'svelte-in-use',
    apply: 'build',
    enforce: 'pre',
    applyToEnvironment: (environment) => environment.name === 'client',
    transform: {
      filter: { id: taking },
      handler(code) {
        if (!code.includes(destructured))
          this.error(`${destructured} is not there any more: is this plugin still needed?`);
        return { code: code.replace(destructured, named), map: null };
      },
    },
  };
}
