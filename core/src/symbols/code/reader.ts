import { failure, type Result, success } from '../../result.ts';
import { isElf } from '../elf/elf-file.ts';
import { indexElf, readDebugLink } from '../elf/index-elf.ts';
import type { BuiltIndex } from '../index-file.ts';
import { indexMachO } from '../macho/index-macho.ts';
import { isThinMachO, isUniversalMachO, slicesOf } from '../macho/macho-file.ts';
import { type Part, type SymbolFileProblem, symbolReader } from '../reader.ts';
import { indexSplitUnits, isSplitFile } from '../split/split-units.ts';
import type { CodeSummary } from './index-layout.ts';
import { CodeIndex } from './lookup.ts';

export const codeReader = symbolReader({
  kind: 'code',
  open: (sections) => CodeIndex.open(sections),
  formats: [
    {
      format: 'elf',
      title: 'ELF',
      detect: isElf,
      index: async (source, { fileName, splits, progress }) => {
        if (await isSplitFile(source))
          return success([{ kind: 'split', name: fileName, symbolId: null, built: await indexSplitUnits(source) }]);
        return codeParts([await indexElf(source, { splits, ...(progress ? { progress } : {}) })], fileName, await readDebugLink(source));
      },
    },
    {
      format: 'mach-o',
      title: 'Mach-O',
      detect: (head) => isThinMachO(head) || isUniversalMachO(head),
      index: async (source, { fileName, progress }) => {
        const built: BuiltIndex<CodeSummary>[] = [];
        for (const slice of await slicesOf(source)) built.push(await indexMachO(slice, progress));
        return codeParts(built, fileName);
      },
    },
  ],
});

/** `debugLink` is the file that a stripped binary says its debug information was moved to. */
function codeParts(
  built: readonly BuiltIndex<CodeSummary>[],
  fileName: string,
  debugLink: string | null = null,
): Result<Part[], SymbolFileProblem> {
  const useful = built.filter(({ summary }) => summary.debugInformation || summary.symbols > 0);
  if (useful.length === 0)
    return failure(
      'nothing-inside',
      'the binary holds neither debug information nor function symbols: it was stripped; ' +
        (debugLink === null
          ? 'upload the unstripped file of the same build'
          : `it says that its debug information is in "${debugLink}": upload that file`),
    );
  const name = imageNameOf(fileName);
  return success(useful.map((one) => ({ kind: 'code', name, symbolId: one.summary.symbolId, built: one })));
}

/** The name of the image that a file with debug information belongs to. */
const imageNameOf = (fileName: string): string => fileName.replace(/\.(?:debug|dbg|sym|symbols|unstripped|dwarf)$/, '');
