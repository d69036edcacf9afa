import { setTimeout as pause } from 'node:timers/promises';

const longestWaitMs = 120_000;

/**
 * Asks as a well-behaved client does: an answer of 503 says that the database is slow at the moment, and when to ask again.
 * Any other refusal throws, with what was answered.
 */
export async function askUntilReady(url: string, init: RequestInit = {}): Promise<Response> {
  const deadline = Date.now() + longestWaitMs;
  for (;;) {
    const answer = await fetch(url, init);
    if (answer.ok) return answer;
    const text = await answer.text();
    if (answer.status !== 503 || Date.now() > deadline)
      throw new Error(`${init.method ?? 'GET'} ${url} was answered with ${answer.status}: ${text.slice(0, 300)}`);
    await pause(Number(answer.headers.get('retry-after') ?? 1) * 1_000);
  }
}

/** Signs in, and gives the cookie, `name=value`. */
export async function signIn(address: string, { email, password }: { email: string; password: string }): Promise<string> {
  const answer = await askUntilReady(`${address}/api/v1/sign-in`, {
    method: 'POST',
    headers: { origin: address, 'content-type': 'application/json' },
    body: JSON.stringify({ email, password }),
  });
  return (answer.headers.get('set-cookie') as string).split(';', 1)[0] as string;
}
