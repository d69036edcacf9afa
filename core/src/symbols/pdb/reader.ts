import { success } from '../../result.ts';
import { readWhole, symbolReader } from '../reader.ts';
import { isMetadata } from './metadata.ts';
import { PdbIndex } from './pdb-index.ts';
import { pdbPart } from './pdb-part.ts';

export const pdbReader = symbolReader({
  kind: 'pdb',
  open: (sections) => PdbIndex.open(sections),
  formats: [
    {
      format: 'portable-pdb',
      title: 'portable PDB',
      detect: isMetadata,
      index: async (source, { fileName }) => success([pdbPart(await readWhole(source), assemblyNameOf(fileName))]),
    },
  ],
});

const assemblyNameOf = (fileName: string): string => fileName.replace(/^.*[\\/]/, '').replace(/\.pdb$/i, '');
