import { ByteReader, MalformedInput } from '../../bytes/byte-reader.ts';
import { type ByteSource, partOf, readPart } from '../../bytes/byte-source.ts';
import type { LoadedSegment } from '../code/index-layout.ts';

/** A section of one slice; the names are those of the segment and of the section in it. */
export interface MachSection {
  readonly segment: string;
  readonly name: string;
  readonly address: number;
  readonly sizeBytes: number;
  readonly offset: number;
  readonly flags: number;
}

interface Stretch {
  readonly offset: number;
  readonly sizeBytes: number;
}

/** What the header and load commands of one slice say. */
export interface MachFile {
  readonly source: ByteSource;
  readonly is64: boolean;
  readonly littleEndian: boolean;
  readonly architecture: string;
  readonly fileType: number;
  /** UUID in lower-case hexadecimal digits without dashes; null when the file carries none. */
  readonly uuid: string | null;
  readonly segments: readonly LoadedSegment[];
  /** Address that the text segment is linked at; the loader slides it. */
  readonly textAddress: number;
  readonly sections: readonly MachSection[];
  readonly symbolTable: { readonly offset: number; readonly count: number; readonly strings: Stretch } | null;
  readonly functionStarts: Stretch | null;
}

const LC = { SEGMENT: 0x1, SYMTAB: 0x2, SEGMENT_64: 0x19, UUID: 0x1b, FUNCTION_STARTS: 0x26 } as const;
const VM_PROT_EXECUTE = 4;
const maximumCommandBytes = 16 * 2 ** 20;
const maximumSlices = 64;

/** Processor type and subtype without its capability bits, from <mach/machine.h>. */
const architectures: Readonly<Record<string, string>> = {
  '7/3': 'x86',
  '16777223/3': 'x86_64',
  '16777223/8': 'x86_64h',
  '12/9': 'armv7',
  '12/11': 'armv7s',
  '12/12': 'armv7k',
  '16777228/0': 'arm64',
  '16777228/1': 'arm64v8',
  '16777228/2': 'arm64e',
  '33554444/0': 'arm64_32',
  '33554444/1': 'arm64_32',
};

const magicOf = (head: Uint8Array): number =>
  head.length < 4
    ? 0
    : (((head[0] as number) << 24) | ((head[1] as number) << 16) | ((head[2] as number) << 8) | (head[3] as number)) >>> 0;

export const isThinMachO = (head: Uint8Array): boolean => [0xfeedface, 0xfeedfacf, 0xcefaedfe, 0xcffaedfe].includes(magicOf(head));

/** A Java class file begins with the same four bytes; its next number is a version of 43 or more. */
export const isUniversalMachO = (head: Uint8Array): boolean => {
  const magic = magicOf(head);
  if (magic === 0xcafebabf) return true;
  return magic === 0xcafebabe && head.length >= 8 && new ByteReader(head, false, 4).u32() < 43;
};

/** The slices of a universal file, or the file itself when it is thin. <mach-o/fat.h>; its header is big-endian. */
export async function slicesOf(source: ByteSource): Promise<ByteSource[]> {
  const head = await readPart(source, 0, Math.min(8, source.sizeBytes));
  if (!isUniversalMachO(head)) return [source];
  const is64 = head[3] === 0xbf;
  const count = new ByteReader(head, false, 4).u32();
  if (count > maximumSlices) throw new MalformedInput(`the file claims ${count} slices`, 4);
  const rowBytes = is64 ? 32 : 20;
  const reader = new ByteReader(await readPart(source, 8, count * rowBytes), false);
  return Array.from({ length: count }, (_, index) => {
    reader.seek(index * rowBytes + 8);
    const offset = is64 ? reader.u64() : reader.u32();
    return partOf(source, offset, is64 ? reader.u64() : reader.u32());
  });
}

