import type { IndexKind } from './index-file.ts';

const keyDigits = 32;
/** An obfuscator prints the whole hash of its mapping, or these first digits of it. */
const mapIdDigits = 7;

const plainId = (id: string): string =>
  id
    .trim()
    .replace(/^\{(.*)\}$/, '$1')
    .replaceAll('-', '')
    .toLowerCase();

/**
 * The part of a symbol id that two spellings of it share: lower-case digits without dashes, of long ones the first 16
 * bytes. Some tools print only those of a 20-byte build id, or add an age behind them. Of a mapping it is the short form of its id.
 */
export function symbolKey(kind: IndexKind, id: string): string {
  const plain = plainId(id);
  return /^[0-9a-f]+$/.test(plain) ? plain.slice(0, kind === 'mapping' ? mapIdDigits : keyDigits) : plain;
}

/**
 * The keys under which the file of a printed id may be stored: as printed and, of 16 bytes, with the byte order of a
 * GUID's first three numbers turned round, as tools that come from Windows print a build id.
 */
export function wantedKeys(kind: IndexKind, id: string): string[] {
  const key = symbolKey(kind, id);
  if (kind === 'mapping' || !/^[0-9a-f]{32}$/.test(key)) return [key];
  const turned = (from: number, to: number) => (key.slice(from, to).match(/../g) as string[]).reverse().join('');
  return [key, turned(0, 8) + turned(8, 12) + turned(12, 16) + key.slice(16)];
}

/** Whether a file with one id is the one that frames ask for with the other. */
export function isWantedId(kind: IndexKind, wanted: string, id: string): boolean {
  if (kind !== 'mapping') return wantedKeys(kind, wanted).includes(symbolKey(kind, id));
  const [one, other] = [plainId(wanted), plainId(id)];
  return one === other || (Math.min(one.length, other.length) >= mapIdDigits && (one.startsWith(other) || other.startsWith(one)));
}
