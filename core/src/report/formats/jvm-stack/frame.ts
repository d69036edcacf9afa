import type { JvmFrame } from '../../frames.ts';

/**
 * Reads one frame as `java.lang.StackTraceElement.toString` writes it:
 * `[loader/][module[@version]/]class.method(File.java:12)`, without the leading "at".
 *
 * Hidden classes carry a slash of their own (`Store$$Lambda/0x0000000800c03000.run`), and loggers may add
 * ` ~[jar:version]` behind. Gives null when the text is no frame.
 */
export function parseJvmFrame(text: string): JvmFrame | null {
  const open = text.indexOf('(');
  const close = text.indexOf(')', open);
  if (open < 3 || close < 0) return null;
  const behind = text.slice(close + 1).trim();
  if (behind !== '' && !/^~?\[[^\]]*\]$/.test(behind)) return null;

  const { module, qualified } = splitModule(text.slice(0, open));
  const dot = qualified.lastIndexOf('.');
  if (dot < 1 || dot === qualified.length - 1 || /[\s"',;`+<>]/.test(qualified.replace(/<(?:cl)?init>$/, ''))) return null;
  const location = text.slice(open + 1, close);
  // Parameters stand here in other runtimes.
  if (/[\s,]/.test(location) && !/^(?:Native [Mm]ethod|Unknown Source(?::\d+)?)$/.test(location)) return null;
  return {
    runtime: 'jvm',
    class: qualified.slice(0, dot),
    method: qualified.slice(dot + 1),
    module,
    ...parseLocation(location),
  };
}

function splitModule(text: string): { module: string | null; qualified: string } {
  let cut = text.lastIndexOf('/');
  if (cut >= 0 && /^(0x[0-9a-f]+|\d+)\./.test(text.slice(cut + 1))) cut = text.lastIndexOf('/', cut - 1);
  if (cut < 0) return { module: null, qualified: text };
  return { module: text.slice(0, cut).replace(/^\/+|\/+$/g, '') || null, qualified: text.slice(cut + 1) };
}

function parseLocation(location: string): Pick<JvmFrame, 'file' | 'line' | 'native'> {
  // The virtual machine writes "Native Method", Android's dump of threads "Native method".
  if (/^Native [Mm]ethod$/.test(location)) return { file: null, line: null, native: true };
  if (location === 'Unknown Source' || location === '') return { file: null, line: null, native: false };
  const match = /^(.*):(\d{1,9})$/.exec(location);
  if (!match) return { file: location, line: null, native: false };
  // "Unknown Source:12": Android prints the line, or the byte-code offset, of a file it does not know.
  const file = match[1] === 'Unknown Source' || match[1] === '' ? null : (match[1] as string);
  return { file, line: Number(match[2]), native: false };
}

/** Writes a frame back the way the virtual machine printed it, without the leading "at". */
export function formatJvmFrame(frame: JvmFrame): string {
  const file = frame.file ?? 'Unknown Source';
  const location = frame.native ? 'Native Method' : frame.line === null ? file : `${file}:${frame.line}`;
  return `${frame.module ? `${frame.module}/` : ''}${frame.class}.${frame.method}(${location})`;
}
