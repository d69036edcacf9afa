import type { JavascriptFrame } from '../../frames.ts';
import type { ReportedException } from '../../report.ts';
import { withWrittenLine } from '../../written-line.ts';
import { ChainBuilder } from '../chain-builder.ts';
import { readThrown } from '../dart-stack/read.ts';
import { type FoundReport, foundReport } from '../found-report.ts';
import { type ComponentRun, findComponentRuns } from './component-stack.ts';
import { parseAtFrame, parseAtSignFrame, parseConsoleFrame } from './frame.ts';
import { dedent, findHeader, namesError, readHeader, saysRejection } from './header.ts';

const reportsPerText = 200;
const headerSearchLines = 60;
/** Lines of frames that are kept to become a message, should they turn out to be quoted in one. */
const quotedLines = 100;
/** A message quotes no more stacks than so many; other lines between frames are talk. */
const mostQuotes = 20;

/**
 * Reads what JavaScript engines write of an error: the dialect with "at" (V8, and byte-code engines for mobile apps), the
 * one with "@" (SpiderMonkey and JavaScriptCore), errors as consoles and inspectors print them, with their fields, causes and
 * lists of errors, component stacks, unhandled rejections, and thrown values that are no errors.
 */
export function readJavascriptStacks(lines: readonly string[]): FoundReport[] {
  const text = new TextReader(lines);
  const runs = new Map(findComponentRuns(lines).map((run) => [run.from, run]));
  for (let at = 0; at < lines.length; ) {
    const run = runs.get(at);
    if (run) text.takeComponents(run, lines[at] as string);
    else text.take(lines[at] as string);
    at = run?.to ?? at + 1;
  }
  const found = text.finish();
  return found.length > 0 ? found : readThrownValue(lines);
}

/** An error whose fields may still follow. */
interface OpenError {
  readonly exception: number;
  readonly indent: number;
  /** The list of errors among its fields that is open: how far it is indented, and how many errors it had. */
  list: { readonly indent: number; members: number } | null;
}

class TextReader {
  private readonly reports: { chain: ChainBuilder; rejected: boolean }[] = [];
  private chain: ChainBuilder | null = null;
  private exception: number | null = null;
  /** Exceptions that are open, by how far their text is indented; outermost first. */
  private open: OpenError[] = [];
  private pending: string[] = [];
  /** The frames of the open exception as they were written. */
  private written: string[] = [];
  /** How often frames of the open exception turned out to be quoted. */
  private quotes = 0;
  /** A console said behind the last frame that fields of the error follow. */
  private hasFields = false;
  private readonly omitted: { chain: ChainBuilder; exception: number; at: number; count: number }[] = [];
  /** Where frames are written with "at", what looks like one with "@" is part of a message. */
  private readonly writesAt: boolean;

  constructor(lines: readonly string[]) {
    this.writesAt = lines.some((line) => /^\s+at /.test(line) && parseAtFrame(line) !== null);
  }

