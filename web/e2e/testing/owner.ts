import { signIn } from '../../../scripts/testing/sign-in.ts';
import { server } from './server.ts';

/** Signs in as the owner, and gives the cookie, `name=value`. */
export const signInAsOwner = (): Promise<string> => signIn(server.address, server);

let cookieOfFile: Promise<string> | undefined;

/** The cookie of a sign-in that all journeys of a file share, for signing in is slow on purpose. */
export function ownerCookie(): Promise<string> {
  cookieOfFile ??= signInAsOwner();
  return cookieOfFile;
}

/** Asks the product's API as its owner; a body makes it a POST. */
export async function askAsOwner<Answer>(path: string, body?: object): Promise<Answer> {
  const { address } = server;
  const cookie = await ownerCookie();
  const post = body && { method: 'POST', body: JSON.stringify(body) };
  return (await fetch(address + path, { headers: { cookie, origin: address, 'content-type': 'application/json' }, ...post })).json();
}

export interface SeenCase {
  readonly ref: string;
  readonly what: string;
  readonly where: string;
  readonly reports: number;
}

/** The cases of the demo's app in one version. */
export const casesOf = async (version: string): Promise<SeenCase[]> =>
  (await askAsOwner<{ cases: SeenCase[] }>(`/api/v1/apps/larkfield-guide/cases?last=all&kind=crash,hang,kill,error&version=${version}`))
    .cases;

/** Asks until the answer is the wanted one, or a minute has passed; gives the last answer. */
export async function eventually<Answer>(ask: () => Promise<Answer>, isWanted: (answer: Answer) => boolean): Promise<Answer> {
  const deadline = Date.now() + 60_000;
  for (;;) {
    const answer = await ask();
    if (isWanted(answer) || Date.now() > deadline) return answer;
    await new Promise((resolve) => setTimeout(resolve, 150));
  }
}
