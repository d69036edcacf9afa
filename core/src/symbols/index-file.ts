import { crc32 } from '../bytes/crc32.ts';
import { StringTable } from '../bytes/string-table.ts';
import { failure, type Result, success } from '../result.ts';
import { familyOf, type SymbolFileKind, symbolFamilies } from './families.ts';

/**
 * The container of a symbol index: a header, a table of sections, then the sections, each at a multiple of 8.
 * All numbers are little-endian. `docs/symbol-index.md` describes it byte by byte.
 */
export const indexFormatVersion = 1;

const magic = new TextEncoder().encode('EMBERSYM');
const headerBytes = 32;
const sectionEntryBytes = 16;
const checksumAt = 24;
const maximumSections = 64;

export type IndexProblem = 'not-an-index' | 'other-version' | 'truncated' | 'altered';

export type Section = Uint8Array | Uint32Array;

/** An index as its builder leaves it: sections under their numbers, and what it says about itself. */
export interface BuiltIndex<Summary> {
  readonly kind: SymbolFileKind;
  readonly sections: ReadonlyMap<number, Section>;
  readonly summary: Summary;
}

/** Writes an index into one file. */
export function writeIndexFile({ kind, sections }: Pick<BuiltIndex<unknown>, 'kind' | 'sections'>): Uint8Array {
  const align = (offset: number) => (offset + 7) & ~7;
  let length = align(headerBytes + sections.size * sectionEntryBytes);
  const placed: { id: number; offset: number; section: Section }[] = [];
  for (const [id, section] of sections) {
    placed.push({ id, offset: length, section });
    length = align(length + section.byteLength);
  }

  const file = new Uint8Array(length);
  const view = new DataView(file.buffer);
  file.set(magic, 0);
  view.setUint32(8, indexFormatVersion, true);
  view.setUint32(12, familyOf(kind).number, true);
  view.setUint32(16, length, true);
  view.setUint32(20, placed.length, true);
  placed.forEach(({ id, offset, section }, index) => {
    const entry = headerBytes + index * sectionEntryBytes;
    view.setUint32(entry, id, true);
    view.setUint32(entry + 4, offset, true);
    view.setUint32(entry + 8, section.byteLength, true);
    file.set(new Uint8Array(section.buffer, section.byteOffset, section.byteLength), offset);
  });
  view.setUint32(checksumAt, checksum(file), true);
  return file;
}

/** Covers every byte but its own four. */
const checksum = (file: Uint8Array): number => crc32(file.subarray(checksumAt + 4), crc32(file.subarray(0, checksumAt)));

/** The sections of an index, of a checked file or just built; nothing is copied. */
export interface IndexSections {
  readonly kind: SymbolFileKind;
  /** The section as bytes; empty when the file has none of that number. */
  bytes(id: number): Uint8Array;
  /** The section as 32-bit numbers; empty when the file has none of that number. */
  column(id: number): Uint32Array;
}

/** Opens an index file after checking its version, length and checksum. */
export function openIndexFile(file: Uint8Array): Result<IndexSections, IndexProblem> {
  if (file.length < headerBytes || !magic.every((byte, index) => file[index] === byte))
    return failure('not-an-index', 'the file does not begin like a symbol index');
  // Columns are read in place, which needs them at multiples of 4 in memory.
  const aligned = file.byteOffset % 8 === 0 ? file : file.slice();
  const view = new DataView(aligned.buffer, aligned.byteOffset, aligned.byteLength);
  const version = view.getUint32(8, true);
  if (version !== indexFormatVersion)
    return failure('other-version', `the index has format version ${version}, this program reads ${indexFormatVersion}`);
  const length = view.getUint32(16, true);
  if (length !== aligned.length) return failure('truncated', `the index has ${aligned.length} bytes instead of ${length}`);
  if (checksum(aligned) !== view.getUint32(checksumAt, true))
    return failure('altered', 'the checksum of the index does not match its contents');

  const kind = symbolFamilies.find(({ number }) => number === view.getUint32(12, true))?.kind;
  const count = view.getUint32(20, true);
  if (!kind || count > maximumSections) return failure('altered', 'the header of the index is damaged');
  const sections = new Map<number, { offset: number; byteLength: number }>();
  for (let entry = headerBytes; entry < headerBytes + count * sectionEntryBytes; entry += sectionEntryBytes) {
    const offset = view.getUint32(entry + 4, true);
    const byteLength = view.getUint32(entry + 8, true);
    if (offset % 8 !== 0 || offset + byteLength > length) return failure('altered', 'a section lies outside the index');
    sections.set(view.getUint32(entry, true), { offset, byteLength });
  }
  const place = (id: number) => sections.get(id) ?? { offset: 0, byteLength: 0 };
  return success({
    kind,
    bytes: (id) => aligned.subarray(place(id).offset, place(id).offset + place(id).byteLength),
    column: (id) => new Uint32Array(aligned.buffer, aligned.byteOffset + place(id).offset, place(id).byteLength >>> 2),
  });
}

/** An index that was just built, to look things up without writing it first. */
export function sectionsOf({ kind, sections }: Pick<BuiltIndex<unknown>, 'kind' | 'sections'>): IndexSections {
  const nothing = new Uint8Array(0);
  return {
    kind,
    bytes: (id) => {
      const section = sections.get(id) ?? nothing;
      return new Uint8Array(section.buffer, section.byteOffset, section.byteLength);
    },
    column: (id) => {
      const section = sections.get(id) ?? nothing;
      return section instanceof Uint32Array ? section : new Uint32Array(section.slice().buffer, 0, section.byteLength >>> 2);
    },
  };
}

/** Numbers of the sections that every kind of index has, beside its own. */
interface CommonLayout {
  readonly summary: number;
  readonly stringOffsets: number;
  readonly stringBytes: number;
}

/** What an index of one kind is read by. */
export interface IndexReading<Layout, Summary> {
  readonly strings: StringTable;
  readonly column: Readonly<Record<keyof Layout, Uint32Array>>;
  readonly bytes: (name: keyof Layout) => Uint8Array;
  readonly summary: Summary;
}

/** Reads the sections of an index of the wanted kind by the names of its layout. */
export function readIndex<Layout extends CommonLayout, Summary>(
  source: Uint8Array | IndexSections,
  kind: SymbolFileKind,
  layout: Layout,
): Result<IndexReading<Layout, Summary>, IndexProblem> {
  const opened = source instanceof Uint8Array ? openIndexFile(source) : success(source);
  if (!opened.ok) return opened;
  const index = opened.value;
  if (index.kind !== kind) return failure('not-an-index', `this is an index of kind ${index.kind}, not ${kind}`);
  const ids = Object.entries(layout) as [keyof Layout, number][];
  return success({
    strings: new StringTable(index.column(layout.stringOffsets), index.bytes(layout.stringBytes)),
    column: Object.fromEntries(ids.map(([name, id]) => [name, index.column(id)])) as Record<keyof Layout, Uint32Array>,
    bytes: (name) => index.bytes(layout[name] as number),
    summary: JSON.parse(new TextDecoder().decode(index.bytes(layout.summary))) as Summary,
  });
}
