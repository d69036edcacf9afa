import type { ByteSource } from '../../bytes/byte-source.ts';
import { type Result, success } from '../../result.ts';
import { Warnings } from '../code/warnings.ts';
import { readElfFile } from '../elf/elf-file.ts';
import { readSplitFile } from '../elf/index-elf.ts';
import { type BuiltIndex, type IndexProblem, type IndexSections, readIndex } from '../index-file.ts';

/** Section numbers of an index of split units. */
const sections = { summary: 1, stringOffsets: 2, stringBytes: 3 } as const;

/** What is known of a `.dwp` or `.dwo` file: it holds functions for units of a binary, and no addresses of its own. */
export interface SplitSummary {
  readonly units: number;
}

/** Whether an ELF file is a package of split units or one of them (DWARF 5 section 7.3). */
export async function isSplitFile(source: ByteSource): Promise<boolean> {
  const { sections: all } = await readElfFile(source);
  return all.some(({ name }) => name === '.debug_info.dwo' || name === '.debug_cu_index');
}

/** Makes the index of a file of split units: what matters of it goes into the index of its binary. Throws MalformedInput. */
export async function indexSplitUnits(source: ByteSource): Promise<BuiltIndex<SplitSummary>> {
  const { ids } = await readSplitFile(source, new Warnings());
  const summary: SplitSummary = { units: ids.length };
  return { kind: 'split', sections: new Map([[sections.summary, new TextEncoder().encode(JSON.stringify(summary))]]), summary };
}

/** Opened split units; nothing is looked up in them. */
export class SplitUnits {
  private constructor(readonly summary: SplitSummary) {}

  static open(source: Uint8Array | IndexSections): Result<SplitUnits, IndexProblem> {
    const read = readIndex<typeof sections, SplitSummary>(source, 'split', sections);
    return read.ok ? success(new SplitUnits(read.value.summary)) : read;
  }
}
