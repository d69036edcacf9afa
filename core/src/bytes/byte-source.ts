import { MalformedInput } from './byte-reader.ts';

/** Bytes that are read where they are wanted: a file on disk, a file a person dropped, or memory. */
export interface ByteSource {
  readonly sizeBytes: number;
  /** Exactly `length` bytes from `offset`; the caller has checked that they are there. */
  read(offset: number, length: number): Promise<Uint8Array>;
}

/** A source over bytes in memory; reading copies nothing. */
export const sourceOf = (bytes: Uint8Array): ByteSource => ({
  sizeBytes: bytes.length,
  read: (offset, length) => Promise.resolve(bytes.subarray(offset, offset + length)),
});

/** A part of another source, such as one slice of a universal binary. */
export function partOf(source: ByteSource, offset: number, length: number): ByteSource {
  if (!(offset >= 0 && length >= 0 && offset + length <= source.sizeBytes))
    throw new MalformedInput(`a part of ${length} bytes lies outside the file`, offset);
  return { sizeBytes: length, read: (from, count) => source.read(offset + from, count) };
}

/** Bytes that a file claims to hold; fewer are malformed input. */
export async function readPart(source: ByteSource, offset: number, length: number): Promise<Uint8Array> {
  if (!(offset >= 0 && length >= 0 && offset + length <= source.sizeBytes))
    throw new MalformedInput(`${length} bytes are wanted of a file of ${source.sizeBytes} bytes`, offset);
  return source.read(offset, length);
}

/** The first bytes of a file, as many as there are. */
export const readHead = (source: ByteSource, length: number): Promise<Uint8Array> => source.read(0, Math.min(length, source.sizeBytes));
