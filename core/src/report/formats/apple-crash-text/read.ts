import type { NativeFrame } from '../../frames.ts';
import { reportLimits } from '../../limits.ts';
import type { LoadedImage } from '../../report.ts';
import { withWrittenLine } from '../../written-line.ts';
import { appleDevice, uncaughtException } from '../apple-ips/read.ts';
import { explainTermination, parseAppleOs, parseAppleTime, symbolIdOf, type Termination } from '../apple-names.ts';
import { ChainBuilder } from '../chain-builder.ts';
import { type FoundReport, foundReport } from '../found-report.ts';
import { keepSection } from '../sections.ts';

const longestLine = 4_000;

/** Whether the text is a crash report in the form from before JSON: a head of fields, threads, binary images. */
export const isAppleCrashText = (lines: readonly string[]): boolean => {
  const head = lines.slice(0, 120);
  return (
    head.some((line) => /^(?:Incident Identifier|Hardware Model|CrashReporter Key|Process):\s/.test(line)) &&
    lines.some((line) => isThreadHead(line))
  );
};

const isThreadHead = (line: string): boolean => /^Thread \d{1,6}(?: Crashed)?:/.test(line);

interface Stack {
  readonly index: number;
  readonly lines: string[];
  crashed: boolean;
  name: string | null;
}

/**
 * Reads Apple's crash report text (form 104 and older; Apple documents it under "Examining the fields in a crash report").
 * Callers' addresses are return addresses, frame 0 points at the instruction. Frames carry no image id of their own: the
 * list of binary images at the end ties name and address range to a UUID.
 */
export function readAppleCrashText(lines: readonly string[]): FoundReport {
  const parts = split(lines);
  const images = parts.images.flatMap((line) => parseImage(line) ?? []).slice(0, reportLimits.images);
  const chain = new ChainBuilder();
  const field = (name: string): string | null => parts.head.get(name) ?? null;
  const termination = readTermination(field('Termination Reason') ?? field('Termination Description'));
  const explained = termination && explainTermination(termination);
  const information = parts.information.join('\n').trim();
  const objectiveC = uncaughtException(information);
  const exceptionType = field('Exception Type');
  const kind = explained?.kind === 'kill' ? 'kill' : /hang/i.test(field('Event') ?? '') ? 'hang' : 'crash';

  const said = [field('Exception Subtype') ?? field('Exception Message'), explained?.meaning, termination?.indicator].filter(Boolean);
  const signal = {
    type: exceptionType ?? (termination ? [termination.namespace, termination.code].filter(Boolean).join(' ') : kind),
    message: said.length > 0 ? said.join('; ') : information || null,
  };
  const thrownSeparately = parts.lastException.length > 0;
  // An exception of the language is why; the signal it ended in, and the thread that aborted, stand beside it.
  const isThrown = thrownSeparately || objectiveC !== null;
  const first = chain.begin(isThrown ? (objectiveC ?? { type: 'NSException', message: information || null }) : signal);
  if (thrownSeparately) for (const frame of readFrames(parts.lastException, images, false)) chain.frame(first, frame);
  for (const stack of parts.stacks) {
    if (stack.crashed && !thrownSeparately) for (const frame of readFrames(stack.lines, images, true)) chain.frame(first, frame);
    const registers = stack.crashed ? parts.registers : {};
    chain.thread(
      { name: stack.name ?? `Thread ${stack.index}`, id: stack.index, crashed: stack.crashed, state: null, waitsFor: null, registers },
      stack.crashed && !thrownSeparately ? [] : readFrames(stack.lines, images, true),
    );
  }
  const incident = field('Incident Identifier');
  const [version, build] = readVersion(field('Version'));
  const told = [...parts.head].filter(([name]) => !takenFields.has(name));
  return foundReport({
    format: 'apple-crash-text',
    kind,
    id: incident !== null && /^[0-9A-Fa-f]{8}(-[0-9A-Fa-f]{4}){3}-[0-9A-Fa-f]{12}$/.test(incident) ? incident.toLowerCase() : null,
    occurredAt: parseAppleTime(field('Date/Time') ?? ''),
    process: field('Identifier') ?? field('Process')?.replace(/ \[\d+\]$/, '') ?? null,
    version,
    build,
    os: parseAppleOs(field('OS Version') ?? ''),
    device: appleDevice(field('Hardware Model')),
    exceptions: chain.exceptions,
    threads: chain.threads,
    images: images.map((one) => one.image),
    attributes: {
      'process.signal': signal.type.slice(0, reportLimits.attributeCharacters),
      ...(isThrown && signal.message !== null ? { 'process.end': signal.message.slice(0, reportLimits.attributeCharacters) } : {}),
      ...(information === '' ? {} : { 'apple.applicationInformation': information.slice(0, reportLimits.attributeCharacters) }),
    },
    sections: [
      ...(told.length > 0
        ? [keepSection('Further fields of the report', told.map(([name, value]) => `${name}: ${value}`).join('\n'))]
        : []),
      ...(parts.unread.length > 0 ? [keepSection('Further parts of the report', parts.unread.join('\n'))] : []),
    ],
    notes: chain.notes,
  });
}

