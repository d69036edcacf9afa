import type { Frame } from '../../frames.ts';
import { reportLimits } from '../../limits.ts';
import type { ReportedThread } from '../../report.ts';
import { withWrittenLine } from '../../written-line.ts';
import { parseAndroidTime, readFingerprint } from '../android-names.ts';
import { ChainBuilder } from '../chain-builder.ts';
import { type FoundReport, foundReport } from '../found-report.ts';
import { parseJvmFrame } from '../jvm-stack/frame.ts';
import { keepSection } from '../sections.ts';
import { parseTombstoneFrame } from '../tombstone-frame.ts';

const begin = /^----- pid (\d{1,10}) at (.+?) -----\s*$/;
const threadHead = /^"(.*)"(?: daemon)?(?: prio=\d+)?(?: tid=(\d{1,10}))?(?: (\w[\w ]*?))?\s*$/;
const longestLine = 8_000;

/** Whether a text is the dump of threads that the system writes when an app does not respond. */
export const isAnrTrace = (lines: readonly string[]): boolean =>
  lines.some((line) => begin.test(line)) && lines.some((line) => line.startsWith('"') && threadHead.test(line));

interface ThreadText extends Omit<ReportedThread, 'frames'> {
  waitsFor: ReportedThread['waitsFor'];
  readonly frames: Frame[];
  readonly held: string[];
  systemId: string | null;
}

/**
 * Reads the dump of all threads (ART, `Thread::Dump`): Java and native frames mixed, the monitors each thread holds, and
 * for whom it waits. The main thread is the one that did not respond; what it waits on is the message of the hang. A dump
 * may hold several processes; each becomes a report.
 */
export function readAnrTraces(lines: readonly string[]): FoundReport[] {
  const starts = lines.flatMap((line, index) => (begin.test(line) ? [index] : []));
  const subject =
    lines
      .slice(0, starts[0])
      .find((line) => /^(?:Subject|Reason): /.test(line))
      ?.replace(/^\w+: /, '') ?? null;
  return starts.slice(0, 20).map((start, index) => readProcess(lines.slice(start, starts[index + 1]), index === 0 ? subject : null));
}

function readProcess(lines: readonly string[], subject: string | null): FoundReport {
  const head = new Map<string, string>();
  const threads: ThreadText[] = [];
  const further: string[] = [];
  let current: ThreadText | null = null;
  for (const whole of lines.slice(1)) {
    const line = whole.slice(0, longestLine);
    const thread = line.startsWith('"') ? threadHead.exec(line) : null;
    if (thread) {
      current = {
        name: thread[1] as string,
        id: thread[2] === undefined ? null : Number(thread[2]),
        crashed: false,
        state: thread[3]?.slice(0, 100) ?? null,
        waitsFor: null,
        registers: {},
        frames: [],
        held: [],
        systemId: null,
      };
      threads.push(current);
    } else if (current && takeLine(current, line)) continue;
    else if (/^----- end \d+ -----/.test(line)) break;
    else if (line.trim() === '') current = null;
    else if (current === null) {
      const pair = /^([A-Z][\w ]{0,40}): (.*)$/.exec(line);
      if (pair && threads.length === 0 && head.size < 100) head.set(pair[1] as string, pair[2] as string);
      else further.push(line);
    }
  }
  return toReport({ threads, head, further, subject, startedAt: begin.exec(lines[0] ?? '')?.[2] ?? '' });
}

/** Takes a line of a thread's part; false when it is none. */
function takeLine(thread: ThreadText, line: string): boolean {
  const java = /^\s+at (\S.*)$/.exec(line);
  const frame = java ? parseJvmFrame((java[1] as string).trimEnd()) : parseTombstoneFrame(line);
  if (frame) {
    thread.frames.push(withWrittenLine(frame, line));
    return true;
  }
  const monitor =
    /^\s+- (waiting to lock|waiting on|sleeping on|locked|parking to wait for)\s+(?:<(0x[0-9a-f]+)> \(a (.+?)\)|an unknown object)(?: held by thread (\d{1,10}))?/.exec(
      line,
    );
  if (monitor) {
    const [, how = '', , what = 'an unknown object', holder] = monitor;
    if (how === 'locked') thread.held.push(what);
    else thread.waitsFor ??= { what: what.slice(0, 300), threadId: holder === undefined ? null : Number(holder) };
    return true;
  }
  const systemId = /^\s+\| sysTid=(\d+)/.exec(line);
  if (systemId) thread.systemId = systemId[1] as string;
  return /^\s+(?:\||\(no managed stack frames\)|\(native backtrace unavailable\)|native: |at |- )/.test(line);
}

interface Parts {
  readonly threads: readonly ThreadText[];
  readonly head: ReadonlyMap<string, string>;
  readonly further: readonly string[];
  readonly subject: string | null;
  readonly startedAt: string;
}

function toReport({ threads, head, further, subject, startedAt }: Parts): FoundReport {
  const chain = new ChainBuilder();
  const main = threads.find((thread) => thread.name === 'main') ?? threads[0];
  const holder = main?.waitsFor?.threadId === null ? undefined : threads.find((thread) => thread.id === main?.waitsFor?.threadId);
  const waiting = main?.waitsFor ? `the main thread waits for ${main.waitsFor.what}${holder ? `, held by "${holder.name}"` : ''}` : null;
  const first = chain.begin({ type: 'not responding', message: [subject, waiting].filter(Boolean).join('; ') || null });
  for (const frame of main?.frames ?? []) chain.frame(first, frame);
  for (const thread of main ? [main, ...threads.filter((one) => one !== main)] : []) {
    const { frames, held: _held, systemId: _systemId, ...about } = thread;
    chain.thread({ ...about, crashed: thread === main }, thread === main ? [] : frames);
  }
  const fingerprint = (head.get('Build fingerprint') ?? '').replaceAll("'", '');
  const held = threads.filter((thread) => thread.held.length > 0).map((thread) => `"${thread.name}" holds ${thread.held.join(', ')}`);
  return foundReport({
    format: 'anr-trace',
    kind: 'hang',
    occurredAt: parseAndroidTime(startedAt),
    process: head.get('Cmd line') ?? null,
    ...readFingerprint(fingerprint),
    exceptions: chain.exceptions,
    threads: chain.threads,
    attributes: {
      ...(head.has('ABI') ? { 'process.architecture': (head.get('ABI') as string).replaceAll("'", '') } : {}),
      ...(fingerprint === '' ? {} : { 'device.fingerprint': fingerprint.slice(0, reportLimits.attributeCharacters) }),
    },
    sections: [
      ...(held.length > 0 ? [keepSection('Monitors', held.join('\n'))] : []),
      ...(further.length > 0 ? [keepSection('Further lines of the dump', further.join('\n'))] : []),
    ],
    notes: chain.notes,
  });
}
