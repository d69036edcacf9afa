import type { NativeFrame } from '../../frames.ts';
import { reportLimits } from '../../limits.ts';
import { withWrittenLine } from '../../written-line.ts';
import { parseAndroidTime, readFingerprint } from '../android-names.ts';
import { ChainBuilder } from '../chain-builder.ts';
import { type FoundReport, foundReport } from '../found-report.ts';
import { keepSection } from '../sections.ts';
import { parseTombstoneFrame } from '../tombstone-frame.ts';

const processLine = /^pid: (\d{1,10}), tid: (\d{1,10}), name: (.*?)\s+>>> (.*) <<<\s*$/;
const signalLine = /^signal (\d{1,3}) \((\w+)\), code (-?\d{1,10}) \(([\w -]+)(?: from pid \d+, uid \d+)?\)(?:, fault addr (\S+))?/;

/** Whether a text is a tombstone, whole or without its first lines. */
export const isTombstone = (lines: readonly string[]): boolean =>
  lines.some((line) => processLine.test(line)) &&
  lines.some((line) => signalLine.test(line) || /^Abort message: /.test(line) || /^\s*#\d+ +pc /.test(line));

interface ThreadText {
  readonly id: number;
  readonly name: string;
  readonly frames: NativeFrame[];
  readonly registers: Record<string, string>;
}

/** Reads what debuggerd writes when a process with native code crashes: AOSP, system/core/debuggerd, `tombstone_proto_to_text`. */
export function readTombstoneText(lines: readonly string[]): FoundReport {
  const threads: ThreadText[] = [];
  const head = new Map<string, string>();
  const causes: string[] = [];
  const rest = new Map<string, string[]>();
  let current: ThreadText | null = null;
  let signal: RegExpExecArray | null = null;
  let process: string | null = null;
  let part: 'head' | 'registers' | 'backtrace' | 'rest' = 'head';
  let title = '';
  for (const line of lines) {
    const started = processLine.exec(line);
    if (started) {
      current = { id: Number(started[2]), name: started[3] as string, frames: [], registers: {} };
      threads.push(current);
      process ??= started[4] as string;
      part = 'head';
      continue;
    }
    const frame = part === 'rest' ? null : parseTombstoneFrame(line);
    if (frame && current) {
      current.frames.push(withWrittenLine(frame, line));
      part = 'backtrace';
      continue;
    }
    const named = /^([A-Za-z][\w ]{0,40}?): ?(.*)$/.exec(line);
    const sectionTitle =
      /^((?:de)?allocated by thread \d+|memory map|memory near [\w ]+|stack|open files|code around [\w ]+|log \w+|--------- (?:tail end of )?log \w+|backtrace)\b/i.exec(
        line,
      );
    if (signalLine.test(line) && !signal) signal = signalLine.exec(line);
    else if (/^(?:--- ){3,}|^(?:\*\*\* ){3,}/.test(line)) part = 'head';
    else if (sectionTitle && !/^ {4}/.test(line)) {
      title = (sectionTitle[1] as string).toLowerCase();
      part = title === 'backtrace' ? 'backtrace' : 'rest';
      if (part === 'rest') rest.set(line.slice(0, 100), []);
    } else if (part === 'rest') [...rest.values()].at(-1)?.push(line);
    else if (/^\s{2,}[a-z]\w{0,7}\s+[0-9a-f]{8,16}\b/.test(line) && current) readRegisters(line, current.registers);
    else if (/^Cause: /.test(line)) causes.push(line.slice('Cause: '.length));
    else if (named && part === 'head' && head.size < 100) head.set(named[1] as string, named[2] as string);
  }
  return toReport({ threads, head, causes, rest, signal, process });
}

/** "    x0  0000000000000000  x1  00000073…" in the columns of the register dump. */
function readRegisters(line: string, registers: Record<string, string>): void {
  for (const [, name = '', value = ''] of line.matchAll(/\b([a-z]\w{0,7})\s+([0-9a-f]{8,16})\b/g))
    if (Object.keys(registers).length < reportLimits.registers) registers[name] = `0x${BigInt(`0x${value}`).toString(16)}`;
}

interface Parts {
  readonly threads: readonly ThreadText[];
  readonly head: ReadonlyMap<string, string>;
  readonly causes: readonly string[];
  readonly rest: ReadonlyMap<string, readonly string[]>;
  readonly signal: RegExpExecArray | null;
  readonly process: string | null;
}

function toReport({ threads, head, causes, rest, signal, process }: Parts): FoundReport {
  const chain = new ChainBuilder();
  const abort = head.get('Abort message')?.replace(/^'([\s\S]*)'$/, '$1') ?? null;
  const [, , name = 'crash', , code = '', address] = signal ?? [];
  const first = chain.begin(nativeSignal({ name, code, address: address ?? null, abort, causes }));
  for (const frame of threads[0]?.frames ?? []) chain.frame(first, frame);
  threads.forEach((thread, index) => {
    const about = { name: thread.name, id: thread.id, crashed: index === 0, state: null, waitsFor: null, registers: thread.registers };
    chain.thread(about, index === 0 ? [] : thread.frames);
  });
  const fingerprint = head.get('Build fingerprint')?.replaceAll("'", '') ?? '';
  return foundReport({
    format: 'tombstone-text',
    kind: 'crash',
    occurredAt: parseAndroidTime(head.get('Timestamp') ?? ''),
    process,
    ...readFingerprint(fingerprint),
    exceptions: chain.exceptions,
    threads: chain.threads,
    images: imagesOfFrames(threads.flatMap((thread) => thread.frames)),
    attributes: {
      ...(head.has('ABI') ? { 'process.architecture': (head.get('ABI') as string).replaceAll("'", '') } : {}),
      ...(head.has('Process uptime') ? { 'process.uptime': head.get('Process uptime') as string } : {}),
      ...(fingerprint === '' ? {} : { 'device.fingerprint': fingerprint }),
    },
    sections: [...rest].slice(0, reportLimits.sections).map(([heading, text]) => keepSection(heading, text.join('\n').trimEnd())),
    notes: chain.notes,
  });
}

/** Type and message of a signal, as both forms of a tombstone tell it. */
export function nativeSignal(told: {
  name: string;
  code: string;
  address: string | null;
  abort: string | null;
  causes: readonly string[];
}): {
  type: string;
  message: string | null;
} {
  const known = told.address !== null && !/^-+$/.test(told.address) ? ` at ${told.address}` : '';
  const said = [
    ...told.causes,
    told.abort,
    told.code === '' || told.code === 'SI_TKILL' || told.code === 'SI_QUEUE' ? null : `${told.code}${known}`,
  ].filter(Boolean);
  return { type: told.name, message: said.length > 0 ? said.join('; ') : null };
}

/** The images that frames name, each once, since tombstones have no list of their own. */
export function imagesOfFrames(frames: readonly NativeFrame[]): FoundReport['images'] {
  const images = new Map<string, FoundReport['images'][number]>();
  for (const { image, symbolId } of frames)
    if (image !== null && symbolId !== null && !images.has(symbolId) && images.size < reportLimits.images)
      images.set(symbolId, {
        name: image.slice(0, reportLimits.nameCharacters),
        symbolId,
        architecture: null,
        loadAddress: null,
        sizeBytes: null,
      });
  return [...images.values()];
}
