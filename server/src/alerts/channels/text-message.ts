import { fillTemplate } from '@rough-ember/core/templates/template';
import { z } from 'zod';
import { guardedRequest } from '../guarded-request.ts';
import { channelKind, hostOf, judgeAnswer } from './channel-kind.ts';
import { messageTemplate, valuesOf } from './message-template.ts';
import { webAddress } from './webhook.ts';

/** A phone number as E.164 writes it. */
const phoneNumber = z.string().regex(/^\+[1-9]\d{6,14}$/, { error: 'must be a number such as +4712345678' });
const headerName = z.string().regex(/^[A-Za-z0-9-]{1,100}$/);

/** Text messages by the HTTP gateway of a provider: one request for each number, made of templates. A message is its first line alone. */
export const textMessage = channelKind({
  settings: z.strictObject({
    gateway: webAddress,
    to: z.array(phoneNumber).min(1).max(10),
    headers: z.record(headerName, messageTemplate).default({ authorization: 'Bearer {{secret}}' }),
    form: z.enum(['json', 'form']).default('json'),
    body: messageTemplate.default('{"to": "{{to}}", "text": "{{subject}}"}'),
  }),
  secretIs: 'What the gateway knows the account by',
  needsSecret: false,
  leadsTo: ({ to, gateway }) => `${to.join(', ')} by ${hostOf(gateway)}`,
  send: async (sending) => {
    const { gateway, to, headers, form, body } = sending.settings;
    const answers: string[] = [];
    for (const number of to) {
      const values = valuesOf(sending, number);
      const filled = Object.fromEntries(Object.entries(headers).map(([name, text]) => [name, fillTemplate(text, 'header', values)]));
      answers.push(
        judgeAnswer(
          await guardedRequest(gateway, {
            method: 'POST',
            headers: {
              'content-type': form === 'json' ? 'application/json' : 'application/x-www-form-urlencoded',
              // The same for a number at every attempt (draft-ietf-httpapi-idempotency-key-header).
              'idempotency-key': `${sending.messageId}-${number.slice(1)}`,
              ...filled,
            },
            body: fillTemplate(body, form, values),
            mayReachPrivate: sending.mayReachPrivate,
          }),
        ),
      );
    }
    return answers.join('; ');
  },
});
