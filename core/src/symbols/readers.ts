import type { ByteSource } from '../bytes/byte-source.ts';
import { assemblyReader } from './assembly/reader.ts';
import { codeReader } from './code/reader.ts';
import type { SymbolFileKind } from './families.ts';
import { mappingReader } from './mapping/reader.ts';
import { obfuscationMapReader } from './obfuscation-map/reader.ts';
import { pdbReader } from './pdb/reader.ts';
import type { Part, SymbolFormat } from './reader.ts';
import { sourceMapReader } from './sourcemap/reader.ts';
import { splitReader } from './split/reader.ts';

/** How each family is read, in the order in which a file is tried: by magic numbers first, by what texts look like last. */
export const symbolReaders = [
  codeReader,
  splitReader,
  pdbReader,
  assemblyReader,
  obfuscationMapReader,
  sourceMapReader,
  mappingReader,
] as const;

type Reader = (typeof symbolReaders)[number];
type ReaderOf<Kind extends SymbolFileKind> = Extract<Reader, { readonly kind: Kind }>;
type Opened<Reading> = Reading extends { open(sections: never): infer Given } ? Extract<Given, { readonly ok: true }> : never;
/** What answers questions about a file of a family. */
export type IndexOf<Kind extends SymbolFileKind> = Opened<ReaderOf<Kind>> extends { readonly value: infer Index } ? Index : never;

export type SymbolFileFormat = Reader['formats'][number]['format'];

/** A form of symbol files, and the family that it is read as first. */
export const symbolFormats = symbolReaders.flatMap(({ kind, formats }) =>
  (formats as readonly SymbolFormat[]).map((one) => ({ ...one, format: one.format as SymbolFileFormat, kind })),
);

export const formatOf = (format: SymbolFileFormat) => symbolFormats.find((one) => one.format === format) as (typeof symbolFormats)[number];

/** Whether a file that nobody named is meant, or only looks like a symbol file. */
export const isMeant = async (format: SymbolFileFormat, fileName: string, source: ByteSource): Promise<boolean> =>
  (await formatOf(format).isMeant?.(fileName, source)) ?? true;

/** One index of a known family. */
export type IndexedPart = Omit<Part, 'kind'> & { readonly kind: SymbolFileKind };
