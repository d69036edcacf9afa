import { type ByteSource, readPart } from '../../bytes/byte-source.ts';
import { CodeIndexBuilder } from '../code/index-builder.ts';
import type { CodeSummary } from '../code/index-layout.ts';
import { readSafely } from '../code/warnings.ts';
import { type Progress, readDwarf } from '../dwarf/read-dwarf.ts';
import { type DwarfSectionName, type DwarfSections, dwarfSectionNames, dwarfSections } from '../dwarf/sections.ts';
import type { BuiltIndex } from '../index-file.ts';
import { isCodeSection } from './code-sections.ts';
import { type MachFile, readMachFile } from './macho-file.ts';
import { readFunctionStarts, readMachSymbols } from './symbols.ts';

/** Names of sections hold at most 16 characters. */
const longestName = 16;

/**
 * Makes the index of one slice of a Mach-O file: of a dSYM, or of the binary itself. Throws `MalformedInput` for a slice
 * whose load commands cannot be read; damage inside becomes a warning.
 */
export async function indexMachO(slice: ByteSource, progress?: Progress): Promise<BuiltIndex<CodeSummary>> {
  const file = await readMachFile(slice);
  const code = file.sections.filter(isCodeSection);
  const base = code.length === 0 ? file.textAddress : Math.min(...code.map((section) => section.address));
  const builder = new CodeIndexBuilder(
    code.map(({ address, sizeBytes }) => ({ start: address - base, end: address - base + sizeBytes })).sort((a, b) => a.start - b.start),
  );
  await readSafely(builder.warnings, 'the symbol table', async () => {
    for (const symbol of await readMachSymbols(file, base, builder.names)) builder.symbols.push(symbol);
  });
  await readSafely(builder.warnings, 'the function starts', async () => {
    for (const start of await readFunctionStarts(file, base)) builder.symbols.push(start);
  });
  const sections = await readDwarfSections(file, builder);
  readDwarf({ sections, littleEndian: file.littleEndian, base, splits: [], ...(progress ? { progress } : {}) }, builder);
  return builder.finish({
    format: 'mach-o',
    architecture: file.architecture,
    symbolId: file.uuid,
    base,
    imageAddress: file.textAddress,
    segments: file.segments,
  });
}

async function readDwarfSections(file: MachFile, builder: CodeIndexBuilder): Promise<DwarfSections> {
  const found: Partial<Record<DwarfSectionName, Uint8Array>> = {};
  for (const name of dwarfSectionNames) {
    const section = file.sections.find((one) => one.segment === '__DWARF' && one.name === `__${name}`.slice(0, longestName));
    if (section)
      await readSafely(builder.warnings, `the section ${section.name}`, async () => {
        found[name] = await readPart(file.source, section.offset, section.sizeBytes);
      });
  }
  return dwarfSections(found);
}
