import { ChainBuilder } from './chain-builder.ts';
import { type FoundReport, foundReport } from './found-report.ts';
import type { JavascriptFrame } from './frames.ts';
import { parseAtFrame, parseAtSignFrame } from './javascript-frame.ts';

const reportsPerText = 200;
const headerSearchLines = 60;

/**
 * Reads what JavaScript engines write of an error: the dialect with "at" (V8, and byte-code engines for mobile apps), the
 * one with "@" (SpiderMonkey and JavaScriptCore), `[cause]` and `[errors]` as Node prints them, "Caused by:", component
 * stacks, unhandled rejections, and thrown values that are no errors.
 */
export function readJavascriptStacks(lines: readonly string[]): FoundReport[] {
  const text = new TextReader();
  for (const line of lines) text.take(line);
  const found = text.finish();
  return found.length > 0 ? found : readThrownValue(lines);
}

/** A frame of either dialect; the looser forms count only inside a stack that has begun. */
function parseFrame(line: string, insideStack: boolean): JavascriptFrame | null {
  // Node prints what an error carries behind its last frame: "at f (a.js:1:2) {", and commas in a list of errors.
  const bare = line.replace(/(?: \{|,)\s*$/, '');
  return parseAtFrame(bare) ?? parseAtSignFrame(bare, !insideStack);
}

/** "in List (created by App)", "in List (at screen.js:12)", "in List": one element of a component stack. */
function parseComponent(line: string): JavascriptFrame | null {
  const match = /^\s+in ([\w$.]{1,200})(?: \((?:created by [\w$.]+|at ([^()]{1,1000}?):(\d{1,9}))\))?\s*$/.exec(line);
  if (!match) return null;
  const [, name = null, file = null, at] = match;
  return {
    runtime: 'javascript',
    function: name,
    file,
    line: at ? Number(at) : null,
    column: null,
    bytecode: false,
    native: false,
    async: false,
    evalOrigin: null,
  };
}

const componentHeader = /^\s*(?:The above error occurred in|This error is located at:|Component Stack:|Error Component Stack)/i;

class TextReader {
  private readonly reports: { chain: ChainBuilder; rejected: boolean }[] = [];
  private chain: ChainBuilder | null = null;
  private exception: number | null = null;
  private components: JavascriptFrame[] | null = null;
  /** Exceptions that are open, by how far their text is indented; outermost first. */
  private open: { exception: number; indent: number }[] = [];
  private aggregate: { parent: number; indent: number; members: number } | null = null;
  private pending: string[] = [];
  private readonly omitted: { chain: ChainBuilder; exception: number; at: number; count: number }[] = [];

  take(line: string): void {
    const component = this.components ? (parseComponent(line) ?? parseFrame(line, true)) : null;
    if (component) {
      this.components?.push(component);
      return;
    }
    if (this.components && this.components.length > 0 && line.trim() !== '') this.endComponents();
    if (this.components === null && (componentHeader.test(line) || (this.chain && parseComponent(line)))) {
      this.components = [];
      const first = parseComponent(line);
      if (first) this.components.push(first);
      return;
    }
    if (this.components) return;
    const frame = parseFrame(line, this.exception !== null && this.pending.length === 0);
    if (frame) {
      if (this.exception === null || this.pending.some((one) => one.trim() !== '')) this.begin();
      this.pending = [];
      if (this.chain && this.exception !== null) this.chain.frame(this.exception, frame);
      return;
    }
    this.takeBetweenFrames(line);
  }

  private takeBetweenFrames(line: string): void {
    const indent = line.length - line.trimStart().length;
    const omitted = /^\s*\.\.\. (\d{1,6}) lines matching cause stack trace \.\.\.$/.exec(line);
    if (omitted && this.chain && this.exception !== null) {
      const at = this.chain.exceptions[this.exception]?.frames.length ?? 0;
      this.omitted.push({ chain: this.chain, exception: this.exception, at, count: Number(omitted[1]) });
      return;
    }
    const skipped = /^\s*\.\.\. skipping (\d{1,9}) frames\s*$/.exec(line);
    if (skipped && this.chain && this.exception !== null) {
      this.chain.leaveOut(this.exception, Number(skipped[1]));
      return;
    }
    if (/^\s*\[errors\]: \[\s*$/.test(line) && this.exception !== null) {
      this.aggregate = { parent: this.parentAt(indent), indent, members: 0 };
      return;
    }
    if (this.aggregate && /^\s*\],?\s*$/.test(line) && indent <= this.aggregate.indent) {
      this.aggregate = null;
      return;
    }
    if (/^(?:\s*Stack:|\s*[\]}],?|Node\.js v[\d.]+)\s*$/.test(line)) return;
    if (this.exception !== null && line.trim() === '' && this.pending.length === 0) return;
    this.pending.push(line);
    if (this.pending.length > headerSearchLines) this.pending.shift();
  }

  private parentAt(indent: number): number {
    while (this.open.length > 1 && (this.open.at(-1)?.indent ?? 0) >= indent) this.open.pop();
    return this.open.at(-1)?.exception ?? 0;
  }

  /** Begins the exception whose header stands in the lines since the last frame. */
  private begin(): void {
    const loose = this.takeLooseFrames();
    this.beginException();
    for (const frame of loose) if (this.chain) this.chain.frame(this.exception, frame);
  }

  /** JavaScriptCore prints frames of evaluated code as "rule@", which only a real frame behind them tells from a message. */
  private takeLooseFrames(): JavascriptFrame[] {
    const loose: JavascriptFrame[] = [];
    for (let line = this.pending.at(-1); line !== undefined && this.pending.length > 1; line = this.pending.at(-1)) {
      const frame = parseAtSignFrame(line, false);
      if (!frame) break;
      loose.unshift(frame);
      this.pending.pop();
    }
    return loose;
  }

  private beginException(): void {
    const header = findHeader(this.pending);
    const cause = /^(\s*)(?:\[cause\]: |Caused by:? )(.*)$/.exec(header.lines[0] ?? '');
    if (cause && this.chain && this.exception !== null) {
      const indent = (cause[1] as string).length || this.open.length;
      const parent = cause[1] === '' ? this.exception : this.parentAt(indent);
      this.enter(this.chain.begin(readHeader([cause[2] as string, ...header.lines.slice(1)]), 'cause', parent), indent);
      return;
    }
    const indent = (header.lines[0] ?? '').search(/\S/);
    if (this.aggregate && this.chain && indent > this.aggregate.indent) {
      const { parent } = this.aggregate;
      this.parentAt(indent);
      const relation = this.aggregate.members++ === 0 ? 'cause' : 'suppressed';
      this.enter(this.chain.begin(readHeader(header.lines), relation, parent), indent);
      return;
    }
    this.chain = new ChainBuilder();
    this.aggregate = null;
    this.open = [];
    this.reports.push({ chain: this.chain, rejected: this.pending.some(saysRejection) });
    this.enter(this.chain.begin(readHeader(header.lines)), -1);
  }

  private enter(exception: number | null, indent: number): void {
    this.exception = exception;
    if (exception !== null) this.open.push({ exception, indent });
  }

  private endComponents(): void {
    if (this.chain && this.components && this.components.length > 0)
      this.chain.thread({ name: 'Component stack', id: null, crashed: false, state: null, waitsFor: null, registers: {} }, this.components);
    this.components = null;
  }

  finish(): FoundReport[] {
    this.endComponents();
    this.restoreOmitted();
    return this.reports.slice(0, reportsPerText).map(({ chain, rejected }) =>
      foundReport({
        format: 'javascript-stack',
        kind: 'crash',
        exceptions: chain.exceptions,
        threads: chain.threads,
        attributes: rejected ? { 'javascript.unhandledRejection': true } : {},
        notes: chain.notes,
      }),
    );
  }

  /** Node leaves out of an error's stack what its cause's stack has too, but for the first and the last of the run. */
  private restoreOmitted(): void {
    for (const { chain, exception, at, count } of this.omitted.slice(0, 64)) {
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

const saysRejection = (line: string): boolean => /\(in promise\)|unhandled (?:promise )?rejection/i.test(line);

const errorType = /^(?:[\p{L}_$][\p{L}\p{N}_$.]*(?:Error|Exception|Warning|Violation)|Error|Invariant Violation)(?=:|\s*$|, stack:| \[)/u;
const prefixes = [
  /^\s+/,
  /^Uncaught (?:\(in promise\)\s*)?(?:exception: )?/,
  /^(?:Unhandled JS Exception|Unhandled (?:promise )?rejection|Exception|JavaScript error: .*, line \d+): /i,
  /^\S{1,500}(?: line \d+ > \w+)?:\d+:\d+ (?:uncaught exception: )?/,
  /^Error: Uncaught (?:\(in promise\))?: /,
];

const stripPrefixes = (line: string): string => prefixes.reduce((rest, prefix) => rest.replace(prefix, ''), line);

/** The lines of a header: from the first that names an error, else the last that says anything. */
function findHeader(pending: readonly string[]): { lines: string[] } {
  const named = pending.findIndex(
    (line) =>
      errorType.test(stripPrefixes(line.replace(/^\s*(?:\[cause\]: |Caused by:? )/, ''))) || /^\s*(?:\[cause\]: |Uncaught )/.test(line),
  );
  if (named >= 0) return { lines: pending.slice(named) };
  const last = pending.findLastIndex((line) => line.trim() !== '');
  return { lines: last < 0 ? [] : [pending[last] as string] };
}

/** Type and message of a header. What was thrown without being an error has no type; its text is the message. */
function readHeader(lines: readonly string[]): { type: string; message: string | null } {
  const [first = '', ...further] = lines;
  const constructed = /^\(new (\w+)\("(.*?)"(?:, .*)?\)\)$/.exec(stripPrefixes(first));
  if (constructed) return { type: constructed[1] as string, message: constructed[2] as string };
  const whole = [stripPrefixes(first), ...further]
    .join('\n')
    .trimEnd()
    .replace(/,? stack:\s*$/, '');
  const type = errorType.exec(whole)?.[0];
  if (type === undefined) return { type: thrownValue, message: whole || null };
  const message = whole.slice(type.length).replace(/^(?: \[[\w-]+\])?:? ?/, '');
  return { type, message: message === '' ? null : message };
}

/** What stands in place of a type when no error was thrown, but any other value. */
export const thrownValue = 'thrown value';

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
