import { z } from 'zod';
import { operation, rowNumber } from '../operation/operation.ts';
import { loadWall } from './load-wall.ts';
import { endWallLink, loadWallLinks, makeWallLink, requireWallLink, wallLinkSchema } from './wall-links.ts';

/** Screens that hang on walls. */
export const wallOperations = [
  operation('GET /wall-links', {
    does: 'The links of walls that show what whoever asks may see.',
    right: 'developer',
    run: ({ services, account }) => loadWallLinks(services.database, account),
  }),
  operation('POST /wall-links', {
    does: 'Makes a link for a wall; the address in the answer is shown once.',
    right: 'developer',
    body: wallLinkSchema,
    status: 201,
    run: async ({ services: { database, publicUrl }, account, body }) => ({
      link: await makeWallLink(database, { ...body, maker: account, publicUrl }),
    }),
  }),
  operation('DELETE /wall-links/{id}', {
    does: 'Revokes a link; walls that show it go dark at their next look.',
    right: 'developer',
    run: async ({ services, account, path }) => {
      await endWallLink(services.database, rowNumber(path.id), account);
      return { revoked: true };
    },
  }),
  operation('GET /wall/{secret}', {
    does: 'What a wall shows; the secret in the address is all that it takes, until it is revoked.',
    right: 'anybody',
    parameters: z.object({ app: z.string().max(100).optional().describe('The app whose turn it is.') }),
    run: async ({ services, path, parameters, now }) =>
      loadWall(services, await requireWallLink(services.database, path.secret, now), parameters.app ?? null, now),
  }),
] as const;
