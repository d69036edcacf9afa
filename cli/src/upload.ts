import { createHash } from 'node:crypto';
import { createReadStream, statSync } from 'node:fs';
import { setTimeout as pause } from 'node:timers/promises';
import type { IndexedPart } from '@rough-ember/core/symbols/readers';
import { MultiBar } from 'cli-progress';
import { ask, Passing, reach, type ServerOptions } from './ask-server.ts';
import { CommandProblem } from './command-problem.ts';
import { type Destination, type SentFile, sendFile } from './send-file.ts';
import { type FoundSymbolFile, findSymbolFiles, indexFile } from './symbol-files.ts';

interface Options extends ServerOptions {
  readonly version?: string;
  readonly build?: string;
  readonly dryRun?: boolean;
}

const sentAtOnce = 3;
const pollMs = 250;

/** `ember upload` */
export async function upload(named: readonly string[], options: Options): Promise<void> {
  if ((options.version === undefined) !== (options.build === undefined))
    throw new CommandProblem('give --version and --build together, or neither for files that carry their own ids');
  const found = await findSymbolFiles(named);
  if (found.length === 0) throw new CommandProblem(`${named.join(', ')} holds no symbol file`);
  const mappings = found.filter((file) => file.format === 'mapping').map((file) => file.label);
  if (mappings.length > 1)
    throw new CommandProblem(
      `${mappings.length} mappings were found (${mappings.join(', ')}), but a build has one; name the one of this build`,
    );
  if (options.dryRun) {
    for (const { path, label } of found) console.log(`${label}: would be sent, ${(await indexFile(path)).map(wordPart).join('; ')}`);
    return;
  }
  reach(options, 'upload');
  const problems = await sendAll(found, options);
  if (problems.length === 1 && found.length === 1) throw problems[0];
  for (const problem of problems) console.error(`ember: ${problem.message.replaceAll('\n', ' ')}`);
  if (problems.length > 0) throw new CommandProblem(`${problems.length} of ${found.length} files were not taken`);
}

const wordPart = ({ kind, symbolId, name }: IndexedPart): string =>
  `${kind}${name === null ? '' : ` of ${name}`}, ${symbolId === null ? 'no id' : `id ${symbolId}`}`;

/** Sends a few files at a time; one that is refused does not keep the others back. */
async function sendAll(found: readonly FoundSymbolFile[], options: Options): Promise<Error[]> {
  const problems: Error[] = [];
  const waiting = [...found];
  const bars = new Bars();
  const worker = async () => {
    for (let file = waiting.shift(); file; file = waiting.shift())
      await sendOne(file, options, bars).catch((error: Error) => problems.push(error));
  };
  await Promise.all(Array.from({ length: sentAtOnce }, worker));
  bars.stop();
  return problems;
}

async function sendOne({ path, label }: FoundSymbolFile, options: Options, bars: Bars): Promise<void> {
  const { version = '', build = '' } = options;
  const to: Destination = { ...reach(options, 'upload'), version, build };
  const bar = bars.begin(label, statSync(path).size);
  try {
    const known = await findKnown(path, to);
    const sent = known ? { ...known, isNew: false } : await sendFile(path, to, bar.arrived);
    bar.arrived(statSync(path).size);
    const done = await waitForIndex(to, sent);
    if (done.state === 'refused') throw new CommandProblem(`the server refused ${label}: ${done.problem}`);
    const ofBuild = version === '' ? '' : ` ${version} (${build})`;
    for (const other of done.alsoOf ?? [])
      bars.warn(
        `${label} is there for ${other.version} (${other.build}) too, and a file is of one build: send the one that this build wrote`,
      );
    bars.say(`${label} is a symbol file of ${options.app}${ofBuild}${sent.isNew ? '' : ' and was there already'}`);
  } finally {
    bar.end();
  }
}

/** Asks by the hash of the content whether the server has the file already, which spares sending it again. */
async function findKnown(path: string, { app, token, version, build }: Destination): Promise<SentFile | null> {
  const hash = createHash('sha256');
  for await (const chunk of createReadStream(path, { highWaterMark: 1 << 20 })) hash.update(chunk as Buffer);
  const parameters = new URLSearchParams({ sha256: hash.digest('hex'), version, build });
  try {
    const { file } = await ask<{ file: SentFile | null }>(`${app}/symbol-files/known?${parameters}`, token);
    return file;
  } catch (error) {
    // A server that is busy may still take the file; whether it does is told by sending it.
    if (error instanceof Passing) return null;
    throw error;
  }
}

async function waitForIndex({ app, token }: Destination, sent: SentFile): Promise<SentFile> {
  for (let now = sent; ; await pause(pollMs)) {
    now = await ask(`${app}/symbol-files/${sent.id}`, token);
    if (now.state !== 'indexing') return now;
  }
}

/** A bar for each file that is being sent, where a person watches; a build's log gets lines only. */
class Bars {
  private readonly multi = process.stderr.isTTY
    ? new MultiBar({ format: '{bar} {percentage} % {file}', hideCursor: true, clearOnComplete: true, stream: process.stderr })
    : null;

  begin(label: string, sizeBytes: number): { arrived(bytes: number): void; end(): void } {
    const bar = this.multi?.create(sizeBytes, 0, { file: label });
    return {
      arrived: (bytes) => bar?.update(bytes),
      end: () => {
        if (bar) this.multi?.remove(bar);
      },
    };
  }

  /** A line that stays, above the bars. */
  say(line: string): void {
    console.log(line);
  }

  /** The same for what may be wrong, where a build's log shows it. */
  warn(line: string): void {
    console.error(`ember: ${line}`);
  }

  stop(): void {
    this.multi?.stop();
  }
}
