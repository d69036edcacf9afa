import { wordCount } from '../../words/count.ts';
import { symbolFamily } from '../family.ts';
import type { PdbSummary } from './pdb-index.ts';

export const pdbFamily = symbolFamily({
  kind: 'pdb',
  number: 4,
  title: 'portable PDB',
  files: 'portable PDBs (.pdb)',
  called: (name) => (name === null ? 'PDB' : `PDB of ${name}`),
  usualFile: (name) => `${name ?? 'App'}.pdb`,
  withoutIt: 'methods without their lines',
  missing: ({ symbolId, name }) =>
    `the frames in ${name ?? 'the app'} ask for the PDB${symbolId === null ? '' : ` with id ${symbolId}`}, which is not among the files given`,
  describe: ({ documents, methods, lines }: PdbSummary) => ({
    covers: `${wordCount(methods, 'method', 'methods')}, ${wordCount(lines, 'line', 'lines')} in ${wordCount(documents, 'source', 'sources')}`,
    warnings: [],
  }),
});
