import node from '@astrojs/node';
import react from '@astrojs/react';
import { defineConfig } from 'astro/config';

/** Set by `npm run dev`: the server that pages ask, in a process of its own. */
const server = process.env.EMBER_DEV_SERVER;

/** Gives pages in development what our own server gives them otherwise. */
const remoteVisits = {
  name: 'remote-visits',
  configureServer(vite) {
    vite.middlewares.use(async (request, _response, next) => {
      const { RemoteVisit } = await vite.ssrLoadModule('/dev/remote-visit.ts');
      request[Symbol.for('astro.locals')] = { visitOf: (asked) => new RemoteVisit(server, asked) };
      next();
    });
  },
};
/** Everything that is no page is the server's. */
const proxy = Object.fromEntries(['/api', '/mcp', '/intake', '/v1', '/downloads'].map((path) => [path, server]));

export default defineConfig({
  output: 'server',
  // Our own HTTP server calls the handler: it compresses, drains, and serves the raw routes and the assets.
  adapter: node({ mode: 'middleware' }),
  integrations: [react()],
  // Origins are checked by the visit, JSON requests included, which Astro's own check lets pass.
  security: { checkOrigin: false },
  devToolbar: { enabled: false },
  vite: {
    // Fonts stay files of their own: the content policy allows none that is written into a style sheet.
    build: { chunkSizeWarningLimit: 1000, assetsInlineLimit: 0 },
    worker: { format: 'es' },
    ...(server && { plugins: [remoteVisits], server: { proxy } }),
  },
});
