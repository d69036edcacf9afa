import type { ServerResponse } from 'node:http';
import { ApiError } from '../errors.ts';
import type { Services } from '../services.ts';
import { type RawRoute, rawRoute } from './raw-route.ts';

const mediaTypes: Readonly<Record<string, string>> = { tgz: 'application/gzip', java: 'text/plain; charset=utf-8' };

/** Packages for apps and build servers: the same bytes for everybody, so that they need no right. */
export const downloadRoutes: readonly RawRoute[] = [
  rawRoute(
    'GET /downloads/{version}/{file}',
    {
      does: 'A package of this server, or SHA256SUMS; "latest" stands for its version.',
      takes: 'nothing',
      produces: 'application/octet-stream',
      status: 200,
    },
    async (services, _request, response, match) => send(services, response, match[1] as string, match[2] as string),
  ),
];

async function send({ downloads: { files, contents } }: Services, response: ServerResponse, version: string, file: string): Promise<void> {
  const content = contents.get(file);
  if (!content || (version !== 'latest' && version !== files[0]?.version))
    throw new ApiError(
      'not-found',
      `There is no ${file} of ${version} here; this server has ${files.map((one) => `${one.version}/${one.file}`).join(', ') || 'no packages'}.`,
    );
  response.writeHead(200, {
    'content-type': mediaTypes[file.split('.').at(-1) as string] ?? 'text/plain; charset=utf-8',
    'cache-control': version === 'latest' ? 'no-cache' : 'public, max-age=86400',
    'content-length': content.length,
  });
  response.end(content);
}