const takenFields = new Set(
  'Incident Identifier,Hardware Model,Process,Identifier,Version,Date/Time,OS Version,Exception Type,Exception Subtype,Exception Message,Termination Reason,Termination Description'.split(
    ',',
  ),
);

function split(lines: readonly string[]) {
  const head = new Map<string, string>();
  const stacks: Stack[] = [];
  const names = new Map<number, string>();
  const information: string[] = [];
  const lastException: string[] = [];
  const images: string[] = [];
  const unread: string[] = [];
  const registers: Record<string, string> = {};
  let into: string[] | null = null;
  let inRegisters = false;
  for (const whole of lines) {
    const line = whole.slice(0, longestLine);
    const named = /^Thread (\d{1,6}) name:\s*(.*)$/.exec(line);
    const thread = /^Thread (\d{1,6})( Crashed)?:\s*(.*)$/.exec(line);
    const heading =
      /^(Application Specific (?:Information|Signatures|Backtrace \d+)|Last Exception Backtrace|Binary Images|Filtered syslog|VM Region Info|External Modification Summary|VM Region Summary):/i.exec(
        line,
      );
    if (named) names.set(Number(named[1]), (named[2] as string).trim());
    else if (/^Thread \d{1,6} crashed with .*State/.test(line)) inRegisters = true;
    else if (thread) {
      inRegisters = false;
      const stack: Stack = {
        index: Number(thread[1]),
        lines: [],
        crashed: thread[2] !== undefined,
        name: (thread[3] || names.get(Number(thread[1]))) ?? null,
      };
      stacks.push(stack);
      into = stack.lines;
    } else if (heading) {
      inRegisters = false;
      const title = (heading[1] as string).toLowerCase();
      into =
        title === 'application specific information'
          ? information
          : title === 'last exception backtrace'
            ? lastException
            : title === 'binary images'
              ? images
              : unread;
      if (into === unread) unread.push(line);
    } else if (inRegisters && line.trim() !== '') {
      for (const [, name = '', value = ''] of line.matchAll(/\b([a-z][a-z0-9]{0,9}): (0x[0-9a-f]{1,16})\b/gi))
        if (Object.keys(registers).length < reportLimits.registers) registers[name] = value.toLowerCase();
    } else if (line.trim() === '') {
      inRegisters = false;
      if (into !== information) into = null;
    } else if (into) into.push(line);
    else {
      const pair = /^([A-Z][\w/ -]{0,60}):\s*(.*)$/.exec(line);
      if (pair && !head.has(pair[1] as string) && head.size < 200) head.set(pair[1] as string, (pair[2] as string).trim());
      else unread.push(line);
    }
  }
  // Only the crashed thread prints "Thread n Crashed:", and reports of a kill may print none.
  return { head, stacks, information, lastException, images, unread, registers };
}

interface TextImage {
  readonly image: LoadedImage;
  readonly start: bigint;
  readonly end: bigint;
  readonly shortName: string;
}

/** "0x104b38000 - 0x104b5ffff +Guide arm64  <70b89f27…> /path/Guide" */
function parseImage(line: string): TextImage | null {
  const match =
    /^\s*0x([0-9a-f]{1,16}) -\s+(?:0x([0-9a-f]{1,16})|\?+)\s+\+?(.+?)\s+(?:([a-z][\w-]{2,20})\s+)?<([0-9a-fA-F-]{32,36})>\s*(.*)$/.exec(
      line,
    );
  if (!match) return null;
  const [, from = '0', to, shortName = '', architecture = null, uuid = '', path = ''] = match;
  const start = BigInt(`0x${from}`);
  const end = to === undefined ? start : BigInt(`0x${to}`);
  const size = end >= start ? end - start + 1n : 0n;
  return {
    image: {
      name: (path || shortName).slice(0, reportLimits.nameCharacters),
      symbolId: symbolIdOf(uuid),
      architecture,
      loadAddress: `0x${start.toString(16)}`,
      sizeBytes: size > 0n && size < 1n << 53n ? Number(size) : null,
    },
    start,
    end,
    shortName: shortName.replace(/ \(.*\)$/, ''),
  };
}

