import type { Services } from '../services.ts';

const signOfLifeMs = 15_000;

/**
 * A server-sent event stream (WHATWG HTML, "Server-sent events") with one `changed` event for each change of an app
 * from the moment it opens. What changed before that is not told: a screen looks once when the stream is open.
 */
export async function changeStream(services: Services, appId: number): Promise<Response> {
  const encoder = new TextEncoder();
  let send: (text: string) => void = () => {};
  const stopListening = await services.revisions.listen(appId, (revision) => send(`event: changed\ndata: ${revision}\n\n`));
  const signs = setInterval(() => send(': here\n\n'), signOfLifeMs);
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
      send('retry: 1000\n\n: here\n\n');
    },
    cancel: stop,
  });
  return new Response(body, { headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store' } });
}
