import type { CrashText, CrashTextContext } from './crash-text.ts';
import { readJvmStacks } from './jvm-stack.ts';

/** One line of Android's log, of whichever `logcat -v` format it was printed in. */
interface LogLine {
  readonly process: string;
  readonly tag: string;
  readonly text: string;
  /** `MM-DD HH:MM:SS.mmm`, with the year in front when it was printed. */
  readonly time: string | null;
}

const time = String.raw`(?:(?<time>(?:\d{4}-)?\d\d-\d\d \d\d:\d\d:\d\d\.\d{3,6})(?: [+-]\d{4})?\s+)`;
const patterns = [
  // threadtime, the default: "11-23 07:07:51.123  1234  1250 E AndroidRuntime: text" (with a uid before the pid on request)
  new RegExp(String.raw`^${time}(?:\S+\s+)?(?<pid>\d+)\s+\d+\s+[VDIWEFA]\s+(?<tag>[^:]{0,80}?)\s{0,40}: (?<text>.*)$`),
  // time and brief: "11-23 07:07:51.123 E/AndroidRuntime( 1234): text", the time left out in brief
  new RegExp(String.raw`^${time}?[VDIWEFA]/(?<tag>[^(]{0,80}?)\s{0,40}\(\s*(?<pid>\d+)\): (?<text>.*)$`),
];

function parseLogLine(line: string): LogLine | null {
  if (line.length > 20_000) return null;
  for (const pattern of patterns) {
    const found = pattern.exec(line)?.groups;
    if (found) return { process: found.pid as string, tag: found.tag as string, text: found.text as string, time: found.time ?? null };
  }
  return null;
}

const runtimeTag = 'AndroidRuntime';

/** Whether the text is log output that carries a crash of the Android runtime. */
export function isLogcat(lines: readonly string[]): boolean {
  return lines.some((line) => line.includes(runtimeTag) && parseLogLine(line)?.tag === runtimeTag);
}

/**
 * Reads the crashes that Android's runtime logs under the tag `AndroidRuntime`: "FATAL EXCEPTION: <thread>",
 * "Process: <name>, PID: <n>", then the stack. Lines of other tags and other processes may stand in between.
 */
export function readLogcat(lines: readonly string[], context: CrashTextContext): CrashText[] {
  const openByProcess = new Map<string, { thread: string; time: string | null; name: string | null; text: string[] }>();
  const blocks: { thread: string; time: string | null; name: string | null; text: string[] }[] = [];
  for (const line of lines) {
    const log = parseLogLine(line);
    if (log?.tag !== runtimeTag) continue;
    const fatal = /^(?:\*\*\* )?FATAL EXCEPTION(?: IN SYSTEM PROCESS)?: (.*)$/.exec(log.text);
    if (fatal) {
      const block = { thread: fatal[1] as string, time: log.time, name: null, text: [] };
      blocks.push(block);
      openByProcess.set(log.process, block);
      continue;
    }
    const block = openByProcess.get(log.process);
    if (!block) continue;
    const named = block.text.length === 0 ? /^Process: (.+), PID: \d+$/.exec(log.text) : null;
    if (named) block.name = named[1] as string;
    else if (block.text.length > 0 || !/^PID: \d+$/.test(log.text)) block.text.push(log.text);
  }
  return blocks.flatMap(({ thread, time: printed, name, text }) => {
    const [first = '', ...rest] = text;
    return readJvmStacks([`Exception in thread "${thread}" ${first}`, ...rest])
      .slice(0, 1)
      .map((crash) => ({ ...crash, format: 'logcat' as const, process: name, occurredAt: logTime(printed, context) }));
  });
}

/**
 * The log prints the device's local time, mostly without year and never with its zone unless asked: taken as UTC,
 * in the latest year that does not put it more than a day after the arrival.
 */
function logTime(printed: string | null, { receivedAt }: CrashTextContext): string | null {
  if (!printed) return null;
  const arrival = Date.parse(receivedAt);
  const [, year, rest = ''] = /^(?:(\d{4})-)?(.*)$/.exec(printed) ?? [];
  const thisYear = new Date(arrival).getUTCFullYear();
  for (const candidate of year ? [year] : [thisYear, thisYear - 1]) {
    const at = Date.parse(`${candidate}-${rest.slice(0, 18).replace(' ', 'T')}Z`);
    if (Number.isFinite(at) && at <= arrival + 86_400_000) return new Date(at).toISOString();
  }
  return null;
}