  take(line: string): void {
    const frame = this.parseFrame(line);
    if (!frame) {
      this.takeBetweenFrames(line);
      return;
    }
    if (this.exception === null || this.pending.some((one) => one.trim() !== '')) this.beginOrContinue();
    this.pending = [];
    this.hasFields = / \{\s*$/.test(line);
    if (this.written.length < quotedLines) this.written.push(line);
    this.chain?.frame(this.exception, withWrittenLine(frame, line));
  }

  /** A frame of either dialect; the looser forms count only inside a stack that has begun. */
  private parseFrame(line: string): JavascriptFrame | null {
    // Node prints what an error carries behind its last frame: "at f (a.js:1:2) {", and commas in a list of errors.
    const bare = line.replace(/(?: \{|,)\s*$/, '');
    const isInside = this.exception !== null && this.pending.length === 0;
    const frame = parseAtFrame(bare) ?? (this.writesAt ? null : parseAtSignFrame(bare, !isInside));
    if (frame || this.writesAt) return frame;
    return isInside || namesError(this.pending.at(-1) ?? '') ? parseConsoleFrame(bare) : null;
  }

  /** A stack of components belongs to the error above it, or is a report of its own. */
  takeComponents({ frames }: ComponentRun, heading: string): void {
    if (this.pending.some(namesError)) this.begin();
    if (this.chain)
      this.chain.thread({ name: 'Component stack', id: null, crashed: false, state: null, waitsFor: null, registers: {} }, frames);
    else {
      const said = /^\s*(?:in|at) /.test(heading) ? null : heading.trim() || null;
      const chain = this.newChain(false);
      const exception = chain.begin({ type: 'component stack', message: said });
      for (const frame of frames) chain.frame(exception, frame);
      this.chain = null;
    }
    this.pending = [];
  }

  private takeBetweenFrames(line: string): void {
    const indent = line.length - line.trimStart().length;
    const omitted = /^\s*\.\.\. (\d{1,6}) lines matching cause stack trace \.\.\.(?: \{)?$/.exec(line);
    if (omitted && this.chain && this.exception !== null) {
      const at = this.chain.exceptions[this.exception]?.frames.length ?? 0;
      this.omitted.push({ chain: this.chain, exception: this.exception, at, count: Number(omitted[1]) });
      this.hasFields ||= line.endsWith('{');
      return;
    }
    const skipped = /^\s*\.\.\. skipping (\d{1,9}) frames\s*$/.exec(line);
    if (skipped && this.chain && this.exception !== null) {
      this.chain.leaveOut(this.exception, Number(skipped[1]));
      return;
    }
    if (/^\s*(?:\[errors\]|[\w$]+): \[\s*$/.test(line) && this.exception !== null) {
      const owner = this.ownerAt(indent);
      if (owner) owner.list = { indent, members: 0 };
      return;
    }
    if (/^\s*\],?\s*$/.test(line)) for (const one of this.open) if (one.list && indent <= one.list.indent) one.list = null;
    if (/^(?:\s*Stack:|\s*[\]}],?|Node\.js v[\d.]+)\s*$/.test(line)) return;
    if (this.exception !== null && line.trim() === '' && this.pending.length === 0) return;
    this.pending.push(line);
    if (this.pending.length > headerSearchLines) this.pending.shift();
  }

  /** The error whose fields are indented so far. */
  private ownerAt(indent: number): OpenError | undefined {
    while (this.open.length > 1 && (this.open.at(-1)?.indent ?? 0) >= indent) this.open.pop();
    return this.open.at(-1);
  }

  /** Begins the exception whose header stands in the lines since the last frame, or finds that they are in the midst of a message. */
  private beginOrContinue(): void {
    const [first = ''] = this.pending;
    const mayContinue =
      this.chain !== null && this.exception !== null && this.writesAt && !this.hasFields && !this.pending.some((one) => one.trim() === '');
    if (!mayContinue || this.pending.some(namesError) || isLog(first)) this.begin();
    else if (this.quotes++ < mostQuotes) {
      const { indent } = this.open.at(-1) ?? { indent: 0 };
      const quoted = [...this.written, ...this.pending].map((one) => dedent(one, Math.max(0, indent)));
      this.chain?.takeIntoMessage(this.exception as number, quoted);
      this.written = [];
    }
  }

  private begin(): void {
    const loose = this.takeLooseFrames();
    this.beginException();
    for (const frame of loose) this.chain?.frame(this.exception, frame);
  }

  /** JavaScriptCore prints frames of evaluated code as "rule@", which only a real frame behind them tells from a message. */
  private takeLooseFrames(): JavascriptFrame[] {
    const loose: JavascriptFrame[] = [];
    for (let line = this.pending.at(-1); line !== undefined && this.pending.length > 1; line = this.pending.at(-1)) {
      const frame = parseAtSignFrame(line, false);
      if (!frame) break;
      loose.unshift(withWrittenLine(frame, line));
      this.pending.pop();
    }
    return loose;
  }

  private beginException(): void {
    const { key, indent, lines } = findHeader(this.pending);
    const isField =
      this.chain !== null &&
      this.exception !== null &&
      indent > (this.open[0]?.indent ?? 0) &&
      (this.hasFieldsAt(indent) || key === 'cause');
    if (this.chain && this.exception !== null && (isField || (key === 'cause' && indent === 0))) {
      // "Caused by:" without indentation hangs on the exception before.
      const owner = indent === 0 ? undefined : this.ownerAt(indent);
      const parent = owner?.exception ?? this.exception;
      const { list } = owner ?? {};
      const isMember = list !== null && list !== undefined && indent > list.indent;
      const relation = isMember
        ? list.members++ === 0
          ? 'cause'
          : 'suppressed'
        : key !== null && meansCause.test(key)
          ? 'cause'
          : 'suppressed';
      this.enter(this.chain.begin(readHeader(lines), relation, parent), indent === 0 ? this.open.length : indent);
      return;
    }
    this.enter(this.newChain(this.pending.some(saysRejection)).begin(readHeader(lines)), indent === 0 ? -1 : indent);
  }

  private hasFieldsAt(indent: number): boolean {
    return this.hasFields || this.open.some((one) => one.list !== null && indent > one.list.indent) || this.open.length > 1;
  }

  private newChain(rejected: boolean): ChainBuilder {
    const chain = new ChainBuilder();
    this.chain = chain;
    this.open = [];
    this.reports.push({ chain, rejected });
    return chain;
  }

  private enter(exception: number | null, indent: number): void {
    this.exception = exception;
    this.written = [];
    this.quotes = 0;
    if (exception !== null) this.open.push({ exception, indent, list: null });
  }

  finish(): FoundReport[] {
    this.restoreOmitted();
    return this.reports.slice(0, reportsPerText).map(({ chain, rejected }) =>
      foundReport({
        format: 'javascript-stack',
        kind: 'crash',
        exceptions: chain.exceptions.map(asDartThrew),
        threads: chain.threads,
        attributes: rejected ? { 'javascript.unhandledRejection': true } : {},
        notes: chain.notes,
      }),
    );
  }

  /** Node leaves out of an error's stack what its cause's stack has too, but for the first and the last of the run; innermost first. */
  private restoreOmitted(): void {
    for (const { chain, exception, at, count } of this.omitted.slice(0, 64).reverse()) {
      const stack = chain.exceptions[exception]?.frames ?? [];
      const cause = chain.exceptions.find((one) => one.parent === exception && one.relation === 'cause')?.frames ?? [];
      const before = JSON.stringify(stack[at - 1]);
      const match = cause.findIndex((frame) => JSON.stringify(frame) === before);
      if (match < 0) continue;
      const behind = stack.splice(at);
      for (const frame of [...cause.slice(match + 1, match + 1 + count), ...behind]) chain.frame(exception, frame);
    }
  }
}

/** A program of Dart that was compiled to a script throws every object inside an error of the script, with what it prints as the message. */
function asDartThrew(exception: ReportedException): ReportedException {
  const isDart = exception.frames.some((frame) => frame.runtime === 'javascript' && /\.dart\.m?js(?:$|[?#])/.test(frame.file ?? ''));
  if (!isDart || exception.message === null || !/^(?:Error|thrown value)$/.test(exception.type)) return exception;
  const thrown = readThrown(exception.message);
  return thrown.type === 'thrown object' ? exception : { ...exception, ...thrown };
}

/** Fields of an error that hold what brought it about. */
const meansCause = /cause|original|inner|reason|source|previous|error$/i;

/** Lines of a log, which may stand between the frames of a stack. */
const isLog = (line: string): boolean => /^\s*(?:\d{1,4}[-:./]\d|\[|(?:TRACE|DEBUG|INFO|LOG|WARN|WARNING|ERROR)\b)/.test(line);

/** A value that is no error has no stack; what the engine says of it is all there is. */
function readThrownValue(lines: readonly string[]): FoundReport[] {
  for (const [index, line] of lines.slice(0, 2_000).entries()) {
    const announced =
      /^Uncaught (?:\(in promise\)\s*)?(.+)$/.exec(line) ??
      /^\S{1,500}:\d+:\d+ uncaught exception: (.+)$/.exec(line) ??
      /^Exception: (.+)$/.exec(line) ??
      /rejected with the reason "(.*)"\.?\]/.exec(line) ??
      (/^\(Use `node --trace-uncaught/.test(line) ? [line, lines.slice(0, index).findLast((one) => one.trim() !== '')] : null);
    if (!announced?.[1]) continue;
    const chain = new ChainBuilder();
    chain.begin(readHeader([announced[1]]));
    const attributes: FoundReport['attributes'] = {};
    if (saysRejection(line) || line.includes('rejected with the reason')) attributes['javascript.unhandledRejection'] = true;
    return [foundReport({ format: 'javascript-stack', kind: 'crash', exceptions: chain.exceptions, attributes })];
  }
  return [];
}
