import { unsubscribe } from '../alerts/unsubscribe.ts';
import { type RawRoute, rawRoute, sendJson } from './raw-route.ts';

/** Where mail programs stop the mail of an account for whoever reads it, by one press (RFC 8058). */
export const unsubscribeRoutes: readonly RawRoute[] = [
  rawRoute(
    'POST /unsubscribe/{token}',
    { does: 'Stops the mail of the account that the address, taken from a mail, stands for.', takes: 'nothing', status: 200 },
    async (services, request, response, match) => {
      // Its body says what the address says already.
      request.resume();
      await unsubscribe(services, match[1] as string);
      sendJson(response, 200, { stopped: true });
    },
  ),
  // A mail program that looks at addresses ahead of its reader changes nothing.
  rawRoute(
    'GET /unsubscribe/{token}',
    { does: 'Leads to where mail is stopped, and stops nothing.', takes: 'nothing', produces: 'text/html', status: 303 },
    async (_services, _request, response) => {
      response.writeHead(303, { location: '/account#alerts' }).end();
    },
  ),
];
