import { askUntilReady, signIn } from '../testing/sign-in.ts';
import { type StartedProduct, startProduct } from '../testing/started-product.ts';

/** A product with an app, its key, and somebody who is signed in. */
export interface StartedApp {
  readonly server: StartedProduct;
  readonly cookie: string;
  readonly key: string;
  /** Sends a batch as a device would. */
  send(body: string): Promise<{ readonly status: number; readonly wait: string | null; readonly text: string }>;
}

/** Starts the product without its demo, and makes an app of this short name. */
export async function startApp(folder: string, slug: string, environment: Readonly<Record<string, string>> = {}): Promise<StartedApp> {
  const server = await startProduct(folder, { PORT: '0', EMBER_DEMO: 'off', EMBER_LOG_LEVEL: 'silent', ...environment });
  const { address, first } = server;
  const cookie = await signIn(address, first);
  await askUntilReady(`${address}/api/v1/apps`, {
    method: 'POST',
    headers: { origin: address, cookie, 'content-type': 'application/json' },
    body: JSON.stringify({ name: slug, prefix: slug.slice(0, 2).toUpperCase(), platforms: ['Android'], ourPackages: [] }),
  });
  const intake = await (await askUntilReady(`${address}/api/v1/apps/${slug}/intake`, { headers: { cookie } })).json();
  const key: string = intake.keys[0].keyText;
  return {
    server,
    cookie,
    key,
    send: async (body) => {
      const answer = await fetch(`${address}/intake/v1/batch`, { method: 'POST', headers: { authorization: `Bearer ${key}` }, body });
      return { status: answer.status, wait: answer.headers.get('retry-after'), text: await answer.text() };
    },
  };
}
