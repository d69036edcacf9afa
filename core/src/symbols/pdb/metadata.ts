import { ByteReader, decodeText, MalformedInput, stringAt } from '../../bytes/byte-reader.ts';

/** Numbers of the metadata tables (ECMA-335 II.22; Portable PDB v1.0 for those from 0x30 on). */
export const table = {
  module: 0x00,
  typeRef: 0x01,
  typeDef: 0x02,
  methodDef: 0x06,
  typeSpec: 0x1b,
  assembly: 0x20,
  nestedClass: 0x29,
  genericParam: 0x2a,
  document: 0x30,
  methodDebugInformation: 0x31,
  stateMachineMethod: 0x36,
} as const;

/** A column: bytes of a number, a heap, the row of one table, or the row of one of several with a tag in the low bits. */
type Column =
  | 2
  | 4
  | 'string'
  | 'guid'
  | 'blob'
  | { readonly row: number }
  | { readonly tagBits: number; readonly rows: readonly number[] };

const row = (of: number): Column => ({ row: of });
const oneOf = (tagBits: number, ...rows: number[]): Column => ({ tagBits, rows });

// Coded indexes, ECMA-335 II.24.2.6. Tables that cannot be meant any more count no rows.
const typeDefOrRef = oneOf(2, 0x02, 0x01, 0x1b);
const hasConstant = oneOf(2, 0x04, 0x08, 0x17);
const withAttributes = [
  0x06, 0x04, 0x01, 0x02, 0x08, 0x09, 0x0a, 0x00, 0x0e, 0x17, 0x14, 0x11, 0x1a, 0x1b, 0x20, 0x23, 0x26, 0x27, 0x28, 0x2a, 0x2c, 0x2b,
];
const hasCustomAttribute = oneOf(5, ...withAttributes);
const hasFieldMarshal = oneOf(1, 0x04, 0x08);
const hasDeclSecurity = oneOf(2, 0x02, 0x06, 0x20);
const memberRefParent = oneOf(3, 0x02, 0x01, 0x1a, 0x06, 0x1b);
const hasSemantics = oneOf(1, 0x14, 0x17);
const methodDefOrRef = oneOf(1, 0x06, 0x0a);
const memberForwarded = oneOf(1, 0x04, 0x06);
const implementation = oneOf(2, 0x26, 0x23, 0x27);
const customAttributeType = oneOf(3, 0x06, 0x0a);
const resolutionScope = oneOf(2, 0x00, 0x1a, 0x23, 0x01);
const typeOrMethodDef = oneOf(1, 0x02, 0x06);
const hasCustomDebugInformation = oneOf(5, ...withAttributes, 0x30, 0x32, 0x33, 0x34, 0x35);

/** The columns of each table, by its number. */
const columns: Readonly<Record<number, readonly Column[]>> = {
  0: [2, 'string', 'guid', 'guid', 'guid'],
  1: [resolutionScope, 'string', 'string'],
  2: [4, 'string', 'string', typeDefOrRef, row(0x04), row(0x06)],
  3: [row(0x04)],
  4: [2, 'string', 'blob'],
  5: [row(0x06)],
  6: [4, 2, 2, 'string', 'blob', row(0x08)],
  7: [row(0x08)],
  8: [2, 2, 'string'],
  9: [row(0x02), typeDefOrRef],
  10: [memberRefParent, 'string', 'blob'],
  11: [2, hasConstant, 'blob'],
  12: [hasCustomAttribute, customAttributeType, 'blob'],
  13: [hasFieldMarshal, 'blob'],
  14: [2, hasDeclSecurity, 'blob'],
  15: [2, 4, row(0x02)],
  16: [4, row(0x04)],
  17: ['blob'],
  18: [row(0x02), row(0x14)],
  19: [row(0x14)],
  20: [2, 'string', typeDefOrRef],
  21: [row(0x02), row(0x17)],
  22: [row(0x17)],
  23: [2, 'string', 'blob'],
  24: [2, row(0x06), hasSemantics],
  25: [row(0x02), methodDefOrRef, methodDefOrRef],
  26: ['string'],
  27: ['blob'],
  28: [2, memberForwarded, 'string', row(0x1a)],
  29: [4, row(0x04)],
  30: [4, 4],
  31: [4],
  32: [4, 2, 2, 2, 2, 4, 'blob', 'string', 'string'],
  33: [4],
  34: [4, 4, 4],
  35: [2, 2, 2, 2, 4, 'blob', 'string', 'string', 'blob'],
  36: [4, row(0x23)],
  37: [4, 4, 4, row(0x23)],
  38: [4, 'string', 'blob'],
  39: [4, 4, 'string', 'string', implementation],
  40: [4, 4, 'string', implementation],
  41: [row(0x02), row(0x02)],
  42: [2, 2, typeOrMethodDef, 'string'],
  43: [methodDefOrRef, 'blob'],
  44: [row(0x2a), typeDefOrRef],
  48: ['blob', 'guid', 'blob', 'guid'],
  49: [row(0x30), 'blob'],
  50: [row(0x06), row(0x35), row(0x33), row(0x34), 4, 4],
  51: [2, 2, 'string'],
  52: ['string', 'blob'],
  53: [row(0x35), 'blob'],
  54: [row(0x06), row(0x06)],
  55: [hasCustomDebugInformation, 'guid', 'blob'],
};

