import { wordCount } from '../../words/count.ts';
import { symbolFamily } from '../family.ts';
import type { MappingSummary } from './index-layout.ts';

export const mappingFamily = symbolFamily({
  kind: 'mapping',
  number: 1,
  title: 'obfuscation mapping',
  files: 'obfuscation mappings (mapping.txt)',
  called: () => 'mapping',
  usualFile: () => 'mapping.txt',
  withoutIt: 'the obfuscated names',
  missing: ({ symbolId }) =>
    symbolId === null
      ? 'the names are obfuscated and no mapping was given; pass it with --symbols mapping.txt'
      : `the frames ask for the mapping with id ${symbolId}, which is not among the files given`,
  isOfBuild: true,
  // An obfuscator prints the whole hash of its mapping, or its first digits.
  shortIdDigits: 7,
  mayLoseId: true,
  describe: ({ compiler, classes, methods, lines, unreadableLines, warnings }: MappingSummary) => ({
    title: `obfuscation mapping${compiler ? ` written by ${compiler}` : ''}`,
    covers: `${wordCount(classes, 'class', 'classes')}, ${wordCount(methods, 'method', 'methods')}`,
    details: [
      wordCount(lines, 'line', 'lines'),
      ...(warnings ?? []).slice(0, 5).map(({ line, text }) => `line ${line} could not be read: ${text.slice(0, 100)}`),
    ].join('; '),
    warnings: unreadableLines > 0 ? [`${wordCount(unreadableLines, 'line', 'lines')} could not be read`] : [],
  }),
});
