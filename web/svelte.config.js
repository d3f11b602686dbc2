import { vitePreprocess } from '@sveltejs/vite-plugin-svelte';
import adapter from './adapter.mjs';

/** @type {import('@sveltejs/kit').Config} */
export default {
  preprocess: vitePreprocess(),
  compilerOptions: { runes: true },
  kit: {
    adapter: adapter({ out: 'build' }),
    csp: {
      mode: 'nonce',
      directives: {
        'default-src': ['self'],
        'script-src': ['self'],
        'style-src': ['self'],
        // Server-rendered markup of Bits UI positions its parts with style attributes.
        'style-src-attr': ['unsafe-inline'],
        'img-src': ['self', 'data:'],
        'font-src': ['self'],
        'connect-src': ['self'],
        'worker-src': ['self'],
        'object-src': ['none'],
        'base-uri': ['none'],
        'form-action': ['self'],
        'frame-ancestors': ['none'],
      },
    },
    // hooks.server.ts checks the origin of every request that acts, JSON included.
    csrf: { trustedOrigins: ['*'] },
    // A page that is left open learns of a newer version; links then load what they lead to anew.
    version: { pollInterval: 600_000 },
    typescript: {
      config(config) {
        config.compilerOptions.allowImportingTsExtensions = true;
        // Packages of this repository are taken from their sources.
        config.compilerOptions.customConditions = ['rigid-rule-source'];
        config.compilerOptions.noUncheckedIndexedAccess = true;
        config.compilerOptions.noImplicitOverride = true;
        config.compilerOptions.exactOptionalPropertyTypes = true;
        config.include.push('../server.mjs', '../../core/src/formats/dmn-moddle.d.ts');
        return config;
      },
    },
  },
};
