import type { DotnetFrame } from '../report/frames.ts';
import type { AssemblyIndex } from '../symbols/assembly/assembly-index.ts';
import type { PdbIndex } from '../symbols/pdb/pdb-index.ts';
import { readAsReported } from './as-reported.ts';
import { writtenDotnetMethod } from './dotnet-names.ts';
import type { Reading } from './native.ts';
import type { ReadableFrame } from './readable-report.ts';

/**
 * Gives a managed frame its file and line. One runtime prints the method's token and the name of the module; the other
 * prints the module's version id and no token: only the assembly knows which method that is, and which PDB is its own.
 */
export function readDotnetFrame(frame: DotnetFrame, rawIndex: number, { source, rule, needs }: Reading): ReadableFrame {
  const reported = readAsReported(frame, rawIndex, rule);
  if (frame.file !== null || frame.module === null || frame.ilOffset === null) return reported;
  const module = tieOfModule(frame.module);
  const assembly = source.find('assembly', module);
  const pdbTie = assembly ? { symbolId: assembly.summary.pdbId, name: assembly.summary.name } : module;
  const needsAssembly = frame.token === null;
  const pdb = needsAssembly && !assembly ? null : source.find('pdb', pdbTie);
  // What the runtime's own libraries lack is not ours to miss.
  if (reported.ours) {
    if (needsAssembly) needs.note({ kind: 'assembly', ...module }, assembly !== null);
    if (!needsAssembly || assembly) needs.note({ kind: 'pdb', ...pdbTie }, pdb !== null);
  }
  if (!pdb) return reported.ours ? { ...reported, status: 'no-symbols' } : reported;
  const tokens = frame.token !== null ? [Number.parseInt(frame.token, 16)] : (assembly?.tokens(frame.method, frame.parameters) ?? []);
  return readPlace(reported, frame.ilOffset, tokens, pdb, assembly);
}

function readPlace(
  reported: ReadableFrame,
  ilOffset: number,
  tokens: readonly number[],
  pdb: PdbIndex,
  assembly: AssemblyIndex | null,
): ReadableFrame {
  const [token] = tokens;
  const place = token === undefined ? null : pdb.lookup(token, ilOffset);
  if (token === undefined || place === null) return { ...reported, status: 'not-covered' };
  // Of several methods that print the same, none is the right one to show a line of.
  if (tokens.length > 1) {
    const isOneFile = tokens.every((one) => pdb.lookup(one, ilOffset)?.file === place.file);
    return { ...reported, file: isOneFile ? place.file : null, status: 'ambiguous' };
  }
  const writtenAs = pdb.writtenAs(token);
  const name = writtenAs === null ? null : (assembly?.methodName(writtenAs) ?? null);
  return { ...reported, ...place, function: name === null ? reported.function : writtenDotnetMethod(name), status: 'resolved' };
}

/** A printed module is the digits of its version id, with those of its native image behind a "#", or a file name. */
function tieOfModule(module: string): { symbolId: string | null; name: string | null } {
  const id = module.split('#', 1)[0] as string;
  if (/^[0-9a-fA-F]{32}$/.test(id)) return { symbolId: id.toLowerCase(), name: null };
  return { symbolId: null, name: module.replace(/\.(?:dll|exe)$/i, '') };
}
