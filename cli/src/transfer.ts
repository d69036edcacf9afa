import { createReadStream, createWriteStream, existsSync, mkdirSync, readFileSync, statSync, truncateSync, writeFileSync } from 'node:fs';
import { basename, join } from 'node:path';
import { createInterface } from 'node:readline';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { wordCount } from '@rough-ember/core/words/count';
import { ask, reach, refusal, type ServerOptions } from './ask-server.ts';
import { CommandProblem } from './command-problem.ts';
import { type LineForm, writeParquet } from './parquet.ts';
import { sendFile } from './send-file.ts';

interface PartForm {
  readonly part: string;
  readonly line: LineForm;
}

interface KeptSymbolFile {
  readonly id: number;
  readonly fileName: string;
  readonly version: string;
  readonly build: string;
  readonly state: string;
}

const linesOf = (folder: string, part: string): string => join(folder, `${part}.ndjson`);
const symbolFolder = (folder: string): string => join(folder, 'symbol-files');

const partsOf = async (app: string, token: string): Promise<readonly PartForm[]> =>
  (await ask<{ parts: readonly PartForm[] }>(`${app}/transfer`, token)).parts;

interface ExportOptions extends ServerOptions {
  readonly to: string;
  readonly parquet?: boolean;
}

/** `ember export`: everything of an app as files in a folder; what is there of an earlier run is gone on with. */
export async function exportApp({ to: folder, parquet, ...options }: ExportOptions): Promise<void> {
  const { app, token } = reach(options, 'change');
  mkdirSync(folder, { recursive: true });
  const parts = await partsOf(app, token);
  for (const { part } of parts) {
    const lines = await exportPart(app, token, part, linesOf(folder, part));
    console.log(`${part}: ${wordCount(lines, 'line', 'lines')}`);
  }
  console.log(`symbol files: ${await exportSymbolFiles(app, token, folder)}`);
  if (!parquet) return;
  for (const { part, line } of parts) {
    if (part !== 'reports' && part !== 'sessions' && part !== 'cases') continue;
    await writeParquet(linesOf(folder, part), line, join(folder, `${part}.parquet`));
    console.log(`${part}.parquet is written`);
  }
}

/** Where an export of a part stands: how many bytes of its file are whole, and from which cursor it goes on; null when it is done. */
async function standingOf(file: string): Promise<{ bytes: number; after: string | null; lines: number }> {
  const standing = { bytes: 0, after: '' as string | null, lines: 0 };
  if (!existsSync(file)) return standing;
  let [at, lines] = [0, 0];
  for await (const text of createInterface({ input: createReadStream(file), crlfDelay: Number.POSITIVE_INFINITY })) {
    at += Buffer.byteLength(text) + 1;
    const told = markOf(text);
    if (told === null) lines++;
    else Object.assign(standing, { bytes: at, after: told.end ? null : told.next, lines });
  }
  return standing;
}

/** What a line tells of how far the export is; null for a line of data. */
function markOf(text: string): { readonly end: boolean; readonly next: string } | null {
  if (text === '{"end":true}') return { end: true, next: '' };
  if (!text.startsWith('{"next":')) return null;
  try {
    return { end: false, next: String((JSON.parse(text) as { next: unknown }).next) };
  } catch {
    // The last line of an export that was cut short.
    return null;
  }
}

async function exportPart(app: string, token: string, part: string, file: string): Promise<number> {
  const { bytes, after, lines } = await standingOf(file);
  if (after === null) return lines;
  if (bytes > 0) truncateSync(file, bytes);
  const address = `${app}/transfer/${part}?after=${encodeURIComponent(after)}`;
  await download(address, token, file, bytes > 0 ? 'a' : 'w');
  const done = await standingOf(file);
  if (done.after !== null)
    throw new CommandProblem(`the export of ${part} was cut short; run the same command again, it goes on where it was`);
  return done.lines;
}

async function download(address: string, token: string, file: string, flags: 'a' | 'w'): Promise<void> {
  let answer: Response;
  try {
    answer = await fetch(address, { headers: { authorization: `Bearer ${token}` } });
  } catch (error) {
    throw new CommandProblem(`${new URL(address).origin} cannot be reached: ${(error as Error).message}`);
  }
  if (!answer.ok || answer.body === null) throw refusal(address, answer.status, await answer.text());
  // What came before a connection broke is kept; the mark at its end tells how far that is.
  await pipeline(Readable.fromWeb(answer.body as never), createWriteStream(file, { flags })).catch(() => {});
}

async function exportSymbolFiles(app: string, token: string, folder: string): Promise<number> {
  const { files } = await ask<{ files: readonly KeptSymbolFile[] }>(`${app}/symbol-files`, token);
  const wanted = files.filter(({ state }) => state === 'ready' || state === 'replaced');
  mkdirSync(symbolFolder(folder), { recursive: true });
  for (const { id, fileName } of wanted) {
    const file = join(symbolFolder(folder), `${id}-${basename(fileName)}`);
    if (!existsSync(file)) await download(`${app}/symbol-files/${id}/content`, token, file, 'w');
  }
  writeFileSync(
    linesOf(folder, 'symbol-files'),
    wanted.map(({ id, fileName, version, build }) => `${JSON.stringify({ id, fileName, version, build })}\n`).join(''),
  );
  return wanted.length;
}

interface ImportOptions extends ServerOptions {
  readonly from: string;
}

/** Lines are handed over in bodies of about this size. */
const bodyCharacters = 8_000_000;

/** `ember import`: takes what `ember export` wrote into an app, which may be on another server. */
export async function importApp({ from: folder, ...options }: ImportOptions): Promise<void> {
  const { app, token } = reach(options, 'change');
  if (!existsSync(folder)) throw new CommandProblem(`there is no folder ${folder}`);
  for (const { part } of await partsOf(app, token)) {
    const file = linesOf(folder, part);
    if (!existsSync(file)) continue;
    let [taken, lines] = [0, 0];
    for await (const body of bodiesOf(file)) {
      const answer = await ask<{ taken: number; lines: number }>(`${app}/transfer/${part}`, token, {
        method: 'POST',
        body,
        headers: { 'content-type': 'application/x-ndjson' },
      });
      taken += answer.taken;
      lines += answer.lines;
    }
    console.log(`${part}: ${wordCount(lines, 'line', 'lines')}, ${taken} of them new here`);
  }
  await importSymbolFiles(app, token, folder);
}

async function* bodiesOf(file: string): AsyncIterable<string> {
  let body = '';
  for await (const line of createInterface({ input: createReadStream(file), crlfDelay: Number.POSITIVE_INFINITY })) {
    body += `${line}\n`;
    if (body.length < bodyCharacters) continue;
    yield body;
    body = '';
  }
  if (body !== '') yield body;
}

async function importSymbolFiles(app: string, token: string, folder: string): Promise<void> {
  const list = linesOf(folder, 'symbol-files');
  if (!existsSync(list)) return;
  const files = readFileSync(list, 'utf8')
    .split('\n')
    .filter(Boolean)
    .map((line) => JSON.parse(line) as KeptSymbolFile);
  for (const { id, fileName, version, build } of files) {
    const path = join(symbolFolder(folder), `${id}-${basename(fileName)}`);
    if (!existsSync(path) || statSync(path).size === 0) throw new CommandProblem(`${path} is missing; run the export again`);
    await sendFile(path, { app, token, version, build }, () => {});
  }
  console.log(`symbol files: ${files.length}`);
}
