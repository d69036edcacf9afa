import { z } from 'zod';
import { guardedRequest } from '../guarded-request.ts';
import { channelKind, hostOf, judgeAnswer } from './channel-kind.ts';
import { webAddress } from './webhook.ts';

/**
 * A room of Matrix (client-server protocol 1.11, "PUT …/rooms/{roomId}/send/{eventType}/{txnId}"): the home server drops what comes a second
 * time under the same transaction.
 */
export const matrix = channelKind({
  settings: z.strictObject({
    homeServer: webAddress,
    room: z
      .string()
      .max(255)
      .regex(/^![^\s:]+(:\S+)?$/, { error: 'must be the identifier of a room, such as !abc:example.org' }),
  }),
  secretIs: 'The access token of the account that writes',
  needsSecret: true,
  leadsTo: ({ homeServer, room: id }) => `${id} at ${hostOf(homeServer)}`,
  send: async ({ settings, secret, message, messageId, mayReachPrivate }) => {
    const path = `/_matrix/client/v3/rooms/${encodeURIComponent(settings.room)}/send/m.room.message/${messageId}`;
    return judgeAnswer(
      await guardedRequest(settings.homeServer.replace(/\/+$/, '') + path, {
        method: 'PUT',
        headers: { 'content-type': 'application/json', authorization: `Bearer ${secret}` },
        body: JSON.stringify({ msgtype: 'm.notice', body: message.text, format: 'org.matrix.custom.html', formatted_body: message.html }),
        mayReachPrivate,
      }),
    );
  },
});
