import { type StringTable, StringTableBuilder } from '../../bytes/string-table.ts';
import { failure, type Result, success } from '../../result.ts';
import { type BuiltIndex, type IndexProblem, type IndexReading, type IndexSections, readIndex } from '../index-file.ts';

/** Section numbers of an index of an obfuscation map; `docs/symbol-index.md` describes each. */
export const obfuscationMapSections = { summary: 1, stringOffsets: 2, stringBytes: 3, obfuscated: 10, original: 11 } as const;

/** What an index of an obfuscation map says about itself. */
export interface ObfuscationMapSummary {
  readonly names: number;
}

const maximumBytes = 256 << 20;

/** Whether a JSON text begins like an obfuscation map: a list of names, not an object. */
export const isObfuscationMap = (head: Uint8Array): boolean => /^\s*\[\s*(?:\]|")/.test(new TextDecoder().decode(head.subarray(0, 256)));

/**
 * Makes the index of the map that Dart's compiler writes (`--save-obfuscation-map`): one JSON list in which the original
 * name of each symbol is followed by its obfuscated one.
 */
export function indexObfuscationMap(bytes: Uint8Array): Result<BuiltIndex<ObfuscationMapSummary>, 'damaged'> {
  if (bytes.length > maximumBytes) return failure('damaged', `an obfuscation map of ${bytes.length} bytes is too large`);
  let list: unknown;
  try {
    list = JSON.parse(new TextDecoder().decode(bytes));
  } catch (error) {
    return failure('damaged', `the obfuscation map is not valid JSON: ${error instanceof Error ? error.message.slice(0, 200) : error}`);
  }
  if (!Array.isArray(list) || list.length % 2 !== 0)
    return failure('damaged', 'an obfuscation map is a list of names in pairs: each original one, then its obfuscated one');
  const originals = new Map<string, string>();
  for (let at = 0; at < list.length; at += 2) {
    const [original, obfuscated] = [list[at], list[at + 1]];
    if (typeof original !== 'string' || typeof obfuscated !== 'string')
      return failure('damaged', `entry ${at} of the obfuscation map is not a name`);
    if (original !== obfuscated) originals.set(obfuscated, original);
  }
  const names = [...originals].sort(([a], [b]) => (a < b ? -1 : 1));
  const strings = new StringTableBuilder();
  const obfuscatedColumn = Uint32Array.from(names, ([obfuscated]) => strings.add(obfuscated));
  const originalColumn = Uint32Array.from(names, ([, original]) => strings.add(original));
  const summary: ObfuscationMapSummary = { names: names.length };
  const encoded = strings.encode();
  const sections = new Map<number, Uint8Array | Uint32Array>([
    [obfuscationMapSections.summary, new TextEncoder().encode(JSON.stringify(summary))],
    [obfuscationMapSections.stringOffsets, encoded.offsets],
    [obfuscationMapSections.stringBytes, encoded.bytes],
    [obfuscationMapSections.obfuscated, obfuscatedColumn],
    [obfuscationMapSections.original, originalColumn],
  ]);
  return success({ kind: 'obfuscation-map', sections, summary });
}

/** Finds original names by the obfuscated ones. */
export class ObfuscationMapIndex {
  private readonly strings: StringTable;
  private readonly column: IndexReading<typeof obfuscationMapSections, ObfuscationMapSummary>['column'];
  readonly summary: ObfuscationMapSummary;

  private constructor({ strings, column, summary }: IndexReading<typeof obfuscationMapSections, ObfuscationMapSummary>) {
    this.strings = strings;
    this.column = column;
    this.summary = summary;
  }

  /** Opens an index that the builder made, or its file; anything else is a problem in words. */
  static open(source: Uint8Array | IndexSections): Result<ObfuscationMapIndex, IndexProblem> {
    const read = readIndex<typeof obfuscationMapSections, ObfuscationMapSummary>(source, 'obfuscation-map', obfuscationMapSections);
    return read.ok ? success(new ObfuscationMapIndex(read.value)) : read;
  }

  /** The name as it was written; null when the map does not hold it. */
  original(obfuscated: string): string | null {
    const { obfuscated: names, original } = this.column;
    const place = this.strings.placeIn(names, obfuscated);
    if (place >= names.length || this.strings.get(names[place] as number) !== obfuscated) return null;
    return this.strings.get(original[place] as number);
  }
}
