import { readFileSync } from 'node:fs';
import { CommandProblem } from './command-problem.ts';

/** The bytes of a file a person named, or a problem that names it. */
export function readNamedFile(path: string): Uint8Array {
  try {
    return readFileSync(path);
  } catch (error) {
    throw new CommandProblem(`${path} cannot be read: ${wordFileError(error)}`);
  }
}

const fileErrors: Readonly<Record<string, string>> = {
  ENOENT: 'there is no such file',
  EACCES: 'permission denied',
  EISDIR: 'it is a folder',
};

/** An error of the file system in words. */
export function wordFileError(error: unknown): string {
  const code = error instanceof Error && 'code' in error ? String(error.code) : '';
  return fileErrors[code] ?? (error as Error).message;
}
