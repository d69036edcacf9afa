import { wordCount } from '../../words/count.ts';
import { firstWarning, symbolFamily } from '../family.ts';
import type { CodeSummary } from './index-layout.ts';

export const codeFamily = symbolFamily({
  kind: 'code',
  number: 2,
  title: 'machine code',
  files: 'ELF and Mach-O files with debug information or symbols (.so, .debug, dSYM)',
  called: (name) => (name === null ? 'symbols' : `symbols of ${name}`),
  isPlural: true,
  usualFile: (name) => `path/to/unstripped/${name ?? 'library'}`,
  withoutIt: 'addresses instead of names',
  missing: ({ symbolId, name }) =>
    symbolId === null
      ? `the frames in ${name} print no id, and no symbol file of that name was given`
      : `the frames in ${name ?? 'the app'} ask for the symbols with id ${symbolId}, which are not among the files given`,
  describe: ({ format, architecture, debugInformation, missingSplitUnitCount, warnings, warningCount, ...counts }: CodeSummary) => ({
    title: `${format === 'elf' ? 'ELF' : 'Mach-O'} for ${architecture}, ${debugInformation ? 'with debug information' : 'function symbols only, no lines'}`,
    covers: debugInformation
      ? `${architecture}: ${wordCount(counts.functions, 'function', 'functions')} with lines in ${wordCount(counts.units, 'unit', 'units')}`
      : `${architecture}: ${wordCount(counts.symbols, 'function', 'functions')} by name, no lines`,
    details: `${wordCount(counts.inlinedCalls, 'inlined call', 'inlined calls')}, ${wordCount(counts.lineRows, 'line row', 'line rows')}, ${wordCount(counts.symbols, 'symbol', 'symbols')}`,
    warnings: [
      ...(missingSplitUnitCount > 0 ? [`${wordCount(missingSplitUnitCount, 'unit lacks its', 'units lack their')} .dwp or .dwo file`] : []),
      ...firstWarning(warnings, warningCount),
    ],
  }),
});
