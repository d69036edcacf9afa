import { ByteReader, MalformedInput, stringAt } from '../../bytes/byte-reader.ts';
import { type ByteSource, readPart } from '../../bytes/byte-source.ts';
import type { LoadedSegment } from '../code/index-layout.ts';

/** One row of the section table, with its name. System V gABI chapter 4, "Sections". */
export interface ElfSection {
  readonly name: string;
  readonly type: number;
  readonly flags: number;
  readonly address: number;
  readonly offset: number;
  readonly sizeBytes: number;
  readonly link: number;
  readonly entryBytes: number;
}

/** What the headers of an ELF file say. */
export interface ElfFile {
  readonly source: ByteSource;
  readonly is64: boolean;
  readonly littleEndian: boolean;
  readonly type: number;
  readonly machine: number;
  readonly sections: readonly ElfSection[];
  readonly segments: readonly LoadedSegment[];
  /** Stretches of the file that hold notes. */
  readonly notes: readonly { readonly offset: number; readonly sizeBytes: number }[];
}

export const SHT = { SYMTAB: 2, NOBITS: 8, NOTE: 7, DYNSYM: 11 } as const;
export const SHF = { WRITE: 1, ALLOC: 2, EXECINSTR: 4, COMPRESSED: 0x800 } as const;
const PT = { LOAD: 1, NOTE: 4 } as const;
const PF_X = 1;
const extendedCount = 0xffff;
const maximumSections = 1_000_000;
const longestSectionName = 1_024;

const machines: Readonly<Record<number, string>> = {
  3: 'x86',
  8: 'mips',
  20: 'ppc',
  21: 'ppc64',
  40: 'armv7',
  62: 'x86_64',
  183: 'arm64',
  243: 'riscv64',
};

/** The name that reports use for a machine. */
export const architectureOf = ({ machine }: Pick<ElfFile, 'machine'>): string => machines[machine] ?? `machine ${machine}`;

export const isElf = (head: Uint8Array): boolean => head[0] === 0x7f && head[1] === 0x45 && head[2] === 0x4c && head[3] === 0x46;

/** Reads the headers of an ELF file: System V gABI chapters 4 and 5. */
export async function readElfFile(source: ByteSource): Promise<ElfFile> {
  const identity = await readPart(source, 0, 16);
  if (!isElf(identity)) throw new MalformedInput('the file does not begin like ELF', 0);
  const is64 = identity[4] === 2;
  if (!is64 && identity[4] !== 1) throw new MalformedInput(`ELF class ${identity[4]} is not known`, 4);
  const littleEndian = identity[5] === 1;
  if (!littleEndian && identity[5] !== 2) throw new MalformedInput(`ELF data encoding ${identity[5]} is not known`, 5);

  const header = new ByteReader(await readPart(source, 0, is64 ? 64 : 52), littleEndian, 16);
  const word = (reader: ByteReader) => (is64 ? reader.u64() : reader.u32());
  const type = header.u16();
  const machine = header.u16();
  header.u32();
  word(header);
  const programOffset = word(header);
  const sectionOffset = word(header);
  header.u32();
  header.u16();
  const programEntryBytes = header.u16();
  let programCount = header.u16();
  const sectionEntryBytes = header.u16();
  let sectionCount = header.u16();
  let namesIndex = header.u16();

  const rowBytes = is64 ? 64 : 40;
  if (sectionOffset > 0 && sectionEntryBytes < rowBytes) throw new MalformedInput('the rows of the section table are too short', 46);
  if (sectionOffset > 0 && sectionOffset < source.sizeBytes) {
    // Counts that do not fit into the header stand in the first section.
    const first = readSectionRow(await readPart(source, sectionOffset, rowBytes), 0, is64, littleEndian);
    if (sectionCount === 0) sectionCount = first.sizeBytes;
    if (namesIndex === extendedCount) namesIndex = first.link;
    if (programCount === extendedCount) programCount = first.info;
  } else sectionCount = 0;
  if (sectionCount > maximumSections) throw new MalformedInput(`the file claims ${sectionCount} sections`, 48);

  const table = sectionCount === 0 ? new Uint8Array(0) : await readPart(source, sectionOffset, sectionCount * sectionEntryBytes);
  const rows = Array.from({ length: sectionCount }, (_, index) => readSectionRow(table, index * sectionEntryBytes, is64, littleEndian));
  const namesRow = rows[namesIndex];
  const names = namesRow && namesRow.type !== SHT.NOBITS ? await readPart(source, namesRow.offset, namesRow.sizeBytes) : new Uint8Array(0);
  const sections = rows.map(({ nameOffset, info: _info, ...row }) => ({ ...row, name: nameAt(names, nameOffset) }));

  const programBytes = is64 ? 56 : 32;
  if (programCount > 0 && programEntryBytes < programBytes) throw new MalformedInput('the rows of the program table are too short', 42);
  const programs = programCount === 0 ? new Uint8Array(0) : await readPart(source, programOffset, programCount * programEntryBytes);
  const programRows = Array.from({ length: programCount }, (_, at) => readProgramRow(programs, at * programEntryBytes, is64, littleEndian));
  const notes = [
    ...programRows.filter((row) => row.type === PT.NOTE).map((row) => ({ offset: row.offset, sizeBytes: row.fileSize })),
    ...sections.filter((section) => section.type === SHT.NOTE).map(({ offset, sizeBytes }) => ({ offset, sizeBytes })),
  ];
  const segments = programRows.filter((row) => row.type === PT.LOAD).map(segmentOf);
  return { source, is64, littleEndian, type, machine, sections, segments, notes };
}

