import type { Services } from '../services.ts';

const signOfLifeMs = 15_000;

/** A server-sent event stream (WHATWG HTML, "Server-sent events") with one `changed` event for each change of an app. */
export function changeStream(services: Services, appId: number): Response {
  let stop = () => {};
  const body = new ReadableStream<Uint8Array>({
    start(controller) {
      const encoder = new TextEncoder();
      const send = (text: string) => {
        try {
          controller.enqueue(encoder.encode(text));
        } catch {
          stop();
        }
      };
      const stopListening = services.revisions.listen(appId, (revision) => send(`event: changed\ndata: ${revision}\n\n`));
      const signs = setInterval(() => send(': here\n\n'), signOfLifeMs);
      stop = () => {
        stopListening();
        clearInterval(signs);
      };
      send('retry: 1000\n\n: here\n\n');
    },
    cancel: () => stop(),
  });
  return new Response(body, { headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store' } });
}