const signature = 0x424a_5342;
const maximumStreams = 64;

export const isMetadata = (head: Uint8Array): boolean =>
  head.length >= 4 && head[0] === 0x42 && head[1] === 0x53 && head[2] === 0x4a && head[3] === 0x42;

interface Table {
  readonly rows: number;
  readonly at: number;
  readonly rowBytes: number;
  readonly columnAt: readonly number[];
  readonly columnBytes: readonly number[];
}

/** The tables and heaps of an assembly or a portable PDB (ECMA-335 II.24). Rows count from 1, as everywhere in the format. */
export class Metadata {
  private readonly streams: ReadonlyMap<string, Uint8Array>;
  private readonly tables = new Map<number, Table>();
  private readonly tableBytes: Uint8Array;

  /** Throws MalformedInput when the bytes are not metadata, or claim what they do not hold. */
  constructor(bytes: Uint8Array) {
    this.streams = readStreams(bytes);
    this.tableBytes = this.stream('#~') ?? this.stream('#-') ?? new Uint8Array(0);
    if (this.tableBytes.length > 0) this.readTables();
  }

  /** A stream by its name; null when there is none. */
  stream(name: string): Uint8Array | null {
    return this.streams.get(name) ?? null;
  }

  rows(of: number): number {
    return this.tables.get(of)?.rows ?? 0;
  }

  /** The number in a column (from 0) of a row (from 1). */
  cell(of: number, rowNumber: number, column: number): number {
    const found = this.tables.get(of);
    if (!found || !(rowNumber >= 1 && rowNumber <= found.rows)) throw new MalformedInput(`table ${of} has no row ${rowNumber}`, 0);
    const at = found.at + (rowNumber - 1) * found.rowBytes + (found.columnAt[column] as number);
    const low = (this.tableBytes[at] as number) | ((this.tableBytes[at + 1] as number) << 8);
    if (found.columnBytes[column] === 2) return low;
    return low + ((this.tableBytes[at + 2] as number) + (this.tableBytes[at + 3] as number) * 256) * 0x1_0000;
  }

  text(of: number, rowNumber: number, column: number): string {
    return stringAt(this.stream('#Strings') ?? new Uint8Array(0), this.cell(of, rowNumber, column));
  }

  /** The digits of a GUID in the order in which it is printed; null for the GUID that is none. */
  guid(of: number, rowNumber: number, column: number): string | null {
    const number = this.cell(of, rowNumber, column);
    const heap = this.stream('#GUID');
    if (number === 0 || !heap || number * 16 > heap.length) return null;
    return guidDigits(heap.subarray((number - 1) * 16, number * 16));
  }

  blob(of: number, rowNumber: number, column: number): Uint8Array {
    return this.blobAt(this.cell(of, rowNumber, column));
  }

  blobAt(offset: number): Uint8Array {
    const heap = this.stream('#Blob') ?? new Uint8Array(0);
    if (offset === 0) return heap.subarray(0, 0);
    const reader = new ByteReader(heap, true);
    reader.seek(offset);
    return reader.take(compressedUnsigned(reader));
  }

