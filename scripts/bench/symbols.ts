import { spawnSync } from 'node:child_process';
import { mkdirSync, openSync, readSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { originalPositionFor, TraceMap } from '@jridgewell/trace-mapping';
import type { ByteSource } from '@rough-ember/core/bytes/byte-source';
import { CodeIndex } from '@rough-ember/core/symbols/code/lookup';
import { indexElf } from '@rough-ember/core/symbols/elf/index-elf';
import { sectionsOf, writeIndexFile } from '@rough-ember/core/symbols/index-file';
import { indexSourceMap } from '@rough-ember/core/symbols/sourcemap/index-builder';
import { SourceMapIndex } from '@rough-ember/core/symbols/sourcemap/lookup';
import { compilerSuite, requireProgram } from '../debian.ts';
import { type Bench, medianMs } from './figure.ts';
import { buildNativeLibrary } from './native-library.ts';

const lookups = 20_000;
const megabytes = (bytes: number) => `${(bytes / 1e6).toFixed(0)} MB`;

interface Library {
  readonly path: string;
  readonly sizeBytes: number;
  readonly addresses: readonly number[];
  readonly yardstickMs: number;
}

/** Both figures ask the same library, which takes minutes to compile. */
let library: Promise<Library> | null = null;

async function prepareLibrary(): Promise<Library> {
  requireProgram(compilerSuite);
  const folder = join(tmpdir(), `ember-bench-library-${process.pid}`);
  mkdirSync(folder, { recursive: true });
  const path = await buildNativeLibrary(folder);
  const { summary } = await indexElf(sourceOfFile(path));
  const code = summary.segments.find((segment) => segment.executable);
  if (!code) throw new Error('the library holds no code');
  // A stride spreads the questions over the whole file, as crashes of many places do.
  const addresses = Array.from({ length: lookups }, (_, at) => code.address + ((at * 7919 * 64) % code.memorySize));
  const asked = addresses.map((address) => `0x${address.toString(16)}\n`).join('');
  const yardstickMs = await medianMs(() => {
    const answer = spawnSync('llvm-symbolizer-19', [`--obj=${path}`, '--inlines'], { input: asked, maxBuffer: 1 << 30 });
    if (answer.status !== 0 || answer.stdout.length < lookups) throw new Error('the yardstick gave no answers');
  });
  return { path, sizeBytes: statSync(path).size, addresses, yardstickMs };
}

function sourceOfFile(path: string): ByteSource {
  const file = openSync(path, 'r');
  return {
    sizeBytes: statSync(path).size,
    read: async (offset, length) => {
      const bytes = new Uint8Array(length);
      readSync(file, bytes, 0, length, offset);
      return bytes;
    },
  };
}

const open = (source: Parameters<typeof CodeIndex.open>[0]): CodeIndex => {
  const opened = CodeIndex.open(source);
  if (!opened.ok) throw new Error(opened.problem.message);
  return opened.value;
};

function askAll(index: CodeIndex, addresses: readonly number[]): number {
  let frames = 0;
  for (const address of addresses) {
    const match = index.lookup(address);
    if (match.state !== 'not-covered') frames += match.frames.length;
  }
  if (frames < addresses.length / 2) throw new Error('nothing was looked up');
  return frames;
}

const yardstick = "the compiler suite's own symbolizer, one process that answers the same addresses with inlined calls";

/** Indexing a large library and looking addresses up in it, from nothing. */
export const dwarfCold: Bench = async () => {
  library ??= prepareLibrary();
  const { path, sizeBytes, addresses, yardstickMs } = await library;
  let peakBytes = 0;
  const coldMs = await medianMs(async () => {
    askAll(open(sectionsOf(await indexElf(sourceOfFile(path)))), addresses);
    peakBytes = Math.max(peakBytes, process.memoryUsage().rss);
  });
  return {
    name: 'dwarf.cold',
    value: coldMs,
    unit: 'ms',
    yardstick,
    ratio: coldMs / yardstickMs,
    note: `${megabytes(sizeBytes)} with debug information, ${lookups} look-ups; memory of the whole process ${megabytes(peakBytes)}`,
  };
};

/** Looking the same addresses up in an index that lies on disk already. */
export const dwarfWarm: Bench = async () => {
  library ??= prepareLibrary();
  const { path, addresses, yardstickMs } = await library;
  const file = writeIndexFile(await indexElf(sourceOfFile(path)));
  let frames = 0;
  const warmMs = await medianMs(() => {
    frames = askAll(open(file), addresses);
  });
  return {
    name: 'dwarf.warm',
    value: warmMs,
    unit: 'ms',
    yardstick,
    ratio: warmMs / yardstickMs,
    note: `opening and checking an index of ${megabytes(file.length)}, then ${lookups} look-ups that gave ${frames} frames`,
  };
};

const mapLookups = 100_000;
const mapSources = 240;
const namesInMap = 20_000;

/** A map of many sources: one segment for every few letters of a minified bundle. */
function generateSourceMap(): { json: Uint8Array; columns: number } {
  const alphabet = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';
  const number = (value: number): string => {
    let text = '';
    for (let rest = value < 0 ? (-value << 1) | 1 : value << 1; ; ) {
      const digit = rest & 31;
      rest >>>= 5;
      text += alphabet[digit | (rest > 0 ? 32 : 0)];
      if (rest === 0) return text;
    }
  };
  const linesASource = 600;
  const line = (at: number) => `  const bird${at} = feeder.visit(${at}, "species ${at % 97}");`;
  const sourcesContent = Array.from({ length: mapSources }, () => Array.from({ length: linesASource }, (_, at) => line(at)).join('\n'));
  const mappings: string[] = [];
  let columns = 0;
  let column = 0;
  let original = 0;
  let named = 0;
  for (let source = 0; source < mapSources; source++)
    for (let at = 0; at < linesASource; at++)
      for (const [piece, step] of [2, 8, 7, 9].entries()) {
        const first = piece === 0;
        mappings.push(
          number(columns === 0 ? 0 : 5) +
            number(first && at === 0 && source > 0 ? 1 : 0) +
            number(first ? (at === 0 ? (source > 0 ? 1 - linesASource : 0) : 1) : 0) +
            number(first ? 2 - original : step) +
            (piece % 2 === 0 ? number(named++ % namesInMap === namesInMap - 1 ? 1 - namesInMap : named === 1 ? 0 : 1) : ''),
        );
        original = first ? 2 : original + step;
        column += 5;
        columns = column;
      }
  const names = Array.from({ length: namesInMap + 1 }, (_, at) => `bird${at}`);
  const sources = Array.from({ length: mapSources }, (_, at) => `src/feeder/part${at}.ts`);
  return {
    json: new TextEncoder().encode(JSON.stringify({ version: 3, sources, sourcesContent, names, mappings: mappings.join(',') })),
    columns,
  };
}

/** Decoding a large source map and looking places up in it. */
export const sourceMap: Bench = async () => {
  const { json, columns } = generateSourceMap();
  const places = Array.from({ length: mapLookups }, (_, at) => (at * 7919) % columns);
  let found = 0;
  const theirsMs = await medianMs(() => {
    const map = new TraceMap(new TextDecoder().decode(json));
    for (const column of places) if (originalPositionFor(map, { line: 1, column }).line !== null) found++;
  });
  const oursMs = await medianMs(() => {
    const indexed = indexSourceMap(json, { withFunctions: false });
    const opened = indexed.ok ? SourceMapIndex.open(sectionsOf(indexed.value)) : null;
    if (!opened?.ok) throw new Error('the map was not read');
    for (const column of places) if (opened.value.lookup(1, column)) found++;
  });
  const withFunctionsMs = await medianMs(() => {
    if (!indexSourceMap(json).ok) throw new Error('the map was not read');
  });
  if (found < mapLookups) throw new Error('nothing was looked up');
  return {
    name: 'sourcemap',
    value: oursMs,
    unit: 'ms',
    yardstick: 'a general source map library doing the same from the same bytes',
    ratio: oursMs / theirsMs,
    note: `${megabytes(json.length)}, ${mapLookups} look-ups; indexing it with the functions of its sources takes ${withFunctionsMs.toFixed(0)} ms`,
  };
};
