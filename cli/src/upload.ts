import { createHash } from 'node:crypto';
import { createReadStream, statSync } from 'node:fs';
import { basename } from 'node:path';
import { Readable } from 'node:stream';
import { setTimeout as pause } from 'node:timers/promises';
import type { IndexedPart } from '@rough-ember/core/symbols/index-symbol-file';
import { Command, Option } from 'commander';
import { CommandProblem } from './command-problem.ts';
import { type FoundSymbolFile, findSymbolFiles, indexFile } from './symbol-files.ts';

interface Options {
  readonly server: string;
  readonly app: string;
  readonly version?: string;
  readonly build?: string;
  readonly token: string;
  readonly dryRun?: boolean;
}

export function uploadCommand(): Command {
  return new Command('upload')
    .description('Upload the symbol files of a build, and wait until they are indexed.')
    .argument('<paths...>', 'symbol files, or folders and zips that hold them: mapping.txt, .so, .debug, dSYM, .map')
    .addOption(new Option('--server <address>', 'address of the server').env('EMBER_SERVER').default('http://127.0.0.1:4310'))
    .addOption(new Option('--token <token>', 'upload token').env('EMBER_UPLOAD_TOKEN').makeOptionMandatory())
    .requiredOption('--app <name>', 'name of the app in addresses, such as larkfield-guide')
    .option('--version <version>', 'version name of the build, such as 4.3.1; files that carry an id need none')
    .option('--build <build>', 'build number of the build, such as 431')
    .option('--dry-run', 'say what would be sent and which ids are in it, and send nothing')
    .action(run);
}

interface Uploaded {
  readonly id: number;
  readonly state: 'indexing' | 'ready' | 'refused';
  readonly isNew: boolean;
  readonly problem?: string | null;
}

const sendAttempts = 4;
const sentAtOnce = 3;
const pollMs = 250;

async function run(named: readonly string[], options: Options): Promise<void> {
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
  const worker = async () => {
    for (let file = waiting.shift(); file; file = waiting.shift())
      await sendOne(file, options).catch((error: Error) => problems.push(error));
  };
  await Promise.all(Array.from({ length: sentAtOnce }, worker));
  return problems;
}

async function sendOne({ path, label }: FoundSymbolFile, options: Options): Promise<void> {
  const collection = `${options.server.replace(/\/+$/, '')}/api/v1/apps/${encodeURIComponent(options.app)}/symbol-files`;
  const known = await findKnown(path, collection, options);
  const sent = known ? { ...known, isNew: false } : await send(path, collection, options);
  const done = await waitForIndex(`${collection}/${sent.id}`, options.token, sent);
  if (done.state === 'refused') throw new CommandProblem(`the server refused ${label}: ${done.problem}`);
  const build = options.version === undefined ? '' : ` ${options.version} (${options.build})`;
  console.log(`${label} is a symbol file of ${options.app}${build}${sent.isNew ? '' : ' and was there already'}`);
}

/** Asks by the hash of the content whether the server has the file already, which spares sending it again. */
async function findKnown(path: string, collection: string, { version = '', build = '', token }: Options): Promise<Uploaded | null> {
  const hash = createHash('sha256');
  for await (const chunk of createReadStream(path, { highWaterMark: 1 << 20 })) hash.update(chunk as Buffer);
  const parameters = new URLSearchParams({ sha256: hash.digest('hex'), version, build });
  try {
    const { file } = await ask<{ file: Uploaded | null }>(`${collection}/known?${parameters}`, {
      headers: { authorization: `Bearer ${token}` },
    });
    return file;
  } catch (error) {
    // A server that is busy may still take the file; whether it does is told by sending it.
    if (error instanceof Passing) return null;
    throw error;
  }
}

/** Sends the file as a stream; what may pass by itself is tried again. */
async function send(path: string, collection: string, { version, build, token }: Options): Promise<Uploaded> {
  const parameters = new URLSearchParams({ ...(version && build ? { version, build } : {}), name: basename(path) });
  for (let attempt = 1; ; attempt++) {
    try {
      return await ask(`${collection}?${parameters}`, {
        method: 'POST',
        headers: {
          authorization: `Bearer ${token}`,
          'content-type': 'application/octet-stream',
          'content-length': String(statSync(path).size),
        },
        body: Readable.toWeb(createReadStream(path)) as ReadableStream,
        duplex: 'half',
      });
    } catch (error) {
      if (!(error instanceof Passing) || attempt === sendAttempts) throw error;
      await pause(500 * 2 ** attempt);
    }
  }
}

async function waitForIndex(address: string, token: string, sent: Uploaded): Promise<Uploaded> {
  for (let now = sent; ; await pause(pollMs)) {
    now = await ask(address, { headers: { authorization: `Bearer ${token}` } });
    if (now.state !== 'indexing') return now;
  }
}

/** A failure that may pass: the server is away or overloaded. */
class Passing extends CommandProblem {}

async function ask<Answer = Uploaded>(address: string, request: RequestInit & { duplex?: 'half' }): Promise<Answer> {
  let answer: Response;
  try {
    answer = await fetch(address, request);
  } catch (error) {
    const cause = (error as Error).cause as { code?: string; message?: string } | undefined;
    throw new Passing(`${new URL(address).origin} cannot be reached: ${cause?.code ?? cause?.message ?? (error as Error).message}`);
  }
  const told = (await answer.json().catch(() => null)) as (Answer & { error?: { message: string; remedy: string } }) | null;
  if (answer.ok && told) return told;
  const reason = told?.error ? `${told.error.message} ${told.error.remedy}` : `it answered with status ${answer.status}`;
  throw new (answer.status >= 500 || answer.status === 429 ? Passing : CommandProblem)(`the server refused: ${reason}`);
}
