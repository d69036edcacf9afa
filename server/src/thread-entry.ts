/**
 * The file that a thread begins with. Threads run what was built, also those of tests: Node reads the first file of a thread
 * before anything could compile it.
 */
export const threadEntry = (name: 'worker' | 'session-worker' | 'index-worker' | 'demo-sender'): URL =>
  new URL(import.meta.url.endsWith('.ts') ? `../../dist/current/${name}.mjs` : `./${name}.mjs`, import.meta.url);
