import { assemblyFamily } from './assembly/family.ts';
import { codeFamily } from './code/family.ts';
import type { Coverage, SymbolFamily } from './family.ts';
import { mappingFamily } from './mapping/family.ts';
import { obfuscationMapFamily } from './obfuscation-map/family.ts';
import { pdbFamily } from './pdb/family.ts';
import { sourceMapFamily } from './sourcemap/family.ts';
import { splitFamily } from './split/family.ts';

/** Every family of symbol files, in the order in which people are told of them. */
export const symbolFamilies = [
  mappingFamily,
  obfuscationMapFamily,
  sourceMapFamily,
  pdbFamily,
  assemblyFamily,
  codeFamily,
  splitFamily,
] as const;

export type SymbolFileKind = (typeof symbolFamilies)[number]['kind'];
export const symbolFileKinds = symbolFamilies.map(({ kind }) => kind);

const byKind = Object.fromEntries(symbolFamilies.map((family) => [family.kind, family])) as unknown as Readonly<
  Record<SymbolFileKind, SymbolFamily<SymbolFileKind>>
>;
export const familyOf = (kind: SymbolFileKind): SymbolFamily<SymbolFileKind> => byKind[kind];

/** What a symbol file is called for an image or script, or alone. */
export const wordSymbolFile = ({ kind, name }: { readonly kind: SymbolFileKind; readonly name: string | null }): string =>
  byKind[kind].called(name);

/** What an index of a family covers; the summary is the one that its builder made. */
export const describeIndex = (kind: SymbolFileKind, summary: unknown): Coverage => byKind[kind].describe(summary as never);

/** The families that can be uploaded, in words. */
export const wordAllFiles = (): string => {
  const all = symbolFamilies.map(({ files }) => files);
  return `${all.slice(0, -1).join(', ')} and ${all.at(-1)}`;
};
