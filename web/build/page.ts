/** For tests of what the page's state does while effects begin and end: Svelte as in a browser, without its elements. */
export default {
  name: 'page',
  viteEnvironment: 'client' as const,
  setup: () => ({ teardown: () => undefined }),
};
