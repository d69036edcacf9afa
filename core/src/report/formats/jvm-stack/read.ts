import type { JvmFrame } from '../../frames.ts';
import type { FoundReport } from '../found-report.ts';
import { JvmStackBuilder, type StackRelation } from './builder.ts';
import { parseJvmFrame } from './frame.ts';

/**
 * Reads what `java.lang.Throwable.printStackTrace` and the default uncaught-exception handler write.
 *
 * The text is a tree: `Caused by:` hangs on the exception of the same indentation, `Suppressed:` on the one a tab
 * to the left. `... n more` stands for the last n frames of that parent; they are filled in here, so that every
 * exception has its whole stack. A message is free text and may hold lines that look like any of these.
 */
export function readJvmStacks(lines: readonly string[]): FoundReport[] {
  const text = new TextReader(lines);
  for (const line of isDoubleSpaced(lines) ? lines.filter((one) => one.trim() !== '') : lines) text.take(line);
  return text.stacks
    .filter((stack) => stack.hasFrames)
    .slice(0, crashesPerText)
    .map((stack) => stack.finish());
}

const headerSearchLines = 60;
const crashesPerText = 200;

class TextReader {
  readonly stacks: JvmStackBuilder[] = [];
  private current: JvmStackBuilder | null = null;
  /** Lines since the last frame: a header with the further lines of its message, or talk between two stacks. */
  private pending: string[] = [];
  /** The virtual machine writes frames behind a tab; where a text kept its tabs, a frame without one is quoted in a message. */
  private readonly hasTabs: boolean;

  constructor(lines: readonly string[]) {
    this.hasTabs = lines.some((line) => line.startsWith('\tat '));
  }

  take(line: string): void {
    const announced = readAnnouncement(line);
    if (announced) {
      this.begin(new JvmStackBuilder(announced.thread, announced.header));
      return;
    }
    const inMessage = this.current?.takesMessage === true;
    const relation = readRelation(line);
    if (relation && ((this.current && !inMessage) || isSurelyHeader(relation.header))) {
      // An exception may come without frames of its own.
      if (!this.current || this.pending.some((one) => isQualifiedHeader(one.trim()))) this.beginAbove();
      else if (this.pending.some((one) => one.trim() !== '')) this.takePendingAsMessage();
      if (this.current) {
        this.current.begin(relation, line);
        this.pending = [];
        return;
      }
    }
    const frame = inMessage && this.hasTabs && !line.startsWith('\t') ? null : readFrameLine(line);
    const omitted = /^\s*\.\.\. (\d{1,6}) (?:more|common frames omitted)\s*$/.exec(line);
    if (frame) this.takeFrame(frame, line);
    else if (omitted && this.current?.mayOmit) {
      this.takePendingAsMessage();
      this.current.addOmitted(Number(omitted[1]), line);
      this.pending = [];
    } else if (inMessage) this.current?.continueMessage(line);
    else {
      this.pending.push(line);
      if (this.pending.length > headerSearchLines) this.pending.shift();
    }
  }

  private takeFrame(frame: JvmFrame, line: string): void {
    if (!this.current || this.pending.length > 0) {
      if (!this.beginAbove()) this.takePendingAsMessage();
    }
    this.pending = [];
    this.current?.addFrame(frame, line);
  }

  /** Begins the stack whose header stands in the lines since the last frame; false when there is none. */
  private beginAbove(): boolean {
    const header = findHeader(this.pending);
    if (header) this.begin(new JvmStackBuilder(threadOf(this.pending), header.first, header.further, processOf(this.pending)));
    return header !== null;
  }

  /** The log of other threads may stand inside a stack; other lines between frames belong to a message with a stack in it. */
  private takePendingAsMessage(): void {
    if (!this.pending.every(isLogLine)) this.current?.takeAsMessage(this.pending);
  }

  private begin(stack: JvmStackBuilder): void {
    this.current = stack;
    this.stacks.push(stack);
    this.pending = [];
  }
}

/** Whether somebody's clipboard put an empty line behind each line. */
function isDoubleSpaced(lines: readonly string[]): boolean {
  let apart = 0;
  let together = 0;
  for (let at = 0; at + 2 < lines.length && apart + together < 100; at++) {
    if (!readFrameLine(lines[at] as string)) continue;
    if (readFrameLine(lines[at + 1] as string)) together++;
    else if ((lines[at + 1] as string).trim() === '' && readFrameLine(lines[at + 2] as string)) apart++;
  }
  return apart > 2 && together === 0;
}

const mostQuotationMarks = 50;

