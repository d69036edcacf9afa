/** Texts within quotes, and the bare words that several languages write where JSON has no value. */
const textsAndWords = /"(?:[^"\\]|\\[\s\S])*"|-?\b(?:NaN|Infinity|nan|inf|undefined|None)\b/g;
// biome-ignore lint/suspicious/noControlCharactersInRegex: control characters are what is mended
const controlsInTexts = /[\u0000-\u001f]/g;

/**
 * Parses JSON as programs write it that never read it back: a byte order mark before it, NaN and its like in it, line ends
 * within texts. Throws the SyntaxError of the text as it came when nothing helps.
 */
export function parseLenientJson(text: string): { readonly value: unknown; readonly mended: boolean } {
  try {
    return { value: JSON.parse(text), mended: false };
  } catch (error) {
    try {
      return { value: JSON.parse(mendJson(text)), mended: true };
    } catch {
      throw error;
    }
  }
}

const mendJson = (text: string): string =>
  text
    .replace(/^\ufeff/, '')
    .replace(textsAndWords, (found) =>
      found.startsWith('"')
        ? found.replace(controlsInTexts, (letter) => `\\u${letter.charCodeAt(0).toString(16).padStart(4, '0')}`)
        : 'null',
    );
