import { type ByteSource, sourceOf } from '../bytes/byte-source.ts';
import { unpackGzip, unpackGzipHead } from '../bytes/unpack.ts';

const maximumUnpackedBytes = 1_000_000_000;
/** Symbol files pack to a tenth or so; what unpacks to far more was made to fill the memory. */
const maximumRatio = 200;
const alwaysUnpackedBytes = 64 << 20;
const headBytes = 64 * 1024;

const isGzip = (head: Uint8Array): boolean => head[0] === 0x1f && head[1] === 0x8b && head[2] === 8;

/** The first bytes of what a file holds: those of the packed file when it is one of gzip. */
export const unpackedHead = async (head: Uint8Array): Promise<Uint8Array> => (isGzip(head) ? unpackGzipHead(head, headBytes) : head);

/** What a file holds, unpacked into memory when it is one of gzip; throws `MalformedInput` for a damaged one. */
export async function unpackedSource(source: ByteSource): Promise<ByteSource> {
  const head = await source.read(0, Math.min(3, source.sizeBytes));
  if (!isGzip(head)) return source;
  const most = Math.min(maximumUnpackedBytes, Math.max(alwaysUnpackedBytes, source.sizeBytes * maximumRatio));
  return sourceOf(await unpackGzip(source, most));
}

/** The name of what a packed file holds: `mapping.txt.gz` holds `mapping.txt`. */
export const unpackedName = (fileName: string): string => fileName.replace(/\.gz(?:ip)?$/i, '');
