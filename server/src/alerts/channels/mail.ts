import { z } from 'zod';
import { channelKind, SendProblem } from './channel-kind.ts';

/** Mail to addresses that need no account, such as a list. */
export const mail = channelKind({
  settings: z.strictObject({ to: z.array(z.email().max(254)).min(1).max(20) }),
  secretIs: null,
  needsSecret: false,
  leadsTo: ({ to }) => to.join(', '),
  send: async ({ settings, message, messageId, mail: mailer, app }) => {
    if (mailer === null) throw new SendProblem('this server sends no mail: EMBER_SMTP_URL is not set');
    return mailer.send({ to: settings.to, message, messageId, unsubscribePath: `/apps/${app.slug}/alerts`, isOneClick: false });
  },
});
