import type { JavascriptFrame } from '../../frames.ts';

/** A frame of a script of which only some things are known. */
export const plainJavascriptFrame = (known: Partial<JavascriptFrame>): JavascriptFrame => ({
  runtime: 'javascript',
  function: null,
  file: null,
  line: null,
  column: null,
  bytecode: false,
  native: false,
  async: false,
  evalOrigin: null,
  ...known,
});

const longestLine = 4_000;
const place = /^(.*?):(\d{1,9}):(\d{1,9})$/;
const placeWithoutColumn = /^(.*\.\w{1,10}):(\d{1,9})$/;

type Location = Pick<JavascriptFrame, 'file' | 'line' | 'column' | 'bytecode' | 'native' | 'evalOrigin'>;
const nowhere: Location = { file: null, line: null, column: null, bytecode: false, native: false, evalOrigin: null };

/** What stands between the parentheses, or after the @; null when it is no place in a script. */
function parseLocation(text: string): Location | null {
  if (text === 'native' || text === '[native code]') return { ...nowhere, native: true };
  if (text === '<anonymous>' || text === 'unknown location' || text === 'unknown:0:0' || /^index \d+$/.test(text)) return nowhere;
  const address = /^address at (.*):(\d{1,9}):(\d{1,15})$/.exec(text);
  if (address) return { ...nowhere, file: address[1] as string, line: Number(address[2]), column: Number(address[3]), bytecode: true };
  const module = /^(wasm:\/\/.*|.*\.wasm):(?:wasm-function\[\d+\]):0x([0-9a-f]{1,12})$/.exec(text);
  if (module) return { ...nowhere, file: module[1] as string, line: 1, column: Number.parseInt(module[2] as string, 16), bytecode: true };
  // V8: "eval at outer (script.js:1:2), <anonymous>:3:4"; the last place counts within the evaluated text.
  if (text.startsWith('eval at ')) {
    const comma = text.lastIndexOf(', ');
    const inner = comma < 0 ? null : place.exec(text.slice(comma + 2));
    if (!inner) return null;
    return { ...nowhere, line: Number(inner[2]), column: Number(inner[3]), evalOrigin: text.slice('eval at '.length, comma) };
  }
  // SpiderMonkey: "script.js line 40 > eval:1:25".
  const nested = /^(.*) line \d+ > (?:eval|Function|scriptElement|injectedScript)(?: line \d+ > \w+)*:(\d{1,9}):(\d{1,9})$/.exec(text);
  if (nested) return { ...nowhere, line: Number(nested[2]), column: Number(nested[3]), evalOrigin: text.slice(0, text.lastIndexOf(' > ')) };
  const found = place.exec(text) ?? /^()(\d{1,9}):(\d{1,9})$/.exec(text) ?? placeWithoutColumn.exec(text);
  if (!found) return null;
  return { ...nowhere, file: found[1] || null, line: Number(found[2]), column: found[3] === undefined ? null : Number(found[3]) };
}

/**
 * Reads a frame of the dialect that V8 and the engines after it write: `at name (place)`, `at place`, with `async`,
 * `new` and `[as alias]`. The byte-code form `address at file:segment:offset` is one of its places.
 */
export function parseAtFrame(line: string): JavascriptFrame | null {
  if (line.length > longestLine) return null;
  const match = /^\s*at (\S.*)$/.exec(line.trimEnd());
  if (!match) return null;
  let rest = match[1] as string;
  const isAsync = rest.startsWith('async ');
  if (isAsync) rest = rest.slice('async '.length);
  const open = rest.indexOf(' (');
  if (open > 0 && rest.endsWith(')')) {
    const location = parseLocation(rest.slice(open + 2, -1));
    return location && plainJavascriptFrame({ ...location, function: nameOf(rest.slice(0, open)), async: isAsync });
  }
  const location = rest.includes('(') && !rest.startsWith('eval at ') ? null : parseLocation(rest);
  if (!location || (location.line === null && !location.native)) return null;
  return plainJavascriptFrame({ ...location, async: isAsync });
}

/**
 * Reads a frame of the dialect of SpiderMonkey and JavaScriptCore: `name@place`, `async*name@place`, and between other
 * frames also a bare place. `strict` asks for a place that can only be a frame's.
 */
