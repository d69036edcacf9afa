import type { AstroGlobal } from 'astro';
import type { PageShell } from './shell/page-shell';

/** What the shell around every page of an app shows. */
export async function loadPageShell({ locals: { visit }, params }: Pick<AstroGlobal, 'locals' | 'params'>): Promise<PageShell> {
  const { slug, name, prefix } = await visit.ask('GET /apps/{app}', { app: params.app ?? '' });
  const { name: ownName, email, role, zone } = visit.account ?? visit.refuse('not-signed-in', 'The request is not signed in.');
  const [apps, { unread }] = await Promise.all([visit.ask('GET /apps', {}), visit.ask('GET /account/told/unread', {})]);
  return {
    app: { slug, name, prefix },
    apps,
    unread,
    account: { name: ownName, email, role, zone },
    zone: zone ?? visit.zoneOfBrowser ?? 'UTC',
    serverAddress: visit.publicUrl,
    serverVersion: visit.serverVersion,
  };
}

/** The answer to a question, or null where what is asked for is not there. */
export const orNull = <Answer>(asked: Promise<Answer>): Promise<Answer | null> =>
  asked.catch((error: unknown) => {
    if (error instanceof Error && 'code' in error && error.code === 'not-found') return null;
    throw error;
  });
