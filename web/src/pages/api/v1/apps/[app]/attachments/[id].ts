import { ApiError } from '@rough-ember/server/errors';
import { readAttachment } from '@rough-ember/store/attachments';
import type { APIRoute } from 'astro';
import { requireAppRight } from '../../../../../../server-side';

const pictures = new Set(['image/png', 'image/jpeg']);

/** The bytes of an attachment, such that no browser runs them: pictures to be shown, everything else as plain text to be saved. */
export const GET: APIRoute = async (context) => {
  const { app } = await requireAppRight(context);
  const id = context.params.id ?? '';
  const found = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/.test(id)
    ? await readAttachment(context.locals.services.database, app.id, id)
    : null;
  if (!found) throw new ApiError('not-found', 'There is no such attachment.');
  const isPicture = pictures.has(found.mediaType);
  return new Response(new Uint8Array(found.content), {
    headers: {
      'content-type': isPicture ? found.mediaType : 'text/plain; charset=utf-8',
      'content-disposition': `${isPicture ? 'inline' : 'attachment'}; filename*=UTF-8''${encodeURIComponent(found.name).replace(/['()*]/g, '_')}`,
      'content-security-policy': "default-src 'none'; sandbox",
      'x-content-type-options': 'nosniff',
      'cross-origin-resource-policy': 'same-origin',
      'cache-control': 'private, max-age=86400',
    },
  });
};
