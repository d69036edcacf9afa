import { wordCount } from '../../words/count.ts';
import { symbolFamily } from '../family.ts';
import type { ObfuscationMapSummary } from './obfuscation-map.ts';

export const obfuscationMapFamily = symbolFamily({
  kind: 'obfuscation-map',
  number: 6,
  title: 'obfuscation map',
  files: 'the obfuscation maps of Dart (.json)',
  called: () => 'obfuscation map',
  usualFile: () => 'obfuscation-map.json',
  withoutIt: 'renamed types in messages',
  missing: () => 'the types are renamed and no obfuscation map was given; pass the file that --save-obfuscation-map wrote',
  isOfBuild: true,
  describe: ({ names }: ObfuscationMapSummary) => ({
    title: 'obfuscation map of Dart',
    covers: wordCount(names, 'name', 'names'),
    warnings: [],
  }),
});