/** `Exception in thread "name" type: message`; name and message may hold quotation marks, a type holds none. */
function readAnnouncement(line: string): { thread: string; header: string } | null {
  const begun = /^\s*Exception in thread "/.exec(line)?.[0];
  if (begun === undefined) return null;
  let first: { thread: string; header: string } | null = null;
  let tries = 0;
  for (let end = line.indexOf('" ', begun.length); end >= 0 && tries++ < mostQuotationMarks; end = line.indexOf('" ', end + 1)) {
    const found = { thread: line.slice(begun.length, end), header: line.slice(end + 2) };
    if (isHeader(found.header)) return found;
    first ??= found;
  }
  return first;
}

/** The thread that Android names above the stack of an exception that ended an app. */
const threadOf = (lines: readonly string[]): string | null =>
  lines.map((line) => fatalException.exec(line)?.[1]).findLast((name) => name !== undefined) ?? null;

/** The process, which Android names below that. */
const processOf = (lines: readonly string[]): string | null =>
  lines.map((line) => /^\s*Process: (.+), PID: \d+\s*$/.exec(line)?.[1]).findLast((name) => name !== undefined) ?? null;

/** The line in which Android names the thread that an exception ended. */
export const fatalException = /^\s*(?:\*\*\* )?FATAL EXCEPTION(?: IN SYSTEM PROCESS)?: (.*?)\s*$/;

function readRelation(line: string): StackRelation | null {
  const match = /^(\s*)(Caused by|Suppressed): (.*)$/.exec(line);
  if (!match || !isHeader(match[3] as string)) return null;
  return {
    kind: match[2] === 'Caused by' ? 'cause' : 'suppressed',
    depth: (match[1] as string).length,
    header: match[3] as string,
  };
}

function readFrameLine(line: string): JvmFrame | null {
  if (coroutineBoundary.test(line)) return parseJvmFrame('_COROUTINE._BOUNDARY._(CoroutineDebugging.kt)');
  const match = /^\s*at (\S.*)$/.exec(line);
  return match ? parseJvmFrame((match[1] as string).trimEnd()) : null;
}

/** Older releases of the coroutine library mark where a recovered stack is joined by a frame without a class, of backspaces. */
const coroutineBoundary = /^\s*at [\u2408\s]*\(Coroutine boundary/;

/** What may follow the type of a header: its message, or what a `toString` of the exception's own puts in brackets. */
const behindType = String.raw`(?::.*|[({\[].*)?\s*$`;
const header = new RegExp(String.raw`^\[?[\p{L}_$][\p{L}\p{N}_$.-]*${behindType}`, 'u');
const qualifiedHeader = new RegExp(String.raw`^[\p{L}_$][\p{L}\p{N}_$]*(?:\.[\p{L}_$][\p{L}\p{N}_$-]*)+${behindType}`, 'u');
const namedHeader = new RegExp(String.raw`^[\p{L}_$][\p{L}\p{N}_$]*(?:Exception|Error|Throwable)${behindType}`, 'u');

/** A type name, alone or with a message behind ": ". */
const isHeader = (text: string): boolean => header.test(text);
/** The same, but surely a type: it has a package, or is named like one. A frame that lost its "at" is none. */
const isQualifiedHeader = (text: string): boolean =>
  (qualifiedHeader.test(text) || namedHeader.test(text)) && !(text.includes('(') && parseJvmFrame(text)?.line);
/** A type, or the short name that an obfuscator gives to one. */
const isSurelyHeader = (text: string): boolean => isQualifiedHeader(text) || /^[a-zA-Z]{1,2}\d?(?::.*)?\s*$/.test(text);

/** Lines as loggers begin them: with a time, a level, or something in brackets. */
const isLogLine = (line: string): boolean =>
  /^\s*(?:\d{1,4}[-:./]\d{1,2}[-:./T]|\[|\d{10,}\b|(?:[VDIWEF]\/|TRACE|DEBUG|INFO|WARN|WARNING|ERROR|SEVERE|FINE)\b)/.test(line);

/**
 * The header among the lines before a first frame: the first of the last paragraph that names a type; else, since a message may hold
 * blank lines, the nearest above that does, and else the line right above the frame.
 */
function findHeader(lines: readonly string[]): { first: string; further: string[] } | null {
  const lastBlank = lines.findLastIndex((line) => line.trim() === '');
  const above = (lines.at(-1) ?? '').trim();
  let at = lines.findIndex((line, index) => index > lastBlank && isQualifiedHeader(line.trim()));
  if (at < 0 && isSurelyHeader(above)) at = lines.length - 1;
  if (at < 0) at = lines.findLastIndex((line) => isQualifiedHeader(line.trim()));
  if (at < 0 && isHeader(above)) at = lines.length - 1;
  if (at < 0) return null;
  return { first: (lines[at] as string).trim(), further: lines.slice(at + 1) };
}
