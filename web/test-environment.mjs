/**
 * The environment of tests of state classes: they are compiled and resolved as for the browser, so that what follows
 * from what is followed as on a page; there is no document.
 */
export default {
  name: 'page',
  viteEnvironment: 'client',
  setup: () => ({ teardown: () => undefined }),
};
