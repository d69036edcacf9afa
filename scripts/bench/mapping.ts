import { createReadStream, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import { writeIndexFile } from '@rough-ember/core/symbols/index-file';
import { MappingIndexBuilder } from '@rough-ember/core/symbols/mapping/index-builder';
import { MappingIndex } from '@rough-ember/core/symbols/mapping/lookup';
import { type Bench, medianMs } from './figure.ts';
import { generateMapping } from './mapping-file.ts';

const classes = 50_000;
const retracedFrames = 300_000;

async function indexFile(path: string): Promise<Uint8Array> {
  const builder = new MappingIndexBuilder();
  for await (const chunk of createReadStream(path, { highWaterMark: 1 << 20 })) {
    const added = builder.add(chunk as Buffer);
    if (!added.ok) throw new Error(added.problem.message);
  }
  const finished = builder.finish();
  if (!finished.ok) throw new Error(finished.problem.message);
  return writeIndexFile(finished.value);
}

/** Indexing a mapping against only reading its lines. */
export const mappingIndex: Bench = async (folder) => {
  const path = join(folder, 'mapping.txt');
  const { text } = generateMapping(classes);
  writeFileSync(path, text);
  let indexBytes = 0;
  const indexMs = await medianMs(async () => {
    indexBytes = (await indexFile(path)).length;
  });
  let characters = 0;
  const readMs = await medianMs(async () => {
    for await (const line of createInterface({
      input: createReadStream(path, { highWaterMark: 1 << 20 }),
      crlfDelay: Number.POSITIVE_INFINITY,
    }))
      characters += line.length;
  });
  if (characters === 0) throw new Error('the yardstick read nothing');
  const megabytes = (bytes: number) => `${(bytes / 1e6).toFixed(1)} MB`;
  return {
    name: 'mapping.index',
    value: indexMs,
    unit: 'ms',
    yardstick: 'reading the same file line by line with node:readline',
    ratio: indexMs / readMs,
    note: `${classes} classes, ${megabytes(text.length)}; index ${megabytes(indexBytes)}; memory now ${megabytes(process.memoryUsage().rss)}`,
  };
};

/** Retracing frames from an opened index against looking the same classes up in a plain Map. */
export const retrace: Bench = async (folder) => {
  const path = join(folder, 'mapping.txt');
  const { text, frames } = generateMapping(classes);
  writeFileSync(path, text);
  const index = await indexFile(path);
  let restored = 0;
  const openMs = await medianMs(() => {
    if (!MappingIndex.open(index).ok) throw new Error('the index does not open');
  });
  const opened = MappingIndex.open(index);
  if (!opened.ok) throw new Error(opened.problem.message);
  // A stride spreads the questions over the whole file, as crashes of many places do.
  const wanted = Array.from({ length: retracedFrames }, (_, at) => frames[(at * 7919) % frames.length] as (typeof frames)[0]);
  const retraceMs = await medianMs(() => {
    for (const frame of wanted) {
      const match = opened.value.retrace(frame.class, frame.method, frame.line);
      if (match.state === 'found') restored += match.alternatives.length;
    }
  });
  const known = new Map(frames.map((frame) => [frame.class, frame]));
  let found = 0;
  const mapMs = await medianMs(() => {
    for (const frame of wanted) if (known.has(frame.class)) found++;
  });
  if (restored === 0 || found === 0) throw new Error('nothing was looked up');
  return {
    name: 'retrace.frames_per_second',
    value: retracedFrames / (retraceMs / 1000),
    unit: 'frames/s',
    yardstick: 'has() of a JavaScript Map that holds the same class names',
    ratio: retraceMs / mapMs,
    note: `opening the index takes ${openMs.toFixed(0)} ms`,
  };
};
