import node from '@astrojs/node';
import react from '@astrojs/react';
import { defineConfig } from 'astro/config';

export default defineConfig({
  output: 'server',
  // Our own HTTP server calls the handler: it compresses, drains, and serves the raw routes and the assets.
  adapter: node({ mode: 'middleware' }),
  integrations: [react()],
  // Origins are checked in the middleware, JSON requests included, which Astro's own check lets pass.
  security: { checkOrigin: false },
  devToolbar: { enabled: false },
  // Fonts stay files of their own: the content policy allows none that is written into a style sheet.
  vite: { build: { chunkSizeWarningLimit: 1000, assetsInlineLimit: 0 }, worker: { format: 'es' } },
});
