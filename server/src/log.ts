import { reasonOf } from '@rough-ember/store/database-errors';
import { type Logger, pino } from 'pino';
import type { Settings } from './settings.ts';

const mostLineBytes = 8_000;
const mostStackCharacters = 3_000;
const mostTextCharacters = 1_000;

/** What is told of an error: its reason and where it came from. Errors of the database carry whole statements, which are left out. */
export function describeError(error: unknown): object {
  if (!(error instanceof Error)) return { message: reasonOf(error) };
  const { code, errno } = error as { code?: unknown; errno?: unknown };
  // A stack begins with the message, which may be as long as a report.
  const calls = (error.stack ?? '').split('\n').filter((line) => /^\s+at /.test(line));
  return {
    type: error.name,
    message: reasonOf(error),
    ...(typeof code === 'string' && { code: code.slice(0, 100) }),
    ...(typeof errno === 'number' && { errno }),
    stack: calls.join('\n').slice(0, mostStackCharacters),
  };
}

/** A line of the log no longer than it may be; what is too long keeps its time, its level and what it is about. */
export function shortLine(line: string): string {
  if (line.length <= mostLineBytes / 2 || Buffer.byteLength(line) <= mostLineBytes) return line;
  const { level, time, msg } = JSON.parse(line) as Record<string, unknown>;
  return `${JSON.stringify({ level, time, msg: String(msg).slice(0, mostTextCharacters), shortened: 'the rest of this line was left out' })}\n`;
}

/** The log: a JSON object on each line of standard output, none with what an app has sent. */
export const startLog = (
  { logLevel }: Pick<Settings, 'logLevel'>,
  write: (line: string) => void = (line) => process.stdout.write(line),
): Logger =>
  pino(
    {
      level: logLevel,
      serializers: { err: describeError, url: (url: unknown) => String(url).split('?', 1)[0]?.slice(0, mostTextCharacters) },
    },
    { write: (line: string) => write(shortLine(line)) },
  );
