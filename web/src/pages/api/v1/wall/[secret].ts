import { loadWall } from '@rough-ember/server/wall/load-wall';
import { requireWallLink } from '@rough-ember/server/wall/wall-links';
import type { APIRoute } from 'astro';
import { json } from '../../../../server-side';

/** What a wall shows; the secret in the address is all that it takes, until it is revoked. */
export const GET: APIRoute = async ({ locals: { services }, params, url }) => {
  const now = new Date();
  const link = await requireWallLink(services.database, params.secret ?? '', now);
  return json(await loadWall(services, link, url.searchParams.get('app'), now));
};
