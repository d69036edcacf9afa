import { reportSchema } from '@rough-ember/core/report/report';
import { type StorableReport, toStorable } from '@rough-ember/store/reports';
import { z } from 'zod';

/** One line of a batch: an item with its type. */
export const batchItemSchema = z.discriminatedUnion('type', [reportSchema.extend({ type: z.literal('report') })]);

export type ParsedLine =
  | { readonly line: number; readonly report: StorableReport }
  | { readonly line: number; readonly id: string | null; readonly reason: string };

const maximumItems = 5_000;

/** Reads the lines of an NDJSON batch; a bad line never costs a good one. Line numbers count from 1, blank lines too. */
export function parseBatch(bytes: Uint8Array): ParsedLine[] {
  const lines = new TextDecoder().decode(bytes).split('\n');
  const parsed: ParsedLine[] = [];
  lines.forEach((text, index) => {
    if (text.trim() === '') return;
    const line = index + 1;
    if (parsed.length >= maximumItems)
      parsed.push({ line, id: null, reason: `a batch holds at most ${maximumItems} items; send the rest in another` });
    else parsed.push(parseLine(text, line));
  });
  return parsed;
}

function parseLine(text: string, line: number): ParsedLine {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    return { line, id: null, reason: `line ${line} is not JSON: ${(error as Error).message}` };
  }
  const item = batchItemSchema.safeParse(value);
  if (item.success) {
    const { type: _type, ...report } = item.data;
    return { line, report: toStorable(report) };
  }
  return { line, id: readId(value), reason: `line ${line}: ${wordIssues(item.error)}` };
}

const readId = (value: unknown): string | null =>
  typeof value === 'object' && value !== null && 'id' in value && typeof value.id === 'string' ? value.id.slice(0, 100) : null;

/** The first few things that are wrong, each with the place it stands at. */
export function wordIssues(error: z.ZodError): string {
  return error.issues
    .slice(0, 3)
    .map(({ path, message }) => {
      if (path.length === 0) return message;
      return message.endsWith('received undefined') ? `${path.join('.')} is missing` : `${path.join('.')}: ${message}`;
    })
    .join('; ');
}
