import { reaches } from '../accounts/reach.ts';
import { signedInAccount } from '../accounts/sign-in.ts';
import { isTokenInUse } from '../accounts/tokens.ts';
import type { Connection } from '../operation/operation.ts';
import type { Services } from '../services.ts';

const signOfLifeMs = 5_000;

/**
 * A server-sent event stream (WHATWG HTML, "Server-sent events") with one `changed` event for each change of an app
 * from the moment it opens. What changed before that is not told: a screen looks once when the stream is open. Whoever loses the
 * right to look loses the stream.
 */
export async function changeStream(services: Services, appId: number, isStillAllowed: () => Promise<boolean>): Promise<Response> {
  const encoder = new TextEncoder();
  let send: (text: string) => void = () => {};
  const stopListening = await services.revisions.listen(appId, (revision) => void tell(`event: changed\ndata: ${revision}\n\n`));
  let end = () => {};
  const tell = async (text: string) => {
    // A database that does not answer takes nobody's right away.
    if (await isStillAllowed().catch(() => true)) send(text);
    else end();
  };
  const signs = setInterval(() => void tell(': here\n\n'), signOfLifeMs);
  const stop = () => {
    stopListening();
    clearInterval(signs);
  };
  const body = new ReadableStream<Uint8Array>({
    start(controller) {
      send = (text) => {
        try {
          controller.enqueue(encoder.encode(text));
        } catch {
          stop();
        }
      };
      end = () => {
        stop();
        controller.close();
      };
      send('retry: 1000\n\n: here\n\n');
    },
    cancel: stop,
  });
  return new Response(body, { headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store' } });
}

/** Whether whoever opened a stream may still look: a sign-in that ended, or a token that was revoked, may not. */
export async function mayStillLook(
  { database }: Pick<Services, 'database'>,
  { connection, isPerson, appId }: { connection: Connection; isPerson: boolean; appId: number },
): Promise<boolean> {
  if (!isPerson) return isTokenInUse(database, connection.authorization);
  const account = await signedInAccount(database, connection.signInToken);
  return account !== null && reaches(account, appId);
}
