import { wordCount } from '../../words/count.ts';
import { symbolFamily } from '../family.ts';
import type { AssemblySummary } from './assembly-index.ts';

export const assemblyFamily = symbolFamily({
  kind: 'assembly',
  number: 5,
  title: '.NET assembly',
  files: '.NET assemblies (.dll)',
  called: (name) => (name === null ? 'assembly' : `assembly ${name}`),
  usualFile: (name) => (name === null ? 'path/to/build/output' : `${name}.dll`),
  withoutIt: 'methods without their lines',
  missing: ({ symbolId }) =>
    `the frames print a module version id in place of a file; give the assembly (.dll) with id ${symbolId} as well as its PDB`,
  describe: ({ methods, pdbId }: AssemblySummary) => ({
    covers: `names of ${wordCount(methods, 'method', 'methods')}${pdbId === null ? '; compiled without a PDB' : ''}`,
    warnings: pdbId === null ? ['it was compiled without debug information, so there is no PDB to give it lines'] : [],
    names: pdbId === null ? [] : [['PDB', pdbId]],
  }),
});
