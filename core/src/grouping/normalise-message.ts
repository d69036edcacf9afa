/**
 * Replaces what varies between two messages of one cause, so that they compare equal. Each pattern is linear.
 *
 * @example normaliseMessage('no tile 8f3a-11 at /sdcard/a.png after 12 ms') === 'no tile <id> at <path> after <number> ms'
 */
export function normaliseMessage(message: string): string {
  const firstLine = message.split('\n', 1)[0] as string;
  return firstLine
    .slice(0, 500)
    .replace(/"[^"]*"|'[^']*'|`[^`]*`|“[^”]*”/g, '<quoted>')
    .replace(/\b[a-z][a-z0-9+.-]{1,20}:\/\/\S+/gi, '<address>')
    .replace(/\b[\w.+-]{1,64}@[\w-]{1,64}\.[\w.-]{1,64}/g, '<mail>')
    .replace(/(?<![\w<])(?:\/[\w.@%+-]+){2,}\/?/g, '<path>')
    .replace(/\b0x[0-9a-f]+\b|\b[0-9a-f]{8,}(?:-[0-9a-f]{2,})*\b|@[0-9a-f]{4,}\b/gi, '<id>')
    .replace(/(?<![\w<])[-+]?\d+(?:[.,]\d+)*(?![\w>])/g, '<number>')
    .replace(/\d+/g, '<number>')
    .replace(/\s+/g, ' ')
    .trim();
}
