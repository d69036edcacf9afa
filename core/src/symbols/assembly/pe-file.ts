import { ByteReader, decodeText, MalformedInput } from '../../bytes/byte-reader.ts';
import { inflateRaw } from '../../bytes/unpack.ts';
import { guidDigits } from '../pdb/metadata.ts';

/** What symbolication needs of a .NET assembly file (PE format; ECMA-335 II.25). */
export interface AssemblyFile {
  readonly metadata: Uint8Array;
  /** Id of its portable PDB in printed order; null when it was compiled without. */
  readonly pdbId: string | null;
  /** The portable PDB inside it; null when there is none. */
  readonly embeddedPdb: Uint8Array | null;
}

const maximumSections = 96;
const maximumDebugEntries = 64;
const maximumPdbBytes = 256 << 20;
const codeViewType = 2;
const embeddedPdbType = 17;

export const isPortableExecutable = (head: Uint8Array): boolean => head.length >= 2 && head[0] === 0x4d && head[1] === 0x5a;

/** Reads the parts of an assembly; throws MalformedInput for a file that is none, a native program among them. */
export async function readAssemblyFile(bytes: Uint8Array): Promise<AssemblyFile> {
  const reader = new ByteReader(bytes, true);
  reader.seek(0x3c);
  reader.seek(reader.u32());
  if (reader.u32() !== 0x4550) throw new MalformedInput('the file begins like a Windows program but is none', reader.position - 4);
  reader.skip(2);
  const sectionCount = reader.u16();
  if (sectionCount > maximumSections) throw new MalformedInput(`${sectionCount} sections are too many`, reader.position);
  reader.skip(12);
  const optionalBytes = reader.u16();
  reader.skip(2);
  const optionalAt = reader.position;
  const wide = reader.u16() === 0x20b;
  const directoriesAt = optionalAt + (wide ? 112 : 96);
  const sections: { address: number; size: number; offset: number }[] = [];
  reader.seek(optionalAt + optionalBytes);
  for (let index = 0; index < sectionCount; index++) {
    reader.skip(8);
    const virtualSize = reader.u32();
    const address = reader.u32();
    const size = reader.u32();
    sections.push({ address, size: Math.max(size, virtualSize), offset: reader.u32() });
    reader.skip(16);
  }
  const at = (address: number): number => {
    const section = sections.find((one) => address >= one.address && address < one.address + one.size);
    if (!section) throw new MalformedInput('an address lies in no section', address);
    return section.offset + address - section.address;
  };
  const directory = (number: number) => {
    reader.seek(directoriesAt + number * 8);
    return { address: reader.u32(), size: reader.u32() };
  };

  const cli = directory(14);
  if (cli.address === 0) throw new MalformedInput('this is a native Windows program, not a .NET assembly', 0);
  reader.seek(at(cli.address) + 8);
  const metadataAddress = reader.u32();
  const metadataSize = reader.u32();
  reader.seek(at(metadataAddress));
  const metadata = reader.take(metadataSize);

  let pdbId: string | null = null;
  let embeddedPdb: Uint8Array | null = null;
  const debug = directory(6);
  const entries = debug.address === 0 ? 0 : Math.min(Math.floor(debug.size / 28), maximumDebugEntries);
  for (let entry = 0; entry < entries; entry++) {
    reader.seek(at(debug.address) + entry * 28 + 12);
    const type = reader.u32();
    const size = reader.u32();
    reader.skip(4);
    const offset = reader.u32();
    if (type !== codeViewType && type !== embeddedPdbType) continue;
    reader.seek(offset);
    const data = reader.take(size);
    if (type === codeViewType && decodeText(data, 0, 4) === 'RSDS') pdbId = guidDigits(data.subarray(4, 20));
    if (type === embeddedPdbType && decodeText(data, 0, 4) === 'MPDB') embeddedPdb = await unpackEmbedded(data);
  }
  return { metadata, pdbId, embeddedPdb };
}

/** "MPDB", the unpacked size, a deflate stream (PE/COFF debug directory, Embedded Portable PDB). */
async function unpackEmbedded(data: Uint8Array): Promise<Uint8Array> {
  const sizeBytes = new ByteReader(data, true, 4).u32();
  if (sizeBytes > maximumPdbBytes) throw new MalformedInput(`an embedded PDB of ${sizeBytes} bytes is too large`, 4);
  return inflateRaw(data.subarray(8), sizeBytes);
}
