import type { DartFrame } from '../../frames.ts';
import { withWrittenLine } from '../../written-line.ts';
import { ChainBuilder } from '../chain-builder.ts';
import { type FoundReport, foundReport } from '../found-report.ts';

const longestLine = 4_000;
const reportsPerText = 200;
const headerSearchLines = 80;

const plain = (known: Partial<DartFrame>): DartFrame => ({
  runtime: 'dart',
  function: null,
  library: null,
  line: null,
  column: null,
  address: null,
  imageAddress: null,
  symbol: null,
  symbolId: null,
  gap: false,
  ...known,
});

const library = String.raw`(?:dart|package|file|org-dartlang-\w+|https?):[^\s()]+?|[^\s():]+\.dart`;
const symbolic = new RegExp(String.raw`^\s*#(\d{1,5})\s+(.+?) \((${library})(?::(\d{1,9}))?(?::(\d{1,9}))?\)\s*$`);
const terse = new RegExp(String.raw`^\s*(${library})(?: (\d{1,9})(?::(\d{1,9}))?)?\s{1,100}(\S.*)$`);
const compiled = /^\s*#\d{1,5}\s+abs ([0-9a-f]{1,16})(?: (?:virt|unit \d+ virt) ([0-9a-f]{1,16}))?(?: (\S.*?))?\s*$/;
const gapLine = /^\s*(?:#\d{1,5}\s+)?<asynchronous suspension>\s*$|^={3,} asynchronous gap =+\s*$/;

const hexadecimalOf = (digits: string): string => `0x${BigInt(`0x${digits}`).toString(16)}`;
const number = (text: string | undefined): number | null => (text === undefined ? null : Number(text));

/** One frame in any of the forms; `terse` ones ("package:a/b.dart 12:3  f") only where a stack is expected. */
export function parseDartFrame(line: string): DartFrame | null {
  if (line.length > longestLine) return null;
  if (gapLine.test(line)) return plain({ gap: true });
  const named = symbolic.exec(line);
  if (named) return plain({ function: named[2] as string, library: named[3] as string, line: number(named[4]), column: number(named[5]) });
  const machine = compiled.exec(line);
  if (machine)
    return plain({
      address: hexadecimalOf(machine[1] as string),
      imageAddress: machine[2] === undefined ? null : hexadecimalOf(machine[2]),
      symbol: machine[3] ?? null,
    });
  const short = terse.exec(line);
  if (short && (short[2] !== undefined || /^(dart|package):/.test(short[1] as string)))
    return plain({ function: (short[4] as string).trim(), library: short[1] as string, line: number(short[2]), column: number(short[3]) });
  return null;
}

export function formatDartFrame(frame: DartFrame): string {
  if (frame.gap) return '<asynchronous suspension>';
  if (frame.address !== null)
    return ['abs', frame.address.slice(2), frame.imageAddress && `virt ${frame.imageAddress.slice(2)}`, frame.symbol]
      .filter(Boolean)
      .join(' ');
  return `${frame.function ?? '<anonymous>'} (${[frame.library, frame.line, frame.column].filter((part) => part !== null).join(':')})`;
}

/** What the machine-code form tells before its frames; kept by name, since versions of the runtime add more. */
const preamble = /^\s*(pid|os|build_id|isolate_dso_base|isolate_instructions): (.*)$/;

/**
 * Reads the stacks of Dart: symbolic ones, those of code compiled ahead of time (`#00 abs … virt …`, with build id and
 * bases above), and both dialects of the package stack_trace, terse lines and chains with asynchronous gaps.
 */
export function readDartStacks(lines: readonly string[]): FoundReport[] {
  const reports: { chain: ChainBuilder; attributes: Record<string, string>; symbolId: string | null; library: string | null }[] = [];
  let current: (typeof reports)[number] | null = null;
  let pending: string[] = [];
  let told: Record<string, string> = {};
  let lastIndex = -1;
  for (const line of lines) {
    const frame = parseDartFrame(line);
    if (frame) {
      const index = Number(/^\s*#(\d{1,5})/.exec(line)?.[1] ?? -1);
      const fresh = index === 0 && lastIndex > 0 && pending.some((one) => one.trim() !== '');
      if (current === null || fresh || findHeader(pending) !== null) {
        if (frame.gap && current === null) continue;
        const header = findHeader(pending);
        current = { chain: new ChainBuilder(), attributes: told, symbolId: told['dart.buildId'] ?? null, library: header?.library ?? null };
        current.chain.begin(header ?? readThrown(lastSaid(pending) ?? ''));
        reports.push(current);
        told = {};
      }
      pending = [];
      if (index >= 0) lastIndex = index;
      const base = current.attributes['dart.isolateBase'] ?? null;
      current.chain.frame(0, withWrittenLine(placed(frame, current.symbolId, base), line));
      continue;
    }
    const known = preamble.exec(line);
    if (known) {
      if (known[1] === 'build_id') told['dart.buildId'] = (known[2] as string).replaceAll("'", '').trim();
      else for (const pair of line.trim().split(', ')) tell(told, pair);
      continue;
    }
    if (/^(?:\*\*\* ?){5,}\s*$/.test(line) || line.trim() === '' || /^Warning: This VM has been configured/.test(line)) continue;
    pending.push(line);
    if (pending.length > headerSearchLines) pending.shift();
  }
  return reports.slice(0, reportsPerText).map(({ chain, attributes, library: caughtBy }) =>
    foundReport({
      format: 'dart-stack',
      kind: 'crash',
      exceptions: chain.exceptions,
      attributes: caughtBy === null ? attributes : { ...attributes, 'dart.caughtBy': caughtBy },
      notes: chain.notes,
    }),
  );
}

/** Adds what only stands above the frames: the build, and for runtimes that print no place in the file the address it was loaded at. */
function placed(frame: DartFrame, symbolId: string | null, base: string | null): DartFrame {
  if (frame.address === null) return frame;
  const from = base !== null && /^[0-9a-f]{1,16}$/.test(base) ? BigInt(`0x${base}`) : null;
  const offset = frame.imageAddress === null && from !== null ? BigInt(frame.address) - from : -1n;
  return { ...frame, symbolId, imageAddress: offset >= 0n ? `0x${offset.toString(16)}` : frame.imageAddress };
}

const tellable: Readonly<Record<string, string>> = {
  isolate_dso_base: 'dart.isolateBase',
  vm_dso_base: 'dart.vmBase',
  isolate_instructions: 'dart.isolateInstructions',
  vm_instructions: 'dart.vmInstructions',
  os: 'dart.os',
};

function tell(told: Record<string, string>, pair: string): void {
  const [, key = '', value = ''] = /^(\w+): (.*)$/.exec(pair) ?? [];
  const attribute = tellable[key];
  if (attribute) told[attribute] = value.slice(0, 200);
}

const lastSaid = (pending: readonly string[]): string | null => pending.findLast((line) => line.trim() !== '')?.trim() ?? null;

/** The exception that the lines before a stack name, or null when they name none. */
function findHeader(pending: readonly string[]): { type: string; message: string | null; library: string | null } | null {
  const caught = pending.findIndex((line) => /EXCEPTION CAUGHT BY (.*?) ╞/.test(line));
  if (caught >= 0) return readCaught(pending.slice(caught));
  const announced = pending.findIndex((line) => /Unhandled exception:/i.test(line));
  const from = announced >= 0 ? announced : pending.findIndex((line) => typeOfThrown(line.trim()) !== null);
  if (from < 0) return null;
  const lines = pending.slice(from);
  const first = (lines[0] as string).replace(/^.*?Unhandled exception:\s*/i, '');
  return { ...readThrown([first, ...lines.slice(1)].join('\n').trim()), library: null };
}

/** The block that the user-interface framework prints: who caught it, what was thrown while doing what. */
function readCaught(lines: readonly string[]): { type: string; message: string | null; library: string } {
  const by = /EXCEPTION CAUGHT BY (.*?) ╞/.exec(lines[0] as string)?.[1] ?? '';
  const at = lines.findIndex((line) => /^The following .* was thrown/.test(line));
  const thrown = /^The following (.+?) was thrown/.exec(lines[at] ?? '')?.[1] ?? 'unknown';
  const end = lines.findIndex((line) => /^When the exception was thrown, this was the stack/.test(line));
  const message = lines
    .slice(at + 1, end < 0 ? undefined : end)
    .join('\n')
    .trim();
  return { type: thrown.replace(/ object$/, ''), message: message || null, library: by };
}

/**
 * Reads what `toString` of a thrown object printed: "FormatException: Bad number", "RangeError (index): Invalid value", "TimeoutException
 * after 0:00:05", "PlatformException(busy, …)". Some errors of the core library print no type.
 */
export function readThrown(text: string): { type: string; message: string | null } {
  const type = typeOfThrown(text) ?? 'thrown object';
  const message = text.startsWith(type) ? text.slice(type.length).replace(/^:? ?/, '') : text;
  return { type, message: message || null };
}

const named = /^[A-Z_][\w$]*(?:Exception|Error|Failure)(?![\w$])|^(?:Exception|Error)(?![\w$])|^[A-Z_][\w$]*(?=\()/;

function typeOfThrown(text: string): string | null {
  const instance = /^Instance of '([^'\n]{1,200})'/.exec(text)?.[1];
  return named.exec(text)?.[0] ?? instance ?? knownTexts.find(([, pattern]) => pattern.test(text))?.[0] ?? null;
}

/** What `toString` of the core library's errors begins with when it leaves the type out. */
const knownTexts: readonly (readonly [string, RegExp])[] = [
  ['TypeError', /^type '.*' is not a subtype of type '/],
  ['TypeError', /^Null check operator used on a null value/],
  ['TypeError', /^Throw of null/],
  ['StateError', /^Bad state: /],
  ['ArgumentError', /^Invalid argument/],
  ['UnsupportedError', /^Unsupported operation: /],
  ['UnimplementedError', /^UnimplementedError/],
  ['ConcurrentModificationError', /^Concurrent modification during iteration/],
  ['AssertionError', /^(?:'.*': Failed assertion: |Assertion failed\b)/],
  ['StackOverflowError', /^Stack Overflow\b/],
  ['OutOfMemoryError', /^Out of Memory\b/],
  ['JsonUnsupportedObjectError', /^Converting object (?:to an encodable object|did not return an encodable object) failed/],
];
