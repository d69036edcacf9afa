const keyDigits = 32;

/**
 * The part of a symbol id that two spellings of it share: lower-case digits without dashes, of long ones the first 16
 * bytes. Some tools print only those of a 20-byte build id, or add an age behind them.
 */
export function symbolKey(id: string): string {
  const plain = id
    .trim()
    .replace(/^\{(.*)\}$/, '$1')
    .replaceAll('-', '')
    .toLowerCase();
  return /^[0-9a-f]+$/.test(plain) ? plain.slice(0, keyDigits) : plain;
}

/**
 * The keys under which the file of a printed id may be stored: as printed and, of 16 bytes, with the byte order of a
 * GUID's first three numbers turned round, as tools that come from Windows print a build id.
 */
export function wantedKeys(id: string): string[] {
  const key = symbolKey(id);
  if (!/^[0-9a-f]{32}$/.test(key)) return [key];
  const turned = (from: number, to: number) => (key.slice(from, to).match(/../g) as string[]).reverse().join('');
  return [key, turned(0, 8) + turned(8, 12) + turned(12, 16) + key.slice(16)];
}
