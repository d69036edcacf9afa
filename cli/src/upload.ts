import { createReadStream, statSync } from 'node:fs';
import { basename } from 'node:path';
import { Readable } from 'node:stream';
import { setTimeout as pause } from 'node:timers/promises';
import { Command, Option } from 'commander';
import { CommandProblem } from './command-problem.ts';
import { findMappings } from './mappings.ts';

interface Options {
  readonly server: string;
  readonly app: string;
  readonly version: string;
  readonly build: string;
  readonly token: string;
}

export function uploadCommand(): Command {
  return new Command('upload')
    .description('Upload the mapping of a build, and wait until it is indexed.')
    .argument('<mapping file>', 'the mapping.txt that the obfuscator wrote, or the folder it lies in')
    .addOption(new Option('--server <address>', 'address of the server').env('EMBER_SERVER').default('http://127.0.0.1:4310'))
    .addOption(new Option('--token <token>', 'upload token').env('EMBER_UPLOAD_TOKEN').makeOptionMandatory())
    .requiredOption('--app <name>', 'name of the app in addresses, such as larkfield-guide')
    .requiredOption('--version <version>', 'version name of the build, such as 4.3.1')
    .requiredOption('--build <build>', 'build number of the build, such as 431')
    .action(run);
}

interface Uploaded {
  readonly id: number;
  readonly state: 'indexing' | 'ready' | 'refused';
  readonly isNew: boolean;
  readonly problem?: string | null;
  readonly summary?: { readonly classes: number; readonly methods: number } | null;
}

const sendAttempts = 4;
const pollMs = 250;

async function run(named: string, options: Options): Promise<void> {
  const found = findMappings([named]);
  if (found.length !== 1)
    throw new CommandProblem(
      found.length === 0
        ? `${named} holds no mapping`
        : `${named} holds ${found.length} mappings (${found.join(', ')}); name the one of ${options.version} (${options.build})`,
    );
  const path = found[0] as string;
  const collection = `${options.server.replace(/\/+$/, '')}/api/v1/apps/${encodeURIComponent(options.app)}/symbol-files`;
  const sent = await send(path, collection, options);
  const done = await waitForIndex(`${collection}/${sent.id}`, options.token, sent);
  if (done.state === 'refused') throw new CommandProblem(`the server refused ${path}: ${done.problem}`);
  const covers = done.summary ? `, ${done.summary.classes} classes and ${done.summary.methods} methods` : '';
  console.log(
    `${path} is the mapping of ${options.app} ${options.version} (${options.build})${sent.isNew ? '' : ' and was there already'}${covers}`,
  );
}

/** Sends the file as a stream; what may pass by itself is tried again. */
async function send(path: string, collection: string, { version, build, token }: Options): Promise<Uploaded> {
  const parameters = new URLSearchParams({ version, build, name: basename(path) });
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

async function ask(address: string, request: RequestInit & { duplex?: 'half' }): Promise<Uploaded> {
  let answer: Response;
  try {
    answer = await fetch(address, request);
  } catch (error) {
    const cause = (error as Error).cause as { code?: string; message?: string } | undefined;
    throw new Passing(`${new URL(address).origin} cannot be reached: ${cause?.code ?? cause?.message ?? (error as Error).message}`);
  }
  const told = (await answer.json().catch(() => null)) as (Uploaded & { error?: { message: string; remedy: string } }) | null;
  if (answer.ok && told) return told;
  const reason = told?.error ? `${told.error.message} ${told.error.remedy}` : `it answered with status ${answer.status}`;
  throw new (answer.status >= 500 || answer.status === 429 ? Passing : CommandProblem)(`the server refused: ${reason}`);
}