/** Reads the header and load commands of one slice: <mach-o/loader.h>. */
export async function readMachFile(source: ByteSource): Promise<MachFile> {
  const head = await readPart(source, 0, 32);
  if (!isThinMachO(head)) throw new MalformedInput('the slice does not begin like Mach-O', 0);
  const littleEndian = head[0] === 0xcf || head[0] === 0xce;
  const is64 = (littleEndian ? head[0] : head[3]) === 0xcf;
  const header = new ByteReader(head, littleEndian, 4);
  const processor = header.u32();
  const subtype = header.u32() & 0xff_ffff;
  const fileType = header.u32();
  const commandCount = header.u32();
  const commandBytes = header.u32();
  if (commandBytes > maximumCommandBytes) throw new MalformedInput(`the load commands claim ${commandBytes} bytes`, 20);
  const commands = await readPart(source, is64 ? 32 : 28, commandBytes);
  const reader = new ByteReader(commands, littleEndian);

  const found = {
    uuid: null as string | null,
    segments: [] as LoadedSegment[],
    textAddress: 0,
    sections: [] as MachSection[],
    symbolTable: null as MachFile['symbolTable'],
    functionStarts: null as Stretch | null,
  };
  for (let index = 0; index < commandCount && reader.end - reader.position >= 8; index++) {
    const at = reader.position;
    const command = reader.u32();
    const sizeBytes = reader.u32();
    if (sizeBytes < 8) throw new MalformedInput(`a load command claims ${sizeBytes} bytes`, at);
    // A command holds no more than its own bytes, so that many small ones cannot each claim all that follows.
    const body = new ByteReader(commands, littleEndian, reader.position, at + sizeBytes);
    switch (command) {
      case LC.SEGMENT:
      case LC.SEGMENT_64:
        readSegment(body, command === LC.SEGMENT_64, found);
        break;
      case LC.SYMTAB: {
        const offset = body.u32();
        const count = body.u32();
        const strings = { offset: body.u32(), sizeBytes: body.u32() };
        found.symbolTable = { offset, count, strings };
        break;
      }
      case LC.UUID:
        found.uuid = Array.from(body.take(16), (byte) => byte.toString(16).padStart(2, '0')).join('');
        break;
      case LC.FUNCTION_STARTS:
        found.functionStarts = { offset: body.u32(), sizeBytes: body.u32() };
        break;
    }
    reader.seek(Math.min(at + sizeBytes, reader.end));
  }
  const architecture = architectures[`${processor}/${subtype}`] ?? `processor ${processor}`;
  return { source, is64, littleEndian, architecture, fileType, ...found };
}

function readSegment(
  reader: ByteReader,
  is64: boolean,
  found: { segments: LoadedSegment[]; textAddress: number; sections: MachSection[] },
): void {
  const word = () => (is64 ? reader.u64() : reader.u32());
  const segment = fixedText(reader.take(16));
  const address = word();
  const memorySize = word();
  const fileOffset = word();
  const fileSize = word();
  reader.u32();
  const executable = (reader.u32() & VM_PROT_EXECUTE) !== 0;
  const sectionCount = reader.u32();
  reader.u32();
  // Objects that are not linked hold all sections in one segment without a name.
  if (segment !== '__PAGEZERO' && segment !== '__DWARF') found.segments.push({ fileOffset, fileSize, address, memorySize, executable });
  if (segment === '__TEXT') found.textAddress = address;
  for (let index = 0; index < sectionCount; index++) {
    const name = fixedText(reader.take(16));
    const home = fixedText(reader.take(16));
    const sectionAddress = word();
    const sizeBytes = word();
    const offset = reader.u32();
    reader.skip(12);
    const flags = reader.u32();
    reader.skip(is64 ? 12 : 8);
    found.sections.push({ segment: home, name, address: sectionAddress, sizeBytes, offset, flags });
  }
}

function fixedText(bytes: Uint8Array): string {
  const zero = bytes.indexOf(0);
  return String.fromCharCode(...(zero < 0 ? bytes : bytes.subarray(0, zero)));
}
