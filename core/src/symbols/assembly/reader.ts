import { success } from '../../result.ts';
import { pdbPart } from '../pdb/pdb-part.ts';
import { type Part, readWhole, symbolReader } from '../reader.ts';
import { AssemblyIndex, indexAssembly } from './assembly-index.ts';
import { isPortableExecutable, readAssemblyFile } from './pe-file.ts';

export const assemblyReader = symbolReader({
  kind: 'assembly',
  open: (sections) => AssemblyIndex.open(sections),
  formats: [
    {
      format: 'assembly',
      title: '.NET assembly',
      detect: isPortableExecutable,
      // An assembly names its methods and its PDB, which it may hold itself.
      index: async (source) => {
        const file = await readAssemblyFile(await readWhole(source));
        const built = indexAssembly(file);
        const { name, symbolId } = built.summary;
        const assembly: Part = { kind: 'assembly', name, symbolId, built };
        return success(file.embeddedPdb ? [assembly, pdbPart(file.embeddedPdb, name)] : [assembly]);
      },
    },
  ],
});
