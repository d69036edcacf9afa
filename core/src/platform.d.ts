// What the core uses of the encoding standard (WHATWG Encoding); Node, workers and browsers all have it.
declare class TextDecoder {
  constructor(label?: string, options?: { fatal?: boolean; ignoreBOM?: boolean });
  decode(input?: Uint8Array, options?: { stream?: boolean }): string;
}
declare class TextEncoder {
  encode(input?: string): Uint8Array<ArrayBuffer>;
  encodeInto(source: string, destination: Uint8Array): { read: number; written: number };
}

/** The names and values of an address (WHATWG URL, "application/x-www-form-urlencoded"). */
declare class URLSearchParams {
  constructor(text: string);
  get(name: string): string | null;
}

/** Base64 as in HTML, "atob": one letter for each byte. */
declare function atob(text: string): string;

// What the core uses of streams (WHATWG Streams and Compression).
interface ReadableStreamReader<Chunk> {
  read(): Promise<{ done: false; value: Chunk } | { done: true; value?: undefined }>;
  cancel(): Promise<void>;
}
declare class ReadableStream<Chunk> {
  constructor(source: { pull(controller: { enqueue(chunk: Chunk): void; close(): void }): void | Promise<void> });
  getReader(): ReadableStreamReader<Chunk>;
  pipeThrough(transform: DecompressionStream): ReadableStream<Uint8Array>;
}
declare class DecompressionStream {
  constructor(format: 'gzip' | 'deflate' | 'deflate-raw');
}
