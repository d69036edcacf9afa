import { loadWallLinks, makeWallLink, wallLinkSchema } from '@rough-ember/server/wall/wall-links';
import type { APIRoute } from 'astro';
import { json, readJson, requireAccount } from '../../../../server-side';

export const GET: APIRoute = async (context) => {
  requireAccount(context, 'developer');
  return json(await loadWallLinks(context.locals.services.database));
};

/** Makes a link for a wall; the address in the answer is shown once. */
export const POST: APIRoute = async (context) => {
  const { email: madeBy } = requireAccount(context, 'developer');
  const { database, publicUrl } = context.locals.services;
  return json({ link: await makeWallLink(database, { ...(await readJson(context, wallLinkSchema)), madeBy, publicUrl }) }, 201);
};
