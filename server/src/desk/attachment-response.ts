import type { App } from '@rough-ember/store/apps';
import { readAttachment } from '@rough-ember/store/attachments';
import type { Database } from '@rough-ember/store/database';
import { ApiError } from '../errors.ts';

const pictures = new Set(['image/png', 'image/jpeg']);

/** The bytes of an attachment, such that no browser runs them: pictures to be shown, everything else as plain text to be saved. */
export async function attachmentResponse(database: Database, app: App, id: string): Promise<Response> {
  const found = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/.test(id) ? await readAttachment(database, app.id, id) : null;
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
}