function* readFrames(lines: readonly string[], images: readonly TextImage[], firstIsInstruction: boolean): Generator<NativeFrame> {
  let depth = 0;
  for (const line of lines) {
    // A backtrace that nobody named: "(0x1b2c3d4e5 0x1b2c3d4f0 …)".
    if (/^\(0x[0-9a-f]+(?: 0x[0-9a-f]+)*\)\s*$/.test(line)) {
      for (const [address] of line.matchAll(/0x[0-9a-f]{1,16}/g))
        yield locate({ address, shortName: null, depth: depth++, firstIsInstruction }, images);
      continue;
    }
    const match = /^\d{1,5}\s+(\S.*?)\s+(0x[0-9a-f]{1,16})(?:\s+(.*))?$/.exec(line);
    if (!match) continue;
    const frame = locate({ address: match[2] as string, shortName: match[1] as string, depth, firstIsInstruction }, images);
    const inlined = /\[inlined\]/.test(match[3] ?? '');
    yield withWrittenLine({ ...frame, ...readSymbol(match[3] ?? ''), inlined }, line);
    if (!inlined) depth++;
  }
}

interface Located {
  readonly address: string;
  readonly shortName: string | null;
  readonly depth: number;
  readonly firstIsInstruction: boolean;
}

function locate({ address, shortName, depth, firstIsInstruction }: Located, images: readonly TextImage[]): NativeFrame {
  const at = BigInt(address);
  const image = images.find((one) => at >= one.start && at <= one.end) ?? images.find((one) => one.shortName === shortName);
  return {
    runtime: 'native',
    address: `0x${at.toString(16)}`,
    image: image?.image.name ?? shortName,
    symbolId: image?.image.symbolId ?? null,
    imageOffset: image && at >= image.start ? `0x${(at - image.start).toString(16)}` : null,
    imageAddress: null,
    fileOffset: null,
    pointsAt: depth === 0 && firstIsInstruction ? 'instruction' : 'after-call',
    function: null,
    functionOffset: null,
    file: null,
    line: null,
    inlined: false,
  };
}

/** "SoundId.peak(_:) + 84 (SoundId.swift:41)", "main (in Guide) (main.m:12)", or only "0x104b38000 + 16880". */
function readSymbol(text: string): Pick<NativeFrame, 'function' | 'functionOffset' | 'file' | 'line'> {
  const none = { function: null, functionOffset: null, file: null, line: null };
  const source = / \(([^()]{1,500}):(\d{1,9})\)\s*$/.exec(text);
  const rest = (source ? text.slice(0, source.index) : text)
    .replace(/ \[inlined\]/, '')
    .replace(/ \(in [^()]*\)/, '')
    .trim();
  const place = source ? { file: source[1] as string, line: Number(source[2]) } : { file: null, line: null };
  const offset = / \+ (\d{1,15})$/.exec(rest);
  const name = (offset ? rest.slice(0, offset.index) : rest).trim();
  if (name === '' || /^0x[0-9a-f]+$/.test(name) || /^\+?$/.test(name)) return { ...none, ...place };
  return { function: name, functionOffset: offset ? Number(offset[1]) : null, ...place };
}

/** "Namespace SPRINGBOARD, Code 0x8badf00d", "FRONTBOARD 2343432205", "SIGNAL; [0xb]", "SPRINGBOARD, <…0xdead10cc…>". */
function readTermination(text: string | null): Termination | null {
  if (text === null || text === '') return null;
  const namespace = /^(?:Namespace )?<?([A-Z_]{3,30})>?/.exec(text)?.[1] ?? 'termination';
  const hexadecimal = /0x([0-9a-fA-F]{1,16})/.exec(text)?.[1];
  const decimal = /^[A-Z_]{3,30} (\d{1,20})\b/.exec(text)?.[1];
  const code =
    hexadecimal !== undefined ? `0x${hexadecimal.toLowerCase()}` : decimal !== undefined ? `0x${BigInt(decimal).toString(16)}` : null;
  return { namespace, code, indicator: text };
}

/** "4.3.0 (430)" and "430 (4.3.0)" are both written; the one with dots is the version. */
function readVersion(text: string | null): [string | null, string | null] {
  const match = /^(.+?) \((.+)\)$/.exec(text ?? '');
  if (!match) return [text === null || text === '' ? null : text, null];
  const [, first = '', second = ''] = match;
  return !first.includes('.') && second.includes('.') ? [second, first] : [first, second];
}
