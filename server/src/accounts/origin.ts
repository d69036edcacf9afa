import { ApiError } from '../errors.ts';

/**
 * Refuses a write that a cookie would authorise but that another site's page made. Browsers send `origin` with every
 * write; one without it carries no foreign page's intent only if it was not made by a browser, so it is refused too.
 */
export function requireSameOrigin(request: {
  origin: string | null | undefined;
  host: string | null | undefined;
  publicUrl: string;
}): void {
  const origin = request.origin ?? '';
  const allowed =
    origin !== '' && URL.canParse(origin) && (new URL(origin).host === request.host || origin === new URL(request.publicUrl).origin);
  if (!allowed) throw new ApiError('wrong-origin', `The request came from ${origin || 'no page'}, not from this server.`);
}
