import { configure, Reader, Writer, ZipReader } from '@zip.js/zip.js';
import { MalformedInput } from '../bytes/byte-reader.ts';
import type { ByteSource } from '../bytes/byte-source.ts';

// Whoever calls this is in a worker or a command already.
configure({ useWebWorkers: false });

/** A file in an archive; reading unpacks it into memory. */
export interface ArchiveEntry {
  readonly path: string;
  readonly sizeBytes: number;
  read(): Promise<Uint8Array>;
}

const maximumEntries = 100_000;
const maximumEntryBytes = 1_500_000_000;
/** Deflate packs at most about 1030 bytes into one. */
const maximumRatio = 1_100;

export const isZip = (head: Uint8Array): boolean =>
  head[0] === 0x50 && head[1] === 0x4b && (head[2] === 3 || head[2] === 5) && head[3] === head[2] + 1;

class SourceReader extends Reader<ByteSource> {
  constructor(private readonly source: ByteSource) {
    super(source);
    this.size = source.sizeBytes;
  }

  override readUint8Array(index: number, length: number): Promise<Uint8Array<ArrayBuffer>> {
    const end = Math.min(index + length, this.source.sizeBytes);
    return this.source.read(index, Math.max(0, end - index)) as Promise<Uint8Array<ArrayBuffer>>;
  }
}

/** Takes as many bytes as the archive promised, and stops at the first one more. */
class ExactWriter extends Writer<Uint8Array> {
  private readonly bytes: Uint8Array;
  private written = 0;

  constructor(sizeBytes: number) {
    super();
    this.bytes = new Uint8Array(sizeBytes);
  }

  override async writeUint8Array(chunk: Uint8Array): Promise<void> {
    if (this.written + chunk.length > this.bytes.length) throw new Error('it is longer than the archive says');
    this.bytes.set(chunk, this.written);
    this.written += chunk.length;
  }

  override async getData(): Promise<Uint8Array> {
    return this.bytes.subarray(0, this.written);
  }
}

/**
 * The files in a ZIP archive (APPNOTE 6.3), as stores and build systems deliver dSYM bundles and native debug symbols.
 * Folders, links and what a file system leaves behind are passed over. Throws `MalformedInput` for a damaged archive.
 */
export async function readArchive(source: ByteSource): Promise<ArchiveEntry[]> {
  const zip = new ZipReader(new SourceReader(source));
  try {
    const files: ArchiveEntry[] = [];
    for await (const entry of zip.getEntriesGenerator()) {
      if (files.length >= maximumEntries) throw new MalformedInput(`the archive holds more than ${maximumEntries} files`, 0);
      if (entry.directory || entry.encrypted || isLeftover(entry.filename)) continue;
      const { filename, uncompressedSize, compressedSize } = entry;
      if (uncompressedSize > maximumEntryBytes || uncompressedSize > (compressedSize + 64) * maximumRatio) continue;
      files.push({
        path: filename,
        sizeBytes: uncompressedSize,
        read: () => unpack(() => entry.getData(new ExactWriter(uncompressedSize)), filename, uncompressedSize),
      });
    }
    return files;
  } catch (error) {
    if (error instanceof MalformedInput) throw error;
    throw new MalformedInput(`the archive cannot be read: ${(error as Error).message}`, 0);
  }
}

async function unpack(read: () => Promise<Uint8Array>, path: string, sizeBytes: number): Promise<Uint8Array> {
  let bytes: Uint8Array;
  try {
    bytes = await read();
  } catch (error) {
    throw new MalformedInput(`${path} cannot be unpacked: ${(error as Error).message}`, 0);
  }
  if (bytes.length !== sizeBytes) throw new MalformedInput(`${path} unpacks to ${bytes.length} bytes instead of ${sizeBytes}`, 0);
  return bytes;
}

const isLeftover = (path: string): boolean => /(?:^|\/)(?:__MACOSX\/|\._|\.DS_Store$|Thumbs\.db$)/.test(path);