const segmentOf = (row: ReturnType<typeof readProgramRow>): LoadedSegment => ({
  fileOffset: row.offset,
  fileSize: row.fileSize,
  address: row.address,
  memorySize: row.memorySize,
  executable: (row.flags & PF_X) !== 0,
});

function readSectionRow(table: Uint8Array, at: number, is64: boolean, littleEndian: boolean) {
  const reader = new ByteReader(table, littleEndian, at);
  const word = () => (is64 ? reader.u64() : reader.u32());
  const nameOffset = reader.u32();
  const type = reader.u32();
  const flags = word();
  const address = word();
  const offset = word();
  const sizeBytes = word();
  const link = reader.u32();
  const info = reader.u32();
  word();
  return { nameOffset, type, flags, address, offset, sizeBytes, link, info, entryBytes: word() };
}

function readProgramRow(table: Uint8Array, at: number, is64: boolean, littleEndian: boolean) {
  const reader = new ByteReader(table, littleEndian, at);
  const type = reader.u32();
  if (is64) {
    const flags = reader.u32();
    const offset = reader.u64();
    const address = reader.u64();
    reader.u64();
    return { type, flags, offset, address, fileSize: reader.u64(), memorySize: reader.u64() };
  }
  const offset = reader.u32();
  const address = reader.u32();
  reader.u32();
  const fileSize = reader.u32();
  const memorySize = reader.u32();
  return { type, flags: reader.u32(), offset, address, fileSize, memorySize };
}

/** A name of a section; one that is longer than any in use is no name, and is not looked for at every section's cost. */
function nameAt(names: Uint8Array, offset: number): string {
  const room = names.subarray(offset, offset + longestSectionName);
  return room.includes(0) ? stringAt(room, 0) : '';
}

const NT_GNU_BUILD_ID = 3;
/** Of all notes together, since a file may claim any number of them at one place. */
const maximumNoteBytes = 1 << 20;

/** The build id in the notes of the file, in hexadecimal digits; null when it carries none. */
export async function readBuildId(file: ElfFile): Promise<string | null> {
  let left = maximumNoteBytes;
  for (const { offset, sizeBytes } of file.notes) {
    if (sizeBytes > left || offset + sizeBytes > file.source.sizeBytes) continue;
    left -= sizeBytes;
    const reader = new ByteReader(await readPart(file.source, offset, sizeBytes), file.littleEndian);
    try {
      while (reader.end - reader.position >= 12) {
        const nameBytes = reader.u32();
        const descriptionBytes = reader.u32();
        const type = reader.u32();
        const name = reader.take(nameBytes);
        reader.skip(-nameBytes & 3);
        const description = reader.take(descriptionBytes);
        if (type === NT_GNU_BUILD_ID && nameBytes === 4 && String.fromCharCode(...name.subarray(0, 3)) === 'GNU' && descriptionBytes >= 4)
          return Array.from(description, (byte) => byte.toString(16).padStart(2, '0')).join('');
        reader.skip(Math.min(-descriptionBytes & 3, reader.end - reader.position));
      }
    } catch (error) {
      if (!(error instanceof MalformedInput)) throw error;
    }
  }
  return null;
}
