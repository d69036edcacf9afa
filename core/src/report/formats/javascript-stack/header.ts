/** What stands in place of a type when no error was thrown, but any other value. */
export const thrownValue = 'thrown value';

const identifier = String.raw`[\p{L}_$][\p{L}\p{N}_$]*(?:\.[\p{L}_$][\p{L}\p{N}_$]*)*`;
/** What a console puts behind a name: the other name of the error, or its code. */
const bracket = String.raw`(?: \[(?<bracket>[\w$ .-]{1,200})\])?`;
/** "RangeError (index): …" is how Dart writes an error, also where it was compiled to a script. */
const behindType = String.raw`(?=:|\s*$|,? stack:|, js engine:| \{| \([\w ]{1,80}\):)`;
/** A name that says by itself that it is one of an error, or that a console has marked as one. */
const errorName = new RegExp(
  `^(?<name>${identifier}(?:Error|Exception|Warning|Violation|Failure)|Error|Invariant Violation|DOMException)${bracket}${behindType}`,
  'u',
);
const markedName = new RegExp(String.raw`^(?<name>${identifier}) \[(?<bracket>${identifier})\]${behindType}`, 'u');
/** Any other name of a class, which only its place right above a stack tells from talk. */
const otherName = new RegExp(String.raw`^(?<name>\p{Lu}[\p{L}\p{N}_$]*)${bracket}(?=: )`, 'u');

const nameAt = (text: string): RegExpExecArray | null => errorName.exec(text) ?? markedName.exec(text);

const prefixes = [
  /^\s+/,
  /^Uncaught (?:\(in promise\)\s*)?(?:exception: )?/,
  /^(?:Unhandled JS Exception|Unhandled (?:promise )?rejection|Exception|JavaScript error: .*, line \d+): /i,
  /^\S{1,500}(?: line \d+ > \w+)?:\d+:\d+ (?:uncaught exception: )?/,
  /^Error: Uncaught (?:\(in promise\))?: /,
];

const stripPrefixes = (line: string): string => prefixes.reduce((rest, prefix) => rest.replace(prefix, ''), line);

/** What stands before an error: the key of the field that holds it, as `[cause]: `, or the words of a log. */
export interface FoundHeader {
  /** Characters that the line is indented by. */
  readonly indent: number;
  /** Name of the field that holds the error; null for the words of a log, or nothing. */
  readonly key: string | null;
  /** The header itself and the further lines of its message. */
  readonly lines: readonly string[];
}

const key = /^\s*(?:\[(cause)\]|\[\d+\]|([\p{L}_$][\p{L}\p{N}_$]*)|'([^'\n]{1,100})'): /u;
const longestLog = 200;

/** Reads a line as the header of an error; null when nothing in it names one. */
function headerIn(line: string): (Pick<FoundHeader, 'indent' | 'key'> & { readonly first: string }) | null {
  const indent = line.length - line.trimStart().length;
  const caused = /^(\s*)Caused by:? (.*)$/.exec(line);
  if (caused) return { indent, key: 'cause', first: caused[2] as string };
  const whole = stripPrefixes(line);
  if (nameAt(whole) || /^\s*Uncaught /.test(line)) return { indent, key: null, first: line };
  const field = key.exec(line);
  if (field?.[1]) return { indent, key: 'cause', first: line.slice(field[0].length) };
  const bracketed = /^\[(.*)\]$/.exec(field ? line.slice(field[0].length) : line.trim());
  if (bracketed && nameAt(bracketed[1] as string)) return { indent, key: field?.[2] ?? null, first: bracketed[1] as string };
  if (field && nameAt(stripPrefixes(line.slice(field[0].length))))
    return { indent, key: field[2] ?? field[3] ?? null, first: line.slice(field[0].length) };
  // "upload failed: TypeError: …"
  for (let at = line.indexOf(': '); at >= 0 && at < longestLog; at = line.indexOf(': ', at + 1)) {
    const rest = line.slice(at + 2);
    if (nameAt(rest)) return { indent, key: null, first: rest };
  }
  return null;
}

/** Whether a line names an error by itself. */
export const namesError = (line: string): boolean => headerIn(line) !== null;

/** The header in the lines above a first frame: from the first that names an error, else the last paragraph's last words. */
export function findHeader(pending: readonly string[]): FoundHeader {
  for (const [at, line] of pending.entries()) {
    const found = headerIn(line);
    if (found)
      return {
        indent: found.indent,
        key: found.key,
        lines: [found.first, ...pending.slice(at + 1).map((one) => dedent(one, found.indent))],
      };
  }
  const last = pending.findLastIndex((line) => line.trim() !== '');
  const paragraph = pending.findLastIndex((line, at) => at < last && line.trim() === '') + 1;
  const named = pending.findIndex((line, at) => at >= paragraph && otherName.test(line.trim()));
  const at = named >= 0 ? named : last;
  const line = pending[at] ?? '';
  return {
    indent: line.length - line.trimStart().length,
    key: null,
    lines: at < 0 ? [] : pending.slice(at, named >= 0 ? undefined : at + 1),
  };
}

/** Objects that hold an error indent the lines of its message with it. */
export const dedent = (line: string, indent: number): string => (line.slice(0, indent).trim() === '' ? line.slice(indent) : line);

/** Type and message of a header. What was thrown without being an error has no type; its text is the message. */
export function readHeader(lines: readonly string[]): { type: string; message: string | null } {
  const [first = '', ...further] = lines;
  const constructed = /^\(new (\w+)\("(.*?)"(?:, .*)?\)\)$/.exec(stripPrefixes(first));
  if (constructed) return { type: constructed[1] as string, message: constructed[2] as string };
  const whole = [stripPrefixes(first), ...further]
    .join('\n')
    .trimEnd()
    .replace(/(?:, js engine: \w+)?,? stack:\s*$/, '');
  const named = nameAt(whole) ?? otherName.exec(whole);
  if (!named) return { type: thrownValue, message: whole || null };
  const message = whole.slice(named[0].length).replace(/^:? ?/, '');
  return { type: moreTelling(named.groups?.name as string, named.groups?.bracket), message: message === '' ? null : message };
}

/** Of the two names that a console prints, `Class [name]`, the one that says more; the other may be a code. */
const moreTelling = (name: string, other: string | undefined): string =>
  other !== undefined && /^(?:Error|DOMException)$/.test(name) && errorName.test(other) ? other : name;

export const saysRejection = (line: string): boolean => /\(in promise\)|unhandled (?:promise )?rejection/i.test(line);
