import type { IncomingMessage } from 'node:http';
import type { Readable } from 'node:stream';
import { createGunzip } from 'node:zlib';
import { ApiError } from '../errors.ts';
import { intakeLimits } from '../intake/intake-limits.ts';
import type { LargePlace } from './large-bodies.ts';

/** The body as it was before it was compressed; a limit on what comes out is the caller's. */
export function decodedBody(request: IncomingMessage): Readable {
  const encoding = (request.headers['content-encoding'] ?? 'identity').toLowerCase();
  if (encoding === 'identity') return request;
  if (encoding !== 'gzip' && encoding !== 'x-gzip')
    throw new ApiError('unsupported-encoding', `The content encoding "${encoding.slice(0, 40)}" is not known here.`);
  const gunzip = createGunzip();
  request.on('error', (error) => gunzip.destroy(error));
  return request.pipe(gunzip);
}

/** How much beyond the limit is read and dropped: a sender gets to see an answer only once all of its body was taken. */
const droppedBytes = 16 * 1024 * 1024;

/** The chunks of a body; too many bytes, or bytes that are no gzip, end it with an error for the caller. */
export async function* limitedChunks(body: Readable, limitBytes: number): AsyncGenerator<Buffer> {
  let taken = 0;
  try {
    for await (const chunk of body as AsyncIterable<Buffer>) {
      taken += chunk.length;
      if (taken <= limitBytes) yield chunk;
      else if (taken > limitBytes + droppedBytes) break;
    }
  } catch (error) {
    if (error instanceof Error && 'code' in error && String(error.code).startsWith('Z_'))
      throw new ApiError('bad-gzip', 'The body says it is gzip, but cannot be unpacked.');
    throw error;
  }
  if (taken > limitBytes) throw new ApiError('too-large', `The body has more than ${limitBytes} bytes, the limit here.`, { limitBytes });
}

/** The whole body of a request in memory, unpacked, up to a limit. One that turns out to be large takes its place first. */
export async function readBody(request: IncomingMessage, limitBytes: number, place?: LargePlace): Promise<Buffer> {
  const declared = Number(request.headers['content-length'] ?? 0);
  if (declared > limitBytes)
    throw new ApiError('too-large', `The body has ${declared} bytes; the limit here is ${limitBytes}.`, { limitBytes });
  return readWhole(decodedBody(request), limitBytes, place);
}

/** A stream in memory, up to a limit. */
export async function readWhole(body: Readable, limitBytes: number, place?: LargePlace): Promise<Buffer> {
  const chunks: Buffer[] = [];
  let taken = 0;
  const startedAt = Date.now();
  for await (const chunk of limitedChunks(body, limitBytes)) {
    chunks.push(chunk);
    taken += chunk.length;
    if (!place || taken <= intakeLimits.smallBytes) continue;
    await place.take();
    if (Date.now() - startedAt > intakeLimits.largeBodyMs + intakeLimits.largeWaitMs)
      throw new ApiError('too-slow', `The body did not come within ${intakeLimits.largeBodyMs / 1000} seconds.`);
  }
  return Buffer.concat(chunks);
}
