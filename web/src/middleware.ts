import { defineMiddleware } from 'astro:middleware';
import { requireSameOrigin } from '@rough-ember/server/accounts/origin';
import { signedInAccount, signInCookie } from '@rough-ember/server/accounts/sign-in';
import { findToken } from '@rough-ember/server/accounts/tokens';
import { ApiError } from '@rough-ember/server/errors';
import { problemPage, problemPageHeaders } from '@rough-ember/server/http/problem-page';
import { toApiError } from '@rough-ember/server/http/to-api-error';
import { contentPolicy } from './content-policy';

const openPaths = new Set(['/sign-in', '/api/v1/sign-in', '/join', '/404', '/api/v1/openapi.json', '/api/v1/symbolicated-schema.json']);
/** What is behind these carries its own secret in the address. */
const isOpen = (path: string): boolean => openPaths.has(path) || path.startsWith('/wall/') || path.startsWith('/api/v1/wall/');

/** Signs every request in or turns it away, and lets no page run a script it did not come with. */
export const onRequest = defineMiddleware(async (context, next) => {
  const { locals, url, request, cookies } = context;
  const isApi = url.pathname.startsWith('/api/');
  try {
    locals.account = await signedInAccount(locals.services.database, cookies.get(signInCookie)?.value);
    if (!['GET', 'HEAD'].includes(request.method) && !request.headers.has('authorization')) {
      const { headers } = request;
      requireSameOrigin({ origin: headers.get('origin'), host: headers.get('host'), publicUrl: locals.services.publicUrl });
    }
    if (!locals.account && !isOpen(url.pathname)) {
      if (!isApi) return context.redirect(`/sign-in?next=${encodeURIComponent(url.pathname + url.search)}`);
      if (!request.headers.has('authorization')) throw new ApiError('not-signed-in', 'The request is not signed in.');
      // What the token may do is the endpoint's to check.
      locals.token = await findToken(locals.services.database, request.headers.get('authorization'));
    }
    return await withPolicy(await next());
  } catch (error) {
    const known = toApiError(error);
    if (known.code === 'internal')
      locals.services.log.error({ err: error, requestId: locals.requestId, url: url.pathname }, 'a request failed');
    if (isApi) return Response.json(known, { status: known.status, headers: { 'cache-control': 'no-store' } });
    return new Response(problemPage(known), { status: known.status, headers: problemPageHeaders });
  }
});

/** The whole page with its policy: what fails while it is made becomes a page that says so, and not half of one. */
async function withPolicy(response: Response): Promise<Response> {
  if (!response.headers.get('content-type')?.startsWith('text/html')) return response;
  const html = await response.text();
  const headers = new Headers(response.headers);
  headers.set('content-security-policy', contentPolicy);
  headers.set('cache-control', 'no-store');
  return new Response(html, { status: response.status, headers });
}
