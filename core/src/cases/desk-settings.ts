import { z } from 'zod';
import { type FieldName, fieldNames } from '../fields/fields.ts';
import { caseTemplate } from './case-values.ts';

/** Addresses that lead to a file: of the web, and of editors that take one. Any other scheme may run something. */
const schemes: ReadonlySet<string> = new Set(
  'http https vscode vscode-insiders vscodium cursor windsurf zed idea jetbrains androidstudio studio fleet appcode rider webstorm clion xcode subl txmt mvim emacs org-protocol nova bbedit atom'.split(
    ' ',
  ),
);

const template = z
  .string()
  .max(500)
  .refine((text) => schemes.has(/^([a-z][a-z0-9+.-]*):/i.exec(text)?.[1]?.toLowerCase() ?? ''), {
    error: 'must begin with https:, or the scheme of an editor that is known here',
  })
  .refine((text) => text.includes('{file}'), { error: 'must hold {file}; {line} and {version} may be there too' });

/** A field that things are split by; the key names the flag or attribute. */
export const splitSchema = z.object({ field: z.enum(fieldNames as [FieldName, ...FieldName[]]), key: z.string().max(200).default('') });

/** A folder under the one that the operator of the server named; for a checkout of git also the revision, with {version} in it. */
const sourcePlace = z.object({
  folder: z.string().trim().min(1).max(500),
  revision: z.string().trim().min(1).max(200).nullable().default(null),
});
export type SourcePlace = z.infer<typeof sourcePlace>;

/** Settings of before there could be several name one, or none. */
const asList = (given: unknown): unknown => (given === null ? [] : typeof given === 'object' && !Array.isArray(given) ? [given] : given);

/** What the desk of an app shows, for everybody of the team. */
export const deskSettingsSchema = z.object({
  /** What the people of a case are broken down by. */
  breakdowns: z
    .array(splitSchema)
    .max(12)
    .default([
      { field: 'version', key: '' },
      { field: 'os.version', key: '' },
      { field: 'device.model', key: '' },
    ]),
  /** Addresses that a frame opens, with {file}, {line} and {version} in them. */
  editor: template.nullable().default(null),
  /** What a case is copied as for others, in the words of the team. */
  copy: caseTemplate.nullable().default(null),
  repository: template.nullable().default(null),
  /** Where the server finds the sources, such as a checkout for each system; a file is looked for in one after the other. */
  sources: z.preprocess(asList, z.array(sourcePlace).max(10)).default([]),
});
export type DeskSettings = z.infer<typeof deskSettingsSchema>;
export type Split = DeskSettings['breakdowns'][number];

/** The address of a line of a file, from a template. */
export function frameAddress(text: string, { file, line, version }: { file: string; line: number | null; version: string }): string {
  const path = file.split('/').map(encodeURIComponent).join('/');
  return text
    .replaceAll('{file}', path)
    .replaceAll('{line}', String(line ?? 1))
    .replaceAll('{version}', encodeURIComponent(version));
}
