import { dayMs } from '../../../durations.ts';
import { printable } from '../../printable.ts';
import type { CrashFileContext, FoundReport } from '../found-report.ts';
import { asCount, asObject, asObjects, asText, type JsonObject } from '../json-reader.ts';
import { fatalException, readJvmStacks } from '../jvm-stack/read.ts';
import { readStacks } from '../stacks.ts';
import { isTombstone, readTombstoneText } from '../tombstone-text/read.ts';

/** One line of Android's log, of whichever format it was printed or exported in. */
interface LogLine {
  readonly process: string;
  readonly tag: string;
  readonly text: string;
  /** `MM-DD HH:MM:SS.mmm`, with the year in front when it was printed. */
  readonly time: string | null;
  /** How far the further lines of the same entry are indented, in the forms that write it above the first only. */
  readonly indent?: number;
}

const time = String.raw`(?:(?<time>(?:\d{4}-)?\d\d-\d\d \d\d:\d\d:\d\d\.\d{3,6})(?: [+-]\d{4})?\s+)`;
const patterns = [
  // threadtime, the default: "11-23 07:07:51.123  1234  1250 E AndroidRuntime: text" (with a uid before the pid on request)
  new RegExp(String.raw`^${time}(?:\S+\s+)?(?<pid>\d+)\s+\d+\s+[VDIWEFA]\s+(?<tag>[^:\s][^:]{0,79}?|)\s{0,40}: (?<text>.*)$`),
  // time and brief: "11-23 07:07:51.123 E/AndroidRuntime( 1234): text", the time left out in brief
  new RegExp(String.raw`^${time}?[VDIWEFA]/(?<tag>[^(\s][^(]{0,79}?|)\s{0,40}\(\s*(?<pid>\d+)\): (?<text>.*)$`),
];

/** Forms of the development environment, which writes what an entry has in common once, before its first line. */
const exported = [
  // "2026-11-23 07:07:51.123  1234-1250  AndroidRuntime          com.larkfield.guide                  E  text"
  new RegExp(String.raw`^${time}(?<pid>\d+)-\d+\s+(?<tag>\S{1,80}(?: \S{1,80}){0,5})\s+\S{1,200}\s+[VDIWEFA]\s{1,2}(?<text>.*)$`),
  // before: "2026-11-23 07:07:51.123 1234-1250/com.larkfield.guide E/AndroidRuntime: text"
  new RegExp(String.raw`^${time}(?<pid>\d+)-\d+/\S{1,200}\s+[VDIWEFA]/(?<tag>[^:\s][^:]{0,79}?): (?<text>.*)$`),
];
const indentBefore = 4;

function parseLogLine(line: string): LogLine | null {
  if (line.length > 20_000) return null;
  for (const [at, pattern] of [...patterns, ...exported].entries()) {
    const found = pattern.exec(line)?.groups;
    if (!found) continue;
    const text = found.text as string;
    const indent = pattern === exported[0] ? line.length - text.length : indentBefore;
    return {
      process: found.pid as string,
      tag: found.tag as string,
      text,
      time: found.time ?? null,
      ...(at >= patterns.length && { indent }),
    };
  }
  return null;
}

/** The lines of a log; of an entry that goes on, each as if it had been written by itself. */
function* readLogLines(lines: readonly string[]): Generator<LogLine> {
  let entry = null as LogLine | null;
  for (const line of lines) {
    const log = parseLogLine(line);
    entry = log ?? (entry?.indent !== undefined && /^\s|^$/.test(line) ? entry : null);
    if (log) yield log;
    else if (entry) {
      const leading = line.length - line.trimStart().length;
      yield { ...entry, text: line.slice(Math.min(leading, entry.indent ?? 0)) };
    }
  }
}

const runtimeTag = 'AndroidRuntime';
/** debuggerd writes its tombstone into the log too, under its own process. */
const tombstoneTag = /^(?:DEBUG|crash_dump(?:32|64))$/;

/** Whether the text is output of Android's log: a line of its runtime, or log lines for the most part. */
export function isLogcat(lines: readonly string[]): boolean {
  const first = lines.slice(0, 400).filter((line) => line.trim() !== '' && !line.startsWith('--------- '));
  const logged = first.filter((line) => parseLogLine(line) !== null).length;
  return (
    (logged > 0 && logged * 2 >= first.length) || lines.some((line) => line.includes(runtimeTag) && parseLogLine(line)?.tag === runtimeTag)
  );
}

