// The surrogates of a pair match too; the slow way then leaves the pair as it is.
// biome-ignore lint/suspicious/noControlCharactersInRegex: control characters are what is looked for
const perhapsUnprintable = /[\u0000-\u001f\u007f-\u009f\ud800-\udfff]/;

/**
 * Makes what cannot be printed visible, so that a text is the same in the database, in a page and in a terminal:
 * control characters become their pictures (Unicode block "Control Pictures"), halves of a surrogate pair the
 * replacement character, and every line end a line feed.
 */
export function printable(text: string): string {
  // Nearly every text is printable already, and every text of a report comes by here.
  if (!perhapsUnprintable.test(text)) return text;
  return text
    .replaceAll('\r\n', '\n')
    .replace(/\p{Cc}/gu, (letter) => (letter === '\n' || letter === '\t' ? letter : picture(letter.charCodeAt(0))))
    .replace(/\p{Surrogate}/gu, '\ufffd');
}

const picture = (code: number): string => (code < 32 ? String.fromCharCode(0x2400 + code) : code === 127 ? '\u2421' : '\ufffd');
