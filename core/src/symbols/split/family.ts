import { wordCount } from '../../words/count.ts';
import { symbolFamily } from '../family.ts';
import type { SplitSummary } from './split-units.ts';

export const splitFamily = symbolFamily({
  kind: 'split',
  number: 7,
  title: 'split debug information',
  files: 'packages of split debug information (.dwp, .dwo)',
  called: () => 'split debug information',
  usualFile: () => 'library.dwp',
  withoutIt: 'inlined calls without names',
  missing: () => 'the package of split debug information is not among the files given',
  // The ids of its units tie it to its library.
  isTiedByContent: true,
  describe: ({ units }: SplitSummary) => ({
    covers: `functions of ${wordCount(units, 'unit', 'units')}, for the library they belong to`,
    warnings: [],
  }),
});
