import { authoriseUpload } from '../accounts/authorise-upload.ts';
import { requirePart, takePart } from '../transfer/transfer.ts';
import { LargePlace } from './large-bodies.ts';
import { rawRoute, sendJson } from './raw-route.ts';
import { readBody } from './read-body.ts';

const mostBytes = 32 * 1024 * 1024;

/** Takes in what was taken along of an app, part by part. */
export const transferRoute = rawRoute(
  'POST /api/v1/apps/{app}/transfer/{part}',
  {
    does: 'Takes lines of a part in, as the export of an app wrote them; what is there already stays as it is.',
    takes: 'change',
    consumes: ['application/x-ndjson'],
    status: 200,
  },
  async (services, request, response, match) => {
    const { app, uploadedBy } = await authoriseUpload(services, request, match[1] as string, { mayChange: true });
    const part = requirePart(match[2] as string);
    const place = new LargePlace(services.largeBodies);
    try {
      const body = await readBody(request, mostBytes, place);
      sendJson(response, 200, await takePart(services, app, { part, body, by: uploadedBy }));
    } finally {
      place.giveUp();
    }
  },
);
