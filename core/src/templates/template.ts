import { z } from 'zod';

const placeholder = /\{\{\s*([a-z-]+)\s*\}\}/g;

/** The schema of a text with `{{name}}` in it; a name that is not known is refused with the list of those that are. */
export const templateSchema = (names: readonly string[]) =>
  z
    .string()
    .max(10_000)
    .superRefine((text, context) => {
      for (const [, name] of text.matchAll(placeholder))
        if (!names.includes(name as string))
          context.addIssue({ code: 'custom', message: `{{${name}}} is not known; use ${names.map((one) => `{{${one}}}`).join(', ')}` });
    });

/** How a value is written so that it stays one value where it stands. */
export type Escaping = 'json' | 'form' | 'header' | 'text';

const escapings: Readonly<Record<Escaping, (value: string) => string>> = {
  json: (value) => JSON.stringify(value).slice(1, -1),
  form: encodeURIComponent,
  header: (value) => value.replace(/[^\x20-\x7e]+/g, ' '),
  text: (value) => value,
};

/** Fills a template; a name without a value stays as it is. */
export const fillTemplate = (template: string, escaping: Escaping, values: Readonly<Record<string, string>>): string =>
  template.replace(placeholder, (whole, name: string) =>
    Object.hasOwn(values, name) ? escapings[escaping](values[name] as string) : whole,
  );

/** Whether a template is JSON once its placeholders are filled in. */
export function isJsonTemplate(template: string): boolean {
  try {
    JSON.parse(template.replace(placeholder, 'a'));
    return true;
  } catch {
    return false;
  }
}
