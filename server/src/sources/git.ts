import { execFile } from 'node:child_process';
import { dirname } from 'node:path';
import { promisify } from 'node:util';

/** Why sources cannot be read; the message says what to do. */
export class SourceProblem extends Error {}

const gitMs = 10_000;

/** Refuses what is no name of a revision: what begins with a dash would be read as an option. */
export function checkRevision(revision: string): void {
  if (!/^[A-Za-z0-9_][\w./+-]*$/.test(revision)) throw new SourceProblem(`"${revision}" is no name of a revision.`);
}

const run = promisify(execFile);

/** Nothing that a checkout's own configuration names is run. */
const harmless = [
  'core.fsmonitor=false',
  'core.hooksPath=/dev/null',
  'core.pager=cat',
  'protocol.allow=never',
  'uploadpack.packObjectsHook=',
].flatMap((setting) => ['-c', setting]);

/** No configuration of the machine or of a person is read, nothing is fetched, nobody is asked, and no repository above is found. */
const gitEnvironment = {
  GIT_CONFIG_NOSYSTEM: '1',
  GIT_CONFIG_GLOBAL: '/dev/null',
  GIT_TERMINAL_PROMPT: '0',
  GIT_OPTIONAL_LOCKS: '0',
  GIT_NO_REPLACE_OBJECTS: '1',
  GIT_ALLOW_PROTOCOL: 'none',
  LC_ALL: 'C',
} as const;

/** What git prints of a checkout; throws a SourceProblem, also when it takes long or prints more than 64 MB. */
export async function git(base: string, parameters: readonly string[]): Promise<string> {
  try {
    const { stdout } = await run('git', ['-c', `safe.directory=${base}`, ...harmless, '-C', base, ...parameters], {
      env: { PATH: process.env.PATH, ...gitEnvironment, GIT_CEILING_DIRECTORIES: dirname(base) },
      timeout: gitMs,
      maxBuffer: 64 * 1024 * 1024,
    });
    return stdout;
  } catch (error) {
    const { code, stderr } = error as { code?: string | number; stderr?: string };
    if (code === 'ENOENT')
      throw new SourceProblem('The program "git" is not installed on the server, and the source folder is a checkout.');
    throw new SourceProblem(
      `git could not read the checkout: ${String(stderr ?? error)
        .trim()
        .split('\n')[0]
        ?.slice(0, 200)}`,
    );
  }
}
