import { setImmediate as nextTurn } from 'node:timers/promises';
import { deskSettingsSchema } from '@rough-ember/core/cases/desk-settings';
import { retentionSchema } from '@rough-ember/core/report/retention';
import { scrubRulesSchema } from '@rough-ember/core/report/scrub';
import { type App, raiseRevision } from '@rough-ember/store/apps';
import type { Database } from '@rough-ember/store/database';
import { exportApp, importApp } from '@rough-ember/store/transfer/app-line';
import { exportPart, type TransferLine } from '@rough-ember/store/transfer/export-part';
import { importPart, TransferProblem } from '@rough-ember/store/transfer/import-part';
import { lineSchemas } from '@rough-ember/store/transfer/line-schema';
import { type TransferPartName, transferPartNames } from '@rough-ember/store/transfer/transfer-parts';
import { z } from 'zod';
import { ApiError } from '../errors.ts';
import type { Services } from '../services.ts';
import { stabilitySettingsSchema } from '../stability/settings.ts';

/** The parts of an app in the order in which they are taken in; the app's own settings come first. */
export const parts = ['app', ...transferPartNames] as const;
type PartName = (typeof parts)[number];

const appSchema = z.strictObject({
  name: z.string().max(100),
  prefix: z.string().max(10),
  zone: z.string().max(60).nullable(),
  platforms: z.array(z.string().max(40)).max(20),
  ourPackages: z.array(z.string().max(200)).max(200),
  scrubRules: scrubRulesSchema.nullable(),
  deskSettings: deskSettingsSchema.nullable(),
  stabilitySettings: stabilitySettingsSchema.nullable(),
  retention: retentionSchema.nullable(),
  groupingRules: z.string().max(65_000),
});

/** The form of the lines of each part, as JSON Schema. */
export function describeParts(): { readonly part: PartName; readonly line: object }[] {
  return parts.map((part) => ({
    part,
    line: z.toJSONSchema(part === 'app' ? appSchema : lineSchemas[part], { io: 'input', unrepresentable: 'any' }),
  }));
}

export function requirePart(name: string): PartName {
  const part = parts.find((one) => one === name);
  if (part) return part;
  throw new ApiError('not-found', `There is no part "${name.slice(0, 40)}" of an app; there are ${parts.join(', ')}.`);
}

/**
 * The lines of a part that come after a cursor, as they are read: behind each page a line `{"next": cursor}` from which one may go on when
 * the connection ends before `{"end": true}`.
 */
export function streamPart(database: Database, app: App, part: PartName, after: string): Response {
  const pages = readPages(database, app, part, after);
  const encoder = new TextEncoder();
  const body = new ReadableStream<Uint8Array>({
    async pull(controller) {
      const { value, done } = await pages.next();
      if (done) controller.close();
      else controller.enqueue(encoder.encode(value));
    },
    async cancel() {
      await pages.return(undefined);
    },
  });
  return new Response(body, { headers: { 'content-type': 'application/x-ndjson; charset=utf-8', 'cache-control': 'no-store' } });
}

const written = (lines: readonly object[]): string => lines.map((line) => `${JSON.stringify(line)}\n`).join('');

async function* readPages(database: Database, app: App, part: PartName, after: string): AsyncGenerator<string> {
  if (part === 'app') yield written([await exportApp(database, app.id)]);
  else
    for (let cursor = after; ; ) {
      const { lines, next } = await exportPart(database, app.id, part, cursor);
      if (next === null) break;
      yield written([...lines, { next }]);
      cursor = next;
      await nextTurn();
    }
  yield written([{ end: true }]);
}

/** What came of lines that were handed over. */
export interface TakenLines {
  /** New here; the others were there already. */
  readonly taken: number;
  readonly lines: number;
}

const linesAtOnce = 100;

/** Takes the lines of a part in; lines that tell where an export went on are passed over. */
export async function takePart(
  { database, changes }: Pick<Services, 'database' | 'changes'>,
  app: App,
  { part, body, by }: { readonly part: PartName; readonly body: Buffer; readonly by: string },
): Promise<TakenLines> {
  let pending: TransferLine[] = [];
  let [taken, count] = [0, 0];
  const keep = async () => {
    taken += await takeLines(database, app, part, pending, by);
    pending = [];
    await nextTurn();
  };
  let number = 0;
  for (const text of linesOf(body)) {
    number++;
    if (text.trim() === '') continue;
    const line = parseLine(part, text, number);
    if (line === null) continue;
    count++;
    pending.push(line);
    if (pending.length >= linesAtOnce) await keep();
  }
  await keep();
  await raiseRevision(database, app.id);
  changes.note(app.id);
  return { taken, lines: count };
}

function* linesOf(body: Buffer): Iterable<string> {
  for (let from = 0; from < body.length; ) {
    const end = body.indexOf(10, from);
    yield body.toString('utf8', from, end < 0 ? body.length : end);
    from = end < 0 ? body.length : end + 1;
  }
}

/** A line as its part has it; null for one that tells where the export went on. */
function parseLine(part: PartName, text: string, number: number): TransferLine | null {
  let given: unknown;
  try {
    given = JSON.parse(text);
  } catch {
    throw new ApiError('bad-body', `Line ${number} is not JSON.`);
  }
  if (typeof given === 'object' && given !== null && ('next' in given || 'end' in given)) return null;
  const read = (part === 'app' ? appSchema : lineSchemas[part]).safeParse(given);
  if (read.success) return read.data as TransferLine;
  const [issue] = read.error.issues;
  throw new ApiError('bad-body', `Line ${number} is no line of "${part}": ${issue?.path.join('.')} ${issue?.message}.`);
}

async function takeLines(database: Database, app: App, part: PartName, lines: readonly TransferLine[], by: string): Promise<number> {
  try {
    if (part !== 'app') return await importPart(database, app.id, part as TransferPartName, lines);
    for (const line of lines) await importApp(database, app.id, line, by);
    return lines.length;
  } catch (error) {
    if (error instanceof TransferProblem) throw new ApiError('wrong-order', `${error.message}.`);
    throw error;
  }
}
