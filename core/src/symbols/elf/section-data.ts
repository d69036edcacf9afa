import { ByteReader, MalformedInput } from '../../bytes/byte-reader.ts';
import { readPart } from '../../bytes/byte-source.ts';
import { inflateZlib, unpackZstandard } from '../../bytes/unpack.ts';
import { type ElfFile, type ElfSection, SHF, SHT } from './elf-file.ts';

const ELFCOMPRESS = { ZLIB: 1, ZSTD: 2 } as const;
/** Debug information is refused above this size; no compiler output that we know comes near it. */
export const maximumSectionBytes = 3 * 2 ** 30;
/** Deflate packs at most about 1030 bytes into one; zstd more, but no real section comes near. */
const maximumRatio = 1_100;

/** The bytes of a section, unpacked; a section without bytes in this file is empty. */
export async function readSection(file: ElfFile, section: ElfSection): Promise<Uint8Array> {
  if (section.type === SHT.NOBITS || section.sizeBytes === 0) return new Uint8Array(0);
  if (section.sizeBytes > maximumSectionBytes) throw new MalformedInput(`the section ${section.name} is too large`, section.offset);
  const bytes = await readPart(file.source, section.offset, section.sizeBytes);
  if ((section.flags & SHF.COMPRESSED) !== 0) return unpackSection(file, section, bytes);
  if (section.name.startsWith('.zdebug')) return unpackOldSection(section, bytes);
  return bytes;
}

/** A section with a compression header: gABI chapter 4, "Section Compression". */
async function unpackSection(file: ElfFile, section: ElfSection, bytes: Uint8Array): Promise<Uint8Array> {
  const reader = new ByteReader(bytes, file.littleEndian);
  const type = reader.u32();
  if (file.is64) reader.u32();
  const size = file.is64 ? reader.u64() : reader.u32();
  reader.skip(file.is64 ? 8 : 4);
  const packed = bytes.subarray(reader.position);
  checkClaim(section, size, packed.length, type === ELFCOMPRESS.ZSTD ? maximumRatio * 20 : maximumRatio);
  if (type === ELFCOMPRESS.ZLIB) return inflateZlib(packed, size);
  if (type === ELFCOMPRESS.ZSTD) return unpackZstandard(packed, size);
  throw new MalformedInput(`the section ${section.name} is compressed in the unknown way ${type}`, section.offset);
}

/** The form of GNU binutils before the header above: "ZLIB", the size as a big-endian number, then the stream. */
async function unpackOldSection(section: ElfSection, bytes: Uint8Array): Promise<Uint8Array> {
  if (String.fromCharCode(...bytes.subarray(0, 4)) !== 'ZLIB') return bytes;
  const reader = new ByteReader(bytes, false, 4);
  const size = reader.u64();
  checkClaim(section, size, bytes.length - 12, maximumRatio);
  return inflateZlib(bytes.subarray(12), size);
}

function checkClaim(section: ElfSection, size: number, packedBytes: number, ratio: number): void {
  if (size > maximumSectionBytes || size > (packedBytes + 64) * ratio)
    throw new MalformedInput(`the section ${section.name} claims to unpack to ${size} bytes`, section.offset);
}
