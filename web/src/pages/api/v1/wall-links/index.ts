import { loadWallLinks, makeWallLink, wallLinkSchema } from '@rough-ember/server/wall/wall-links';
import type { APIRoute } from 'astro';
import { json, readJson, requireAccount } from '../../../../server-side';

export const GET: APIRoute = async (context) => {
  return json(await loadWallLinks(context.locals.services.database, requireAccount(context, 'developer')));
};

/** Makes a link for a wall; the address in the answer is shown once. */
export const POST: APIRoute = async (context) => {
  const maker = requireAccount(context, 'developer');
  const { database, publicUrl } = context.locals.services;
  return json({ link: await makeWallLink(database, { ...(await readJson(context, wallLinkSchema)), maker, publicUrl }) }, 201);
};
