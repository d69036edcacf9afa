// The server of `npm run dev`, in a process that is started anew with each edit: without pages, which another process makes. It
// is there before it is needed, with the packages loaded that take longest, and begins when it is told to.
await Promise.all(['zod', 'knex', 'mysql2', 'piscina', 'pino', 'hono', '@tus/server', '@node-rs/argon2'].map((name) => import(name)));
const { folder } = await new Promise((resolve) => process.once('message', resolve));
process.disconnect();
const { main } = await import(`${folder}/start.mjs`);
process.exit(await main([], { program: 'development', buildPages: async () => null, buildPackages: async () => undefined }));
