/**
 * Makes what cannot be printed visible, so that a text is the same in the database, in a page and in a terminal:
 * control characters become their pictures (Unicode block "Control Pictures"), halves of a surrogate pair the
 * replacement character, and every line end a line feed.
 */
export function printable(text: string): string {
  return text
    .replaceAll('\r\n', '\n')
    .replace(/\p{Cc}/gu, (letter) => (letter === '\n' || letter === '\t' ? letter : picture(letter.charCodeAt(0))))
    .replace(/\p{Surrogate}/gu, '\ufffd');
}

const picture = (code: number): string => (code < 32 ? String.fromCharCode(0x2400 + code) : code === 127 ? '\u2421' : '\ufffd');
