import type { Part } from '../reader.ts';
import { indexPdb, type PdbSummary } from './pdb-index.ts';

/** The index of a PDB, which stands in a file of its own or in its assembly. */
export function pdbPart(bytes: Uint8Array, name: string): Part<'pdb', PdbSummary> {
  const built = indexPdb(bytes);
  return { kind: 'pdb', name, symbolId: built.summary.symbolId, built };
}