  /** ECMA-335 II.24.2.6; a PDB on its own takes the sizes of the tables it refers to from its #Pdb stream. */
  private readTables(): void {
    const reader = new ByteReader(this.tableBytes, true);
    reader.skip(6);
    const heapSizes = reader.u8();
    reader.skip(1);
    const present = [reader.u32(), reader.u32()] as const;
    reader.skip(8);
    const counts = new Map<number, number>(this.referencedRows());
    const stored: number[] = [];
    for (let number = 0; number < 64; number++) {
      if ((((present[number >>> 5] as number) >>> (number & 31)) & 1) === 0) continue;
      stored.push(number);
      counts.set(number, reader.u32());
    }
    if (heapSizes & 0x40) reader.skip(4);
    const width = (column: Column): number => {
      if (typeof column === 'number') return column;
      if (column === 'string') return heapSizes & 1 ? 4 : 2;
      if (column === 'guid') return heapSizes & 2 ? 4 : 2;
      if (column === 'blob') return heapSizes & 4 ? 4 : 2;
      if ('row' in column) return (counts.get(column.row) ?? 0) > 0xffff ? 4 : 2;
      const most = Math.max(...column.rows.map((of) => counts.get(of) ?? 0));
      return most >= 1 << (16 - column.tagBits) ? 4 : 2;
    };
    for (const number of stored) {
      const shape = columns[number];
      if (!shape) throw new MalformedInput(`metadata table ${number} is not known`, reader.position);
      const columnBytes = shape.map(width);
      const columnAt = columnBytes.map((_, index) => columnBytes.slice(0, index).reduce((sum, size) => sum + size, 0));
      const rowBytes = columnBytes.reduce((sum, size) => sum + size, 0);
      const rows = counts.get(number) as number;
      this.tables.set(number, { rows, at: reader.skip(rows * rowBytes), rowBytes, columnAt, columnBytes });
    }
  }

  /** Row counts of the assembly's tables, which a PDB keeps for the widths of its own columns. */
  private referencedRows(): [number, number][] {
    const pdb = this.stream('#Pdb');
    if (!pdb) return [];
    const reader = new ByteReader(pdb, true, 24);
    const present = [reader.u32(), reader.u32()] as const;
    const counts: [number, number][] = [];
    for (let number = 0; number < 64; number++)
      if (((present[number >>> 5] as number) >>> (number & 31)) & 1) counts.push([number, reader.u32()]);
    return counts;
  }
}

/** ECMA-335 II.24.2.1 and II.24.2.2. */
function readStreams(bytes: Uint8Array): Map<string, Uint8Array> {
  const reader = new ByteReader(bytes, true);
  if (reader.u32() !== signature) throw new MalformedInput('this is not .NET metadata', 0);
  reader.skip(8);
  reader.skip(reader.u32());
  reader.skip(2);
  const count = reader.u16();
  if (count > maximumStreams) throw new MalformedInput(`${count} metadata streams are too many`, reader.position);
  const streams = new Map<string, Uint8Array>();
  for (let index = 0; index < count; index++) {
    const offset = reader.u32();
    const size = reader.u32();
    const nameAt = reader.position;
    const name = reader.string();
    // A name is filled up with zeroes to a multiple of four.
    reader.seek(Math.min(nameAt + Math.ceil((name.length + 1) / 4) * 4, reader.end));
    if (offset + size > bytes.length) throw new MalformedInput(`the stream ${name.slice(0, 32)} lies outside the file`, offset);
    streams.set(name, bytes.subarray(offset, offset + size));
  }
  return streams;
}

/** An unsigned number of one, two or four bytes (ECMA-335 II.23.2). */
export function compressedUnsigned(reader: ByteReader): number {
  const first = reader.u8();
  if ((first & 0x80) === 0) return first;
  if ((first & 0xc0) === 0x80) return ((first & 0x3f) << 8) | reader.u8();
  if ((first & 0xe0) === 0xc0) return (first & 0x1f) * 0x100_0000 + (reader.u8() << 16) + (reader.u8() << 8) + reader.u8();
  throw new MalformedInput('a compressed number begins with an impossible byte', reader.position - 1);
}

/** A signed number of one, two or four bytes: its sign is the lowest bit, rotated there (ECMA-335 II.23.2). */
export function compressedSigned(reader: ByteReader): number {
  const from = reader.position;
  const rotated = compressedUnsigned(reader);
  const bits = { 1: 6, 2: 13, 4: 28 }[reader.position - from] as number;
  return rotated & 1 ? (rotated >>> 1) - 2 ** bits : rotated >>> 1;
}

/** The digits of a GUID in the order in which it is printed: its first three numbers are stored little-endian. */
export function guidDigits(bytes: Uint8Array): string {
  return [3, 2, 1, 0, 5, 4, 7, 6, 8, 9, 10, 11, 12, 13, 14, 15].map((at) => (bytes[at] ?? 0).toString(16).padStart(2, '0')).join('');
}

/** UTF-8 text of a blob. */
export const blobText = (blob: Uint8Array): string => decodeText(blob, 0, blob.length);
