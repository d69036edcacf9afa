import type { Result } from '../result.ts';
import { readJvmStacks } from './jvm-stack.ts';
import { isLogcat, readLogcat } from './logcat.ts';
import { printable } from './printable.ts';
import type { ReportedException, ReportedThread } from './report.ts';

/** What a reader finds in a text: one crash, before anything is known of the app and device it came from. */
export interface CrashText {
  readonly format: CrashTextFormat;
  /** ISO time in UTC when the text tells one. */
  readonly occurredAt: string | null;
  /** Process or package name, when the text tells it. */
  readonly process: string | null;
  readonly exceptions: ReportedException[];
  readonly threads: ReportedThread[];
  /** What was left out, in words: a limit that was reached. */
  readonly notes: readonly string[];
}

export const crashTextFormats = { 'jvm-stack': 'JVM stack trace', logcat: 'Android logcat' } as const;
export type CrashTextFormat = keyof typeof crashTextFormats;

export type CrashTextProblem = 'empty' | 'not-text' | 'too-large' | 'no-crash';

/** The largest text the readers take, in bytes. */
export const crashTextLimitBytes = 8 * 1024 * 1024;

export interface CrashTextContext {
  /** ISO time; supplies the year that a log line leaves out. */
  readonly receivedAt: string;
}

/** Reads a crash text of any known format. Several crashes in one text come back in the order they were written. */
export function readCrashText(bytes: Uint8Array, context: CrashTextContext): Result<CrashText[], CrashTextProblem> {
  const decoded = decodeText(bytes);
  if (!decoded.ok) return decoded;
  const lines = printable(decoded.value).split('\n');
  const crashes = isLogcat(lines) ? readLogcat(lines, context) : readJvmStacks(lines);
  if (crashes.length > 0) return { ok: true, value: crashes };
  return {
    ok: false,
    problem: {
      code: 'no-crash',
      message:
        'no stack trace was found in this text; known formats are a JVM stack trace ("Exception in thread …", "\tat class.method(File:line)") and Android logcat output with its AndroidRuntime lines',
    },
  };
}

function decodeText(bytes: Uint8Array): Result<string, CrashTextProblem> {
  if (bytes.length === 0) return { ok: false, problem: { code: 'empty', message: 'the file is empty' } };
  if (bytes.length > crashTextLimitBytes)
    return {
      ok: false,
      problem: { code: 'too-large', message: `the text has ${bytes.length} bytes; the limit is ${crashTextLimitBytes}` },
    };
  if (bytes.subarray(0, 4096).includes(0))
    return { ok: false, problem: { code: 'not-text', message: 'the file holds binary data, not a crash text' } };
  return { ok: true, value: new TextDecoder('utf-8').decode(bytes) };
}
