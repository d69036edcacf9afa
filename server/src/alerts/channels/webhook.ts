import { randomBytes } from 'node:crypto';
import { Webhook } from 'standardwebhooks';
import { z } from 'zod';
import { guardedRequest } from '../guarded-request.ts';
import { channelKind, hostOf, judgeAnswer } from './channel-kind.ts';

export const webAddress = z.url({ protocol: /^https?$/, error: 'must be an http or https address' }).max(2_000);

/** JSON to an address, signed as Standard Webhooks 1.0 says: identifier, moment and body, so that nobody can send it a second time unnoticed. */
export const webhook = channelKind({
  settings: z.strictObject({ address: webAddress }),
  secretIs: 'The secret that the receiver checks the signature with',
  needsSecret: true,
  makeSecret: () => `whsec_${randomBytes(32).toString('base64')}`,
  leadsTo: ({ address }) => hostOf(address),
  send: async ({ settings, secret, message, messageId, madeAt, app, mayReachPrivate }) => {
    const body = JSON.stringify({
      type: 'alert',
      timestamp: madeAt,
      data: { app: app.slug, subject: message.subject, text: message.text, case: message.thread === '' ? null : message.thread },
    });
    const now = new Date();
    const signature = new Webhook(secret ?? '').sign(messageId, now, body);
    const headers = {
      'content-type': 'application/json',
      'webhook-id': messageId,
      'webhook-timestamp': String(Math.floor(now.getTime() / 1_000)),
      'webhook-signature': signature,
    };
    return judgeAnswer(await guardedRequest(settings.address, { method: 'POST', headers, body, mayReachPrivate }));
  },
});