export function parseAtSignFrame(line: string, strict: boolean): JavascriptFrame | null {
  const text = line.trim();
  if (text === '' || text.length > longestLine) return null;
  const at = findAt(text);
  if (at < 0) {
    if (strict) return null;
    if (text === '[native code]') return plainJavascriptFrame({ native: true });
    return /^(https?|file|capacitor|app|asset|content):\/\/\S+:\d+:\d+$/.test(text)
      ? plainJavascriptFrame({ ...(parseLocation(text) ?? {}) })
      : null;
  }
  const before = text.slice(0, at);
  const isAsync = /^(?:async\*|\w+\*)/.test(before);
  const called = before.replace(/^\w+\*/, '');
  const behind = text.slice(at + 1);
  if (behind === '')
    return strict || /\s/.test(called.replace(/ code$/, '')) ? null : plainJavascriptFrame({ function: nameOf(called), async: isAsync });
  const location = parseLocation(behind);
  if (!location || (location.line === null && !location.native)) return null;
  // "mail me@host: 12" is no frame; a name has no blank, but for the engines' own words.
  if (/\s/.test(called) && !/^(global|module|eval|function|anonymous) code$|^(get|set|async|bound) \S+$/i.test(called)) return null;
  return plainJavascriptFrame({ ...location, function: nameOf(called), async: isAsync });
}

const file = String.raw`(?:[a-z][\w+.-]{1,30}:\/\/\S+?|\S+?\.\w{1,10}(?:\?\S*?)?)`;
/** What people copy out of the consoles of browsers, each of which words its frames in its own way. */
const consoleFrames = [
  // "	trim (feeder.js:30:28)"
  new RegExp(String.raw`^\s+(?<name>\S.{0,300}?) \((?<file>${file}):(?<line>\d{1,9})(?::(?<column>\d{1,9}))?\)$`),
  // "    trim https://larkfield.example/feeder.js:30:28"
  /^\s+(?<name>\S{1,300}) (?<file>[a-z][\w+.-]{1,30}:\/\/\S+?):(?<line>\d{1,9})(?::(?<column>\d{1,9}))?$/,
  // "trim @ feeder.js:30"
  new RegExp(String.raw`^\s*(?<name>\S.{0,300}?)\s@\s(?<file>${file}):(?<line>\d{1,9})(?::(?<column>\d{1,9}))?$`),
];

/** Reads a frame as the console of a browser shows it; only behind a header can it be told from talk. */
export function parseConsoleFrame(line: string): JavascriptFrame | null {
  if (line.length > longestLine || /^\s*at /.test(line)) return null;
  for (const pattern of consoleFrames) {
    const found = pattern.exec(line)?.groups;
    if (!found) continue;
    const name = (found.name as string).replace(/^\((anonymous)(?: function)?\)$/, '<$1>').replace(/^Global Code$/, 'global code');
    return plainJavascriptFrame({
      function: nameOf(name),
      file: found.file as string,
      line: Number(found.line),
      column: found.column === undefined ? null : Number(found.column),
    });
  }
  return null;
}

/** The @ between name and place: the first one, since addresses may hold more ("…/@scope/pkg.js:1:2"). */
const findAt = (text: string): number => text.indexOf('@');

/** A name as printed without what only says how it was called; null for functions without a name. */
function nameOf(printed: string): string | null {
  const name = printed.replace(/ \[as [^\]]*\]$/, '').trim();
  return name === '' || name === '<anonymous>' || name === 'anonymous' || name === '<unknown>' ? null : name;
}

/** Writes a frame back the way engines print it, without the leading "at". */
export function formatJavascriptFrame(frame: JavascriptFrame): string {
  const at = [frame.file, frame.line, frame.column].filter((part) => part !== null).join(':');
  const where = frame.native
    ? 'native'
    : frame.bytecode
      ? `address at ${at}`
      : frame.evalOrigin !== null
        ? `eval at ${frame.evalOrigin}, <anonymous>:${frame.line}:${frame.column}`
        : at || '<anonymous>';
  return `${frame.async ? 'async ' : ''}${frame.function === null ? where : `${frame.function} (${where})`}`;
}
