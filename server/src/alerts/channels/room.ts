import { fillTemplate, isJsonTemplate } from '@rough-ember/core/templates/template';
import { z } from 'zod';
import { guardedRequest } from '../guarded-request.ts';
import { channelKind, judgeAnswer } from './channel-kind.ts';
import { messageTemplate, valuesOf } from './message-template.ts';
import { webAddress } from './webhook.ts';

/** A chat room with an incoming webhook: its address is the secret, the body a JSON template. */
export const room = channelKind({
  settings: z.strictObject({
    body: messageTemplate
      .default('{"text": "{{text}}"}')
      .refine(isJsonTemplate, { error: 'must be JSON once the placeholders are filled in' }),
  }),
  secretIs: 'The address of the room’s incoming webhook',
  needsSecret: true,
  // The whole of its address is secret.
  leadsTo: () => '',
  send: async (sending) => {
    const address = webAddress.parse(sending.secret);
    return judgeAnswer(
      await guardedRequest(address, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: fillTemplate(sending.settings.body, 'json', { ...valuesOf(sending), secret: '' }),
        mayReachPrivate: sending.mayReachPrivate,
      }),
    );
  },
});
