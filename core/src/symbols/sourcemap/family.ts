import { wordCount } from '../../words/count.ts';
import { firstWarning, symbolFamily } from '../family.ts';
import type { SourceMapSummary } from './index-layout.ts';

export const sourceMapFamily = symbolFamily({
  kind: 'sourcemap',
  number: 3,
  title: 'source map',
  files: 'source maps (.map, or inside their script)',
  called: (name) => (name === null ? 'source map' : `source map of ${name}`),
  usualFile: (name) => `${name ?? 'script.js'}.map`,
  withoutIt: 'places in the bundle instead of its sources',
  missing: ({ name }) => `the frames in ${name ?? 'the script'} ask for its source map, which is not among the files given`,
  isOfBuild: true,
  describe: ({ sources, sourcesWithText, segments, functions, warnings, warningCount }: SourceMapSummary) => ({
    covers: `${wordCount(sources, 'source', 'sources')}, ${wordCount(functions, 'function', 'functions')}`,
    details: `${wordCount(sourcesWithText, 'source has its text', 'sources have their text')}, ${wordCount(segments, 'place', 'places')}`,
    warnings: firstWarning(warnings, warningCount),
  }),
});