interface Block {
  readonly tag: string;
  readonly time: string | null;
  readonly text: string[];
}

const blocksPerLog = 2_000;

/**
 * Reads the crashes in a log: those of the Java runtime (tag `AndroidRuntime`: "FATAL EXCEPTION: <thread>", "Process:
 * <name>, PID: <n>", then the stack), tombstones (tag `DEBUG`), and the errors that other runtimes log under their own
 * tags. Lines of other tags and other processes may stand in between; each process and tag is read on its own.
 */
export function readLogcat(lines: readonly string[], context: CrashFileContext): FoundReport[] {
  return readLog(readLogLines(lines), context);
}

/**
 * Reads the file that the development environment saves a log as: JSON with `logcatMessages`, each with a `header` (`pid`, `tag`,
 * `timestamp` in seconds and nanoseconds) and a `message` of several lines. Null when it is none.
 */
export const readLogcatFile = (file: JsonObject, context: CrashFileContext): FoundReport[] | null =>
  Array.isArray(file.logcatMessages) ? readLog(entriesOf(asObjects(file.logcatMessages)), context) : null;

function* entriesOf(entries: readonly JsonObject[]): Generator<LogLine> {
  for (const { header: told, message } of entries) {
    const header = asObject(told);
    const text = asText(message);
    if (!header || text === null) continue;
    const { seconds, nanos } = asObject(header.timestamp) ?? {};
    const at = (asCount(seconds) ?? Number.NaN) * 1000 + Math.floor((asCount(nanos) ?? 0) / 1e6);
    const time = at <= latestMs ? new Date(at).toISOString().replace('T', ' ').slice(0, 23) : null;
    const entry = { process: String(asCount(header.pid)), tag: asText(header.tag) ?? '', time };
    for (const line of printable(text).split('\n')) yield { ...entry, text: line };
  }
}

/** The end of the year 9999, in milliseconds. */
const latestMs = 253_402_300_799_999;

function readLog(logLines: Iterable<LogLine>, context: CrashFileContext): FoundReport[] {
  const openBlocks = new Map<string, Block>();
  const blocks: Block[] = [];
  for (const log of logLines) {
    const stream = `${log.process} ${log.tag}`;
    const begins = log.tag === runtimeTag ? fatalException.test(log.text) : tombstoneTag.test(log.tag) && /^(?:\*\*\* ){3,}/.test(log.text);
    const known = openBlocks.get(stream);
    if (known && !begins) known.text.push(log.text);
    else if (blocks.length < blocksPerLog) {
      const block = { tag: log.tag, time: log.time, text: [log.text] };
      blocks.push(block);
      openBlocks.set(stream, block);
    }
  }
  return blocks
    .flatMap((block) =>
      readBlock(block).map((report) => ({
        ...report,
        format: 'logcat' as const,
        occurredAt: report.occurredAt ?? logTime(block.time, context),
        attributes: { ...report.attributes, 'log.tag': block.tag },
      })),
    )
    .slice(0, 200);
}

function readBlock({ tag, text }: Block): FoundReport[] {
  if (tombstoneTag.test(tag)) return isTombstone(text) ? [readTombstoneText(text)] : [];
  if (tag !== runtimeTag) return readStacks(text).filter((report) => report.exceptions.some((one) => one.frames.length > 0));
  return fatalException.test(text[0] ?? '') ? readJvmStacks(text).slice(0, 1) : [];
}

/**
 * The log prints the device's local time, mostly without year and never with its zone unless asked: taken as UTC,
 * in the latest year that does not put it more than a day after the arrival.
 */
function logTime(printed: string | null, { receivedAt }: CrashFileContext): string | null {
  if (!printed) return null;
  const arrival = Date.parse(receivedAt);
  const [, year, rest = ''] = /^(?:(\d{4})-)?(.*)$/.exec(printed) ?? [];
  const thisYear = new Date(arrival).getUTCFullYear();
  for (const candidate of year ? [year] : [thisYear, thisYear - 1]) {
    const at = Date.parse(`${candidate}-${rest.slice(0, 18).replace(' ', 'T')}Z`);
    if (Number.isFinite(at) && at <= arrival + dayMs) return new Date(at).toISOString();
  }
  return null;
}
