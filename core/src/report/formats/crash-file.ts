import { failure, type Result, success } from '../../result.ts';
import { printable } from '../printable.ts';
import { crashFormats, knownFormats } from './formats.ts';
import { type CrashFileContext, type FoundReport, reportsPerFile } from './found-report.ts';
import { readJsonText } from './json-reader.ts';
import { readStacks, unfold } from './stacks.ts';

export type CrashFileProblem = 'empty' | 'not-text' | 'too-large' | 'no-crash' | 'damaged';

/** The largest file the readers take, in bytes. */
export const crashFileLimitBytes = 8 * 1024 * 1024;

/** Text has no zeros; so far it is looked for them. */
const lookedThroughBytes = 4_096;

/**
 * Reads a crash file of any known format and says which it was. Several reports in one file come back in the order in
 * which they stand there.
 */
export function readCrashFile(bytes: Uint8Array, context: CrashFileContext): Result<FoundReport[], CrashFileProblem> {
  if (bytes.length === 0) return failure('empty', 'the file is empty');
  if (bytes.length > crashFileLimitBytes)
    return failure('too-large', `the file has ${bytes.length} bytes; the limit is ${crashFileLimitBytes}`);
  for (const format of crashFormats) {
    const report = format.readBytes?.(bytes);
    if (report) return success([unfold(report)]);
  }
  if (bytes.subarray(0, lookedThroughBytes).includes(0))
    return failure('not-text', `the file holds binary data of no known form; known are ${knownFormats}`);
  const text = new TextDecoder('utf-8').decode(bytes);
  const read = /^\s*[{[]/.test(text) ? readJson(text, context) : null;
  if (read && (!read.ok || read.value.length > 0)) return read;
  const found = readLines(printable(text).split('\n'), context);
  return found.length > 0 ? success(found) : failure('no-crash', `no crash was found in this text; known are ${knownFormats}`);
}

function readJson(text: string, context: CrashFileContext): Result<FoundReport[], CrashFileProblem> | null {
  const json = readJsonText(text);
  for (const format of crashFormats) {
    const read = format.readJson?.(json, context);
    if (read) return read.ok ? success(read.value.slice(0, reportsPerFile).map(unfold)) : read;
  }
  return null;
}

function readLines(lines: readonly string[], context: CrashFileContext): FoundReport[] {
  for (const format of crashFormats) {
    const reports = format.readLines?.(lines, context);
    if (reports) return reports.map(unfold);
  }
  return readStacks(lines);
}
