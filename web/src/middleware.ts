import { defineMiddleware } from 'astro:middleware';
import { contentPolicy } from './content-policy';

/** What is behind these is for nobody in particular, or carries its own secret in the address. */
const isOpen = (path: string): boolean =>
  ['/sign-in', '/join', '/404'].includes(path) || path.startsWith('/wall/') || path.startsWith('/sheet/');

/** Signs every page's request in or turns it away, and lets no page run a script it did not come with. The API sees to itself. */
export const onRequest = defineMiddleware(async ({ locals, url, request, redirect }, next) => {
  if (url.pathname.startsWith('/api/') || url.pathname === '/mcp') return next();
  const visit = locals.visitOf(request);
  locals.visit = visit;
  try {
    await visit.admit();
    if (!visit.account && !isOpen(url.pathname)) return redirect(`/sign-in?next=${encodeURIComponent(url.pathname + url.search)}`);
    return visit.withCookies(await withPolicy(await next()));
  } catch (error) {
    return visit.problemPage(error);
  }
});

/** The whole page with its policy: what fails while it is made becomes a page that says so, and not half of one. */
async function withPolicy(response: Response): Promise<Response> {
  if (!response.headers.get('content-type')?.startsWith('text/html')) return response;
  const html = await response.text();
  const headers = new Headers(response.headers);
  // What reloads pages in development are scripts that no build knows.
  if (process.env.EMBER_DEV_SERVER === undefined) headers.set('content-security-policy', contentPolicy);
  headers.set('cache-control', 'no-store');
  return new Response(html, { status: response.status, headers });
}
