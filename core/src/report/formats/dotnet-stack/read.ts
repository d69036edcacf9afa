import type { DotnetFrame } from '../../frames.ts';
import { withWrittenLine } from '../../written-line.ts';
import { ChainBuilder } from '../chain-builder.ts';
import { type FoundReport, foundReport } from '../found-report.ts';

const longestLine = 4_000;
const reportsPerText = 200;
const headerSearchLines = 60;

/**
 * Reads one frame as `System.Exception.ToString` writes it, in the forms of both runtimes:
 * `at Type.Method(parameters) in file:line 12`, `… in module:token 0x6000005+0x1a`, and `at Type.Method (parameters)
 * [0x0001a] in file:12`, where `<module version id>:0` stands for a file that is not known.
 */
export function parseDotnetFrame(line: string): DotnetFrame | null {
  if (line.length > longestLine) return null;
  const match =
    /^\s*(?:at|bei|à|в|en|a) ([^\s(][^(]*?) ?\(([^()]*(?:\([^()]*\)[^()]*)*)\)(?: \[0x([0-9a-f]{1,8})\])?(?: in (.*?))?\s*$/.exec(line);
  if (!match) return null;
  const [, method = '', parameters = '', offset, where] = match;
  if (!/[.:+]/.test(method) || /[\s"';]/.test(method.replace(/\[[^\]]*\]|<[^>]*>|`\d+/g, ''))) return null;
  const frame: DotnetFrame = {
    runtime: 'dotnet',
    method,
    parameters,
    file: null,
    line: null,
    ilOffset: offset === undefined ? null : Number.parseInt(offset, 16),
    token: null,
    module: null,
    rethrown: false,
  };
  if (where === undefined) return looksLikeParameters(parameters) ? frame : null;
  const token = /^(.*):token 0x([0-9a-fA-F]{1,8})(?:\+0x([0-9a-fA-F]{1,8}))?$/.exec(where);
  if (token)
    return {
      ...frame,
      module: token[1] as string,
      token: `0x${(token[2] as string).toLowerCase()}`,
      ilOffset: token[3] === undefined ? null : Number.parseInt(token[3], 16),
    };
  const module = /^<([0-9a-fA-F#]{1,80})>:0$/.exec(where);
  if (module) return { ...frame, module: module[1] as string };
  const place = /^(.*):(?:[\p{L}]{1,20} )?(\d{1,9})$/u.exec(where);
  return place ? { ...frame, file: place[1] as string, line: Number(place[2]) } : null;
}

/** "String name, Int32 at", "T", or nothing; a Java frame has "Store.java:12" in that place, a script its address. */
const looksLikeParameters = (text: string): boolean =>
  text === '' ||
  (!/\.(java|kt|js|ts|scala|groovy)\b|:\d|^(Native Method|Unknown Source|native|<anonymous>)$/.test(text) && /^[\p{L}_$<]/u.test(text));

export function formatDotnetFrame(frame: DotnetFrame): string {
  const where = frame.file !== null ? ` in ${frame.file}:line ${frame.line}` : '';
  const unnamed =
    frame.file === null && frame.module !== null
      ? frame.token !== null
        ? ` in ${frame.module}:token ${frame.token}+0x${(frame.ilOffset ?? 0).toString(16)}`
        : ` [0x${(frame.ilOffset ?? 0).toString(16).padStart(5, '0')}] in <${frame.module}>:0`
      : '';
  return `${frame.method}(${frame.parameters ?? ''})${where}${unnamed}`;
}

const typeName = '[\\p{L}_][\\p{L}\\p{N}_]*(?:[.+][\\p{L}_][\\p{L}\\p{N}_`]*)*(?:\\[[^\\]]*\\])?';
const header = new RegExp(String.raw`^(${typeName})(?: \(0x[0-9A-Fa-f]+\))?(?:: (.*))?$`, 'u');
const announcements =
  /^(?:.*?\[ERROR\] FATAL )?(?:Unhandled exception\. |UNHANDLED EXCEPTION: |Unhandled Exception: ?|FATAL UNHANDLED EXCEPTION: )/i;
const endOfInner = /^\s*--- (?:End of inner exception stack trace|Ende der internen Ausnahmestapelüberwachung) ---/;
const previousLocation = /^\s*--- End of stack trace from previous location/;
const aggregated = /^\s*---> \(Inner Exception #\d+\) (.*)$/;

/**
 * Reads the text of exceptions with their inner ones. `Outer: message ---> Inner: message` names them outermost first,
 * the stacks follow innermost first, each inner one closed by its marker. An aggregate lists its members again with
 * numbers: the first is the inner exception that was read already, the others are kept as suppressed.
 */
export function readDotnetStacks(lines: readonly string[]): FoundReport[] {
  const reader = new StackReader();
  for (const line of lines) reader.read(line);
  return withoutRepetition(reader.reports)
    .slice(0, reportsPerText)
    .map((one) => foundReport({ format: 'dotnet-stack', kind: 'crash', exceptions: one.exceptions, notes: one.notes }));
}

class StackReader {
  readonly reports: ChainBuilder[] = [];
  private chain: ChainBuilder | null = null;
  /** Exceptions whose stacks are still to come, innermost last. */
  private unfinished: number[] = [];
  private current: number | null = null;
  private rethrown = false;
  /** The lines since the last one that was understood. */
  private pending: string[] = [];
  /** Inside a numbered member of an aggregate; null outside, -1 for the first, which is there already. */
  private member: number | null = null;

  read(line: string): void {
    const frame = parseDotnetFrame(line.trimEnd().replace(/<---$/, ''));
    if (frame) {
      this.frame(frame, line);
      return;
    }
    if (this.chain && this.mark(line, this.chain)) {
      this.pending = [];
      return;
    }
    if (line.trim() === '' && this.current !== null && this.pending.length === 0) return;
    this.pending.push(line);
    if (this.pending.length > headerSearchLines) this.pending.shift();
  }

  private frame(frame: DotnetFrame, line: string): void {
    const hasText = this.pending.some((one) => one.trim() !== '');
    const begins = this.current === null || (hasText && looksLikeHeader(this.pending));
    const names = begins ? findHeaders(this.pending) : [];
    this.pending = [];
    if (begins && names.length === 0) return;
    if (begins) this.begin(names);
    if (this.member !== -1) this.chain?.frame(this.current, withWrittenLine(this.rethrown ? { ...frame, rethrown: true } : frame, line));
    this.rethrown = false;
  }

  /** Begins a report of an exception and its inner ones, outermost first. */
  private begin(names: readonly { type: string; message: string | null }[]): void {
    const chain = new ChainBuilder();
    this.chain = chain;
    this.reports.push(chain);
    this.unfinished = [];
    for (const [index, name] of names.entries()) {
      const exception = index === 0 ? chain.begin(name) : chain.begin(name, 'cause', this.unfinished.at(-1) ?? null);
      if (exception !== null) this.unfinished.push(exception);
    }
    this.current = this.unfinished.at(-1) ?? null;
    this.member = null;
  }

  /** Follows a line that says where a stack ends, was thrown again, or belongs to a member of an aggregate. */
  private mark(line: string, chain: ChainBuilder): boolean {
    if (endOfInner.test(line)) {
      this.unfinished.pop();
      this.current = this.unfinished.at(-1) ?? this.current;
      return true;
    }
    if (previousLocation.test(line)) {
      this.rethrown = true;
      return true;
    }
    const numbered = aggregated.exec(line);
    if (!numbered) return false;
    if (line.includes('#0)')) this.member = -1;
    else this.current = this.member = chain.begin(readHeader(numbered[1] as string), 'suppressed', 0);
    return true;
  }
}

const looksLikeHeader = (lines: readonly string[]): boolean => findHeaders(lines).length > 0;

/** "Outer: message ---> Inner: message" across the lines before the first frame, outermost first. */
function findHeaders(pending: readonly string[]): { type: string; message: string | null }[] {
  const start = pending.findIndex((line) => isQualified(line.replace(announcements, '').trim()));
  if (start < 0) return [];
  const whole = pending.slice(start).join('\n').replace(announcements, '').trim();
  return whole.split(/ ---> /).map(readHeader);
}

const isQualified = (line: string): boolean => {
  const found = header.exec(line.split(' ---> ', 1)[0] as string);
  return found !== null && (/[.]/.test(found[1] as string) || /(Exception|Error)$/.test(found[1] as string));
};

function readHeader(text: string): { type: string; message: string | null } {
  const [first = '', ...further] = text.trim().split('\n');
  const found = header.exec(first);
  if (!found) return { type: 'unknown', message: text.trim() || null };
  const message = [found[2] ?? '', ...further].join('\n').trim();
  return { type: found[1] as string, message: message === '' ? null : message };
}

/** Mono writes an unhandled exception twice, once for the console and once for the log. */
function withoutRepetition(reports: readonly ChainBuilder[]): ChainBuilder[] {
  let before = '';
  return reports.filter((one) => {
    const text = JSON.stringify(one.exceptions);
    const repeated = text === before;
    before = text;
    return !repeated;
  });
}
