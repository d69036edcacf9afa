import { spawn } from 'node:child_process';
import { createReadStream, createWriteStream } from 'node:fs';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Readable, Writable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { createGunzip, createGzip } from 'node:zlib';
import { connectionOf, type Database } from '@rough-ember/store/database';
import { BackupProblem, Measured } from './backup-folder.ts';

/** How to connect, in a file that nobody else can read: arguments and environments of processes can be seen. */
async function withOptionsFile<Value>(database: Database, run: (option: string, name: string) => Promise<Value>): Promise<Value> {
  const { host, port, user, password, name } = connectionOf(database);
  const folder = await mkdtemp(join(tmpdir(), 'ember-database-'));
  const file = join(folder, 'options');
  const quoted = (text: string) => `"${text.replace(/[\\"]/g, '\\$&')}"`;
  const lines = ['[client]', `host=${quoted(host)}`, `port=${port}`, `user=${quoted(user)}`, `password=${quoted(password)}`];
  try {
    await writeFile(file, `${lines.join('\n')}\n`, { mode: 0o600 });
    return await run(`--defaults-file=${file}`, name);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** Runs a program of MariaDB with a stream; throws a BackupProblem with what it said when it fails. */
async function runProgram(
  program: string,
  options: readonly string[],
  use: (child: { stdin: Writable; stdout: Readable }) => Promise<void>,
) {
  const child = spawn(program, options, { stdio: ['pipe', 'pipe', 'pipe'] });
  let complained = '';
  child.stderr.on('data', (chunk: Buffer) => {
    complained = (complained + chunk.toString('utf8')).slice(-2_000);
  });
  const ended = new Promise<void>((resolve, reject) => {
    child.once('error', (error: NodeJS.ErrnoException) =>
      reject(new BackupProblem(error.code === 'ENOENT' ? `${program} is not installed (Debian: mariadb-client).` : error.message)),
    );
    child.once('close', (code) =>
      code === 0
        ? resolve()
        : reject(new BackupProblem(`${program} failed: ${complained.trim().split('\n').at(-1) || `exit code ${code}`}`)),
    );
  });
  ended.catch(() => {});
  try {
    await use(child);
  } catch (error) {
    child.kill();
    // Why the program ended says more than that its stream did.
    await ended;
    throw error;
  }
  await ended;
}

const common = ['--default-character-set=utf8mb4', '--max-allowed-packet=512M'];

/**
 * Writes a database as it is at one moment into a packed file, while it is used. Triggers go into a file of their own: they are made when
 * the rows are there, and by whoever restores.
 */
export async function dumpDatabase(
  database: Database,
  { into, triggers }: { into: string; triggers: string },
): Promise<{ bytes: number; sha256: string }> {
  return withOptionsFile(database, async (options, name) => {
    const measured = new Measured();
    const whole = ['--single-transaction', '--quick', '--hex-blob', '--skip-triggers', '--no-tablespaces', '--dump-date=FALSE'];
    let tail = '';
    await runProgram('mariadb-dump', [options, ...common, ...whole, name], ({ stdout }) =>
      pipeline(
        stdout,
        async function* (source: AsyncIterable<Buffer>) {
          for await (const chunk of source) {
            tail = (tail + chunk.subarray(-200).toString('latin1')).slice(-200);
            yield chunk;
          }
        },
        createGzip({ level: 1 }),
        measured,
        createWriteStream(into, { flush: true, mode: 0o600 }),
      ),
    );
    if (!tail.includes('-- Dump completed')) throw new BackupProblem('mariadb-dump ended before the database did.');
    let text = '';
    await runProgram('mariadb-dump', [options, ...common, '--no-data', '--no-create-info', '--triggers', name], async ({ stdout }) => {
      for await (const chunk of stdout) text += String(chunk);
    });
    await writeFile(triggers, text.replace(/\/\*!50017 DEFINER=\S+?\*\//g, ''), { flush: true, mode: 0o600 });
    return { bytes: measured.bytes, sha256: measured.sha256 };
  });
}

/** Puts what was dumped into an empty database. */
export async function loadDump(database: Database, { from, triggers }: { from: string; triggers: string }): Promise<void> {
  await withOptionsFile(database, async (options, name) => {
    await runProgram('mariadb', [options, ...common, name], async ({ stdin, stdout }) => {
      stdout.resume();
      await pipeline(createReadStream(from), createGunzip(), stdin);
    });
    await runProgram('mariadb', [options, ...common, name], async ({ stdin, stdout }) => {
      stdout.resume();
      await pipeline(createReadStream(triggers), stdin);
    });
  });
}
