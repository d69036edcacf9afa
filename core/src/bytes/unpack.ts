import { Decompress } from 'fzstd';
import xz from 'xz-decompress';
import { MalformedInput } from './byte-reader.ts';
import type { ByteSource } from './byte-source.ts';

const stepBytes = 1 << 20;

/** A zlib stream (RFC 1950) that must unpack to exactly `sizeBytes`. */
export const inflateZlib = (packed: Uint8Array, sizeBytes: number): Promise<Uint8Array> => inflate(packed, sizeBytes, 'deflate');

/** A deflate stream without a frame (RFC 1951) that must unpack to exactly `sizeBytes`. */
export const inflateRaw = (packed: Uint8Array, sizeBytes: number): Promise<Uint8Array> => inflate(packed, sizeBytes, 'deflate-raw');

async function inflate(packed: Uint8Array, sizeBytes: number, form: 'deflate' | 'deflate-raw'): Promise<Uint8Array> {
  const unpacked = new Uint8Array(sizeBytes);
  let at = 0;
  for await (const chunk of chunksOf(streamOf(packed).pipeThrough(new DecompressionStream(form)))) {
    if (at + chunk.length > sizeBytes) throw new MalformedInput('a zlib stream is longer than it claims', at);
    unpacked.set(chunk, at);
    at += chunk.length;
  }
  if (at !== sizeBytes) throw new MalformedInput(`a zlib stream unpacks to ${at} bytes instead of ${sizeBytes}`, at);
  return unpacked;
}

/** A zstd stream (RFC 8878) that must unpack to exactly `sizeBytes`. */
export function unpackZstandard(packed: Uint8Array, sizeBytes: number): Uint8Array {
  const unpacked = new Uint8Array(sizeBytes);
  let at = 0;
  const decompress = new Decompress((chunk) => {
    if (at + chunk.length > sizeBytes) throw new MalformedInput('a zstd stream is longer than it claims', at);
    unpacked.set(chunk, at);
    at += chunk.length;
  });
  try {
    for (let from = 0; from < packed.length; from += stepBytes)
      decompress.push(packed.subarray(from, from + stepBytes), from + stepBytes >= packed.length);
  } catch (error) {
    throw asMalformed(error, 'a zstd stream cannot be unpacked', at);
  }
  if (at !== sizeBytes) throw new MalformedInput(`a zstd stream unpacks to ${at} bytes instead of ${sizeBytes}`, at);
  return unpacked;
}

/** An .xz file of unknown size, up to a limit. */
export const unpackXz = (packed: Uint8Array, maximumBytes: number): Promise<Uint8Array> =>
  gather(new xz.XzReadableStream(streamOf(packed)), maximumBytes, 'an xz stream');

/** A gzip file (RFC 1952) of unknown size, up to a limit. */
export const unpackGzip = (packed: ByteSource, maximumBytes: number): Promise<Uint8Array> =>
  gather(streamOfSource(packed).pipeThrough(new DecompressionStream('gzip')), maximumBytes, 'a gzip file');

/** As much as the first bytes of a gzip file unpack to; nothing where they are damaged at once. */
export async function unpackGzipHead(head: Uint8Array, maximumBytes: number): Promise<Uint8Array> {
  const parts: Uint8Array[] = [];
  let sizeBytes = 0;
  try {
    for await (const chunk of chunksOf(streamOf(head).pipeThrough(new DecompressionStream('gzip')))) {
      parts.push(chunk.slice());
      sizeBytes += chunk.length;
      if (sizeBytes >= maximumBytes) break;
    }
  } catch (error) {
    // The end of a head is the middle of the file.
    if (!(error instanceof MalformedInput)) throw error;
  }
  return joined(parts, sizeBytes).subarray(0, maximumBytes);
}

async function gather(stream: ReadableStream<Uint8Array>, maximumBytes: number, what: string): Promise<Uint8Array> {
  const parts: Uint8Array[] = [];
  let sizeBytes = 0;
  for await (const chunk of chunksOf(stream)) {
    sizeBytes += chunk.length;
    if (sizeBytes > maximumBytes) throw new MalformedInput(`${what} unpacks to more than ${maximumBytes} bytes`, 0);
    parts.push(chunk.slice());
  }
  return joined(parts, sizeBytes);
}

function joined(parts: readonly Uint8Array[], sizeBytes: number): Uint8Array {
  const whole = new Uint8Array(sizeBytes);
  let at = 0;
  for (const part of parts) {
    whole.set(part, at);
    at += part.length;
  }
  return whole;
}

/** Reads a source in steps, as they are wanted. */
function streamOfSource(source: ByteSource): ReadableStream<Uint8Array<ArrayBuffer>> {
  let at = 0;
  return new ReadableStream({
    async pull(controller) {
      if (at >= source.sizeBytes) {
        controller.close();
        return;
      }
      const length = Math.min(stepBytes, source.sizeBytes - at);
      controller.enqueue((await source.read(at, length)) as Uint8Array<ArrayBuffer>);
      at += length;
    },
  });
}

/** Gives the bytes in steps, so that a stream that unpacks to too much is stopped early. */
function streamOf(bytes: Uint8Array): ReadableStream<Uint8Array<ArrayBuffer>> {
  let at = 0;
  return new ReadableStream({
    pull(controller) {
      if (at >= bytes.length) controller.close();
      else controller.enqueue(bytes.subarray(at, at + stepBytes) as Uint8Array<ArrayBuffer>);
      at += stepBytes;
    },
  });
}

/** What a stream gives; its own failure becomes malformed input. */
async function* chunksOf(stream: ReadableStream<Uint8Array>): AsyncGenerator<Uint8Array> {
  const reader = stream.getReader();
  try {
    for (;;) {
      const step = await reader.read().catch((error: unknown) => {
        throw asMalformed(error, 'a packed section cannot be unpacked', 0);
      });
      if (step.done) return;
      yield step.value;
    }
  } finally {
    reader.cancel().catch(() => {});
  }
}

const asMalformed = (error: unknown, what: string, at: number): MalformedInput =>
  error instanceof MalformedInput ? error : new MalformedInput(`${what}: ${error instanceof Error ? error.message : String(error)}`, at);
