import { z } from 'zod';
import type { Sending } from './channel-kind.ts';

/** What a template may ask for. */
export const placeholders = ['subject', 'text', 'app', 'id', 'at', 'secret', 'to'] as const;
type Placeholder = (typeof placeholders)[number];

const placeholder = /\{\{\s*([a-z-]+)\s*\}\}/g;

/** A template; a placeholder that is not known is refused with the list of those that are. */
export const templateSchema = z
  .string()
  .max(10_000)
  .superRefine((text, context) => {
    for (const [, name] of text.matchAll(placeholder))
      if (!placeholders.some((one) => one === name))
        context.addIssue({
          code: 'custom',
          message: `{{${name}}} is not known; use ${placeholders.map((one) => `{{${one}}}`).join(', ')}`,
        });
  });

/** How a value is written so that it stays one value where it stands. */
export type Escaping = 'json' | 'form' | 'header';

const escapings: Readonly<Record<Escaping, (value: string) => string>> = {
  json: (value) => JSON.stringify(value).slice(1, -1),
  form: encodeURIComponent,
  header: (value) => value.replace(/[^\x20-\x7e]+/g, ' '),
};

/** Fills a template with a message. */
export function fillTemplate(template: string, escaping: Escaping, values: Readonly<Record<Placeholder, string>>): string {
  return template.replace(placeholder, (whole, name: Placeholder) => (name in values ? escapings[escaping](values[name]) : whole));
}

export const valuesOf = (
  { message, app, messageId, madeAt, secret }: Pick<Sending<unknown>, 'message' | 'app' | 'messageId' | 'madeAt' | 'secret'>,
  to = '',
): Readonly<Record<Placeholder, string>> => ({
  subject: message.subject,
  text: message.text,
  app: app.name,
  id: messageId,
  at: madeAt,
  secret: secret ?? '',
  to,
});
