import { listAppsInReach } from '@rough-ember/server/accounts/reach';
import type { App as ShippedApp } from '@rough-ember/store/apps';
import type { APIContext } from 'astro';
import { requireAccount } from './server-side';
import type { Frame } from './shell/frame';

/** What the frame around every page shows. */
export async function loadFrame(context: Pick<APIContext, 'locals' | 'params' | 'request' | 'url'>, app: ShippedApp): Promise<Frame> {
  const account = requireAccount(context);
  const { name, email, role } = account;
  const { services } = context.locals;
  const apps = await listAppsInReach(services.database, account);
  return {
    app: { slug: app.slug, name: app.name, prefix: app.prefix },
    apps: apps.map((one) => ({ slug: one.slug, name: one.name, prefix: one.prefix })),
    account: { name, email, role },
    serverAddress: services.publicUrl,
  };
}
