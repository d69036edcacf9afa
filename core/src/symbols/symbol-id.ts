import { familyOf, type SymbolFileKind } from './families.ts';

const keyDigits = 32;

const plainId = (id: string): string =>
  id
    .trim()
    .replace(/^\{(.*)\}$/, '$1')
    .replaceAll('-', '')
    .toLowerCase();

/**
 * The part of a symbol id that two spellings of it share: lower-case digits without dashes, of long ones the first 16
 * bytes. Some tools print only those of a 20-byte build id, or add an age behind them. Of a family whose ids are hashes it is the short form.
 */
export function symbolKey(kind: SymbolFileKind, id: string): string {
  const plain = plainId(id);
  return /^[0-9a-f]+$/.test(plain) ? plain.slice(0, familyOf(kind).shortIdDigits ?? keyDigits) : plain;
}

/**
 * The keys under which the file of a printed id may be stored: as printed and, of 16 bytes, with the byte order of a
 * GUID's first three numbers turned round, as tools that come from Windows print a build id.
 */
export function wantedKeys(kind: SymbolFileKind, id: string): string[] {
  const key = symbolKey(kind, id);
  if (familyOf(kind).shortIdDigits !== undefined || !/^[0-9a-f]{32}$/.test(key)) return [key];
  const turned = (from: number, to: number) => (key.slice(from, to).match(/../g) as string[]).reverse().join('');
  return [key, turned(0, 8) + turned(8, 12) + turned(12, 16) + key.slice(16)];
}

/** Whether a file with one id is the one that frames ask for with the other. */
export function isWantedId(kind: SymbolFileKind, wanted: string, id: string): boolean {
  const digits = familyOf(kind).shortIdDigits;
  if (digits === undefined) return wantedKeys(kind, wanted).includes(symbolKey(kind, id));
  const [one, other] = [plainId(wanted), plainId(id)];
  return one === other || (Math.min(one.length, other.length) >= digits && (one.startsWith(other) || other.startsWith(one)));
}
