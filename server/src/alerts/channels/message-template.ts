import { templateSchema } from '@rough-ember/core/templates/template';
import type { Sending } from './channel-kind.ts';

/** What a template of a channel may ask for. */
const placeholders = ['subject', 'text', 'app', 'id', 'at', 'secret', 'to'] as const;

export const messageTemplate = templateSchema(placeholders);

export const valuesOf = (
  { message, app, messageId, madeAt, secret }: Pick<Sending<unknown>, 'message' | 'app' | 'messageId' | 'madeAt' | 'secret'>,
  to = '',
): Readonly<Record<(typeof placeholders)[number], string>> => ({
  subject: message.subject,
  text: message.text,
  app: app.name,
  id: messageId,
  at: madeAt,
  secret: secret ?? '',
  to,
});
