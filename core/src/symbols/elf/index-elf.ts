import { stringAt } from '../../bytes/byte-reader.ts';
import type { ByteSource } from '../../bytes/byte-source.ts';
import { sourceOf } from '../../bytes/byte-source.ts';
import { unpackXz } from '../../bytes/unpack.ts';
import { CodeIndexBuilder } from '../code/index-builder.ts';
import type { CodeSummary, LoadedSegment } from '../code/index-layout.ts';
import { readSafely, type Warnings } from '../code/warnings.ts';
import { type Progress, readDwarf, splitUnitIds } from '../dwarf/read-dwarf.ts';
import { type DwarfSectionName, type DwarfSections, dwarfSectionNames, dwarfSections } from '../dwarf/sections.ts';
import type { BuiltIndex } from '../index-file.ts';
import { architectureOf, type ElfFile, readBuildId, readElfFile, SHF, SHT } from './elf-file.ts';
import { readSection } from './section-data.ts';
import { readElfSymbols } from './symbols.ts';

const maximumLinkBytes = 4096;
const maximumMiniTableBytes = 512 * 2 ** 20;

/**
 * Makes the index of an ELF file: a library with or without debug information, a separate debug file, or one with only
 * a symbol table. `splits` are the sections of the `.dwp` and `.dwo` files at hand. Throws `MalformedInput` for a file
 * whose headers cannot be read; damage inside becomes a warning.
 */
export async function indexElf(
  source: ByteSource,
  { splits = [], progress }: { splits?: readonly DwarfSections[]; progress?: Progress } = {},
): Promise<BuiltIndex<CodeSummary>> {
  const file = await readElfFile(source);
  const base = lowestCode(file);
  const builder = new CodeIndexBuilder(codeOf(file, base));
  await readSafely(builder.warnings, 'the symbol table', async () => {
    for (const symbol of await readElfSymbols(file, base, builder.names)) builder.symbols.push(symbol);
  });
  await readSafely(builder.warnings, 'the mini symbol table', async () => {
    for (const symbol of await readMiniTable(file, base, builder)) builder.symbols.push(symbol);
  });
  const sections = await readDwarfSections(file, '', builder.warnings);
  readDwarf({ sections, littleEndian: file.littleEndian, base, splits, ...(progress ? { progress } : {}) }, builder);
  return builder.finish({
    format: 'elf',
    architecture: architectureOf(file),
    symbolId: await readBuildId(file),
    base,
    imageAddress: imageAddress(file.segments),
    segments: file.segments,
  });
}

/** The sections of a `.dwo` or `.dwp` file, and the ids of the units in it. */
export async function readSplitFile(source: ByteSource, warnings: Warnings): Promise<{ sections: DwarfSections; ids: string[] }> {
  const file = await readElfFile(source);
  const sections = await readDwarfSections(file, '.dwo', warnings);
  return { sections, ids: splitUnitIds(sections, file.littleEndian, warnings) };
}

/** Name of the file that the debug information was moved to (`.gnu_debuglink`, GDB manual, "Separate Debug Files"); null when none is named. */
export async function readDebugLink(source: ByteSource): Promise<string | null> {
  const file = await readElfFile(source);
  const section = file.sections.find((one) => one.name === '.gnu_debuglink');
  if (!section || section.type === SHT.NOBITS || section.sizeBytes > maximumLinkBytes) return null;
  return stringAt(await readSection(file, section), 0) || null;
}

/** Debug sections by name; those of split units end in ".dwo", the index of a package does not. */
async function readDwarfSections(file: ElfFile, suffix: '' | '.dwo', warnings: Warnings): Promise<DwarfSections> {
  const found: Partial<Record<DwarfSectionName, Uint8Array>> = {};
  for (const name of dwarfSectionNames) {
    const ending = name === 'debug_cu_index' ? '' : suffix;
    const section = file.sections.find((one) => one.name === `.${name}${ending}` || one.name === `.z${name}${ending}`);
    if (section)
      await readSafely(warnings, `the section ${section.name}`, async () => {
        found[name] = await readSection(file, section);
      });
  }
  return dwarfSections(found);
}

/** The symbol table that stripped libraries carry, packed, for those who unwind them. */
async function readMiniTable(file: ElfFile, base: number, builder: CodeIndexBuilder) {
  const section = file.sections.find((one) => one.name === '.gnu_debugdata');
  if (!section || section.type === SHT.NOBITS) return [];
  const unpacked = await unpackXz(await readSection(file, section), maximumMiniTableBytes);
  return readElfSymbols(await readElfFile(sourceOf(unpacked)), base, builder.names);
}

const executableSections = (file: ElfFile) =>
  file.sections.filter((section) => (section.flags & SHF.EXECINSTR) !== 0 && (section.flags & SHF.ALLOC) !== 0 && section.sizeBytes > 0);

function lowestCode(file: ElfFile): number {
  const starts = [
    ...executableSections(file).map((section) => section.address),
    ...file.segments.filter((segment) => segment.executable).map((segment) => segment.address),
  ];
  return starts.length === 0 ? 0 : Math.min(...starts);
}

/** Sections are exact; a file whose section table was stripped still has its segments. */
function codeOf(file: ElfFile, base: number): { start: number; end: number }[] {
  const sections = executableSections(file);
  const code = sections.length > 0 ? sections : file.segments.filter((segment) => segment.executable);
  return code
    .map((one) => ({ start: one.address - base, end: one.address - base + ('sizeBytes' in one ? one.sizeBytes : one.memorySize) }))
    .sort((a, b) => a.start - b.start);
}

const pageBytes = 4096;

/** The loader maps the first segment from the beginning of its page. */
function imageAddress(segments: readonly LoadedSegment[]): number {
  if (segments.length === 0) return 0;
  const first = Math.min(...segments.map((segment) => segment.address));
  return first - (first % pageBytes);
}
