import { signIn } from '../testing/sign-in.ts';
import type { StartedProduct } from '../testing/started-product.ts';

/** Milliseconds that something takes. */
export const time = async (run: () => Promise<unknown>): Promise<number> => {
  const began = performance.now();
  await run();
  return performance.now() - began;
};

/** Asks with a sign-in; a body makes it a POST. */
export async function signedIn({ address, first }: StartedProduct): Promise<(path: string, body?: object) => Promise<unknown>> {
  const cookie = await signIn(address, first);
  const post = (path: string, body: object) =>
    fetch(address + path, {
      method: 'POST',
      headers: { 'content-type': 'application/json', origin: address, cookie },
      body: JSON.stringify(body),
    });
  return async (path, body) => {
    const got = body ? await post(path, body) : await fetch(address + path, { headers: { cookie } });
    if (!got.ok) throw new Error(`${path} was answered with ${got.status}: ${(await got.text()).slice(0, 300)}`);
    return got.json();
  };
}
