import { MalformedInput } from '../../bytes/byte-reader.ts';
import { type StringTable, StringTableBuilder } from '../../bytes/string-table.ts';
import { type Result, success } from '../../result.ts';
import { type BuiltIndex, type IndexProblem, type IndexReading, type IndexSections, readIndex } from '../index-file.ts';
import { Metadata, table } from '../pdb/metadata.ts';
import { parameterTypes, printedParameterTypes, splitOutsideBrackets } from '../pdb/signature.ts';
import type { AssemblyFile } from './pe-file.ts';

/** Section numbers of an index of an assembly; `docs/symbol-index.md` describes each. */
export const assemblySections = {
  summary: 1,
  stringOffsets: 2,
  stringBytes: 3,
  methodName: 10,
  methodParameters: 11,
  methodToken: 12,
  entryOfToken: 13,
} as const;

/** What an index of an assembly says about itself. */
export interface AssemblySummary {
  /** Name of the assembly, without extension. */
  readonly name: string;
  /** The module version id that a stack prints in place of a file. */
  readonly symbolId: string | null;
  /** Id of the portable PDB of the same build; null when there is none. */
  readonly pdbId: string | null;
  readonly methods: number;
}

const none = 0xffff_ffff;
const methodTokens = 0x0600_0000;
const deepestNesting = 64;

/** Makes the index of an assembly: which method a printed name means, and which PDB belongs to the module. Throws MalformedInput. */
export function indexAssembly({ metadata: bytes, pdbId }: AssemblyFile): BuiltIndex<AssemblySummary> {
  const metadata = new Metadata(bytes);
  const strings = new StringTableBuilder();
  const typeNames = readTypeNames(metadata);
  const typeParameters = readTypeParameters(metadata);
  const methodRows = metadata.rows(table.methodDef);
  const entries: { name: string; parameters: number; row: number }[] = [];
  for (let type = 1; type <= typeNames.length; type++) {
    const first = metadata.cell(table.typeDef, type, 5);
    const behind = type < typeNames.length ? metadata.cell(table.typeDef, type + 1, 5) : methodRows + 1;
    if (first < 1 || behind > methodRows + 1) throw new MalformedInput('a type claims methods that are not there', 0);
    for (let row = first; row < behind; row++) {
      const name = `${typeNames[type - 1]}.${metadata.text(table.methodDef, row, 3)}`;
      const ofMethod = typeParameters.get((row << 1) | 1) ?? [];
      const ofType = typeParameters.get(type << 1) ?? [];
      const types = parameterTypes(metadata, metadata.blob(table.methodDef, row, 4), { ofType, ofMethod });
      entries.push({ name, parameters: strings.add(overloadKey(ofMethod.length, types)), row });
    }
  }
  entries.sort((a, b) => (a.name < b.name ? -1 : a.name > b.name ? 1 : a.row - b.row));
  const entryOfToken = new Uint32Array(methodRows + 1).fill(none);
  entries.forEach(({ row }, index) => {
    entryOfToken[row] = index;
  });
  const summary: AssemblySummary = {
    name: metadata.rows(table.assembly) > 0 ? metadata.text(table.assembly, 1, 7) : metadata.text(table.module, 1, 1).replace(/\.\w+$/, ''),
    symbolId: metadata.guid(table.module, 1, 2),
    pdbId,
    methods: entries.length,
  };
  const methodName = Uint32Array.from(entries, ({ name }) => strings.add(name));
  const encoded = strings.encode();
  const sections = new Map<number, Uint8Array | Uint32Array>([
    [assemblySections.summary, new TextEncoder().encode(JSON.stringify(summary))],
    [assemblySections.stringOffsets, encoded.offsets],
    [assemblySections.stringBytes, encoded.bytes],
    [assemblySections.methodName, methodName],
    [assemblySections.methodParameters, Uint32Array.from(entries, ({ parameters }) => parameters)],
    [assemblySections.methodToken, Uint32Array.from(entries, ({ row }) => methodTokens + row)],
    [assemblySections.entryOfToken, entryOfToken],
  ]);
  return { kind: 'assembly', sections, summary };
}

/** `Namespace.Outer.Nested` of every type: one spelling for the two ways in which runtimes join nested names. */
function readTypeNames(metadata: Metadata): string[] {
  const enclosing = new Map<number, number>();
  for (let row = 1; row <= metadata.rows(table.nestedClass); row++)
    enclosing.set(metadata.cell(table.nestedClass, row, 0), metadata.cell(table.nestedClass, row, 1));
  const nameOf = (type: number, depth = 0): string => {
    if (depth > deepestNesting) throw new MalformedInput('types are nested without end', 0);
    const outer = enclosing.get(type);
    const name = metadata.text(table.typeDef, type, 1);
    if (outer !== undefined) return `${nameOf(outer, depth + 1)}.${name}`;
    const namespace = metadata.text(table.typeDef, type, 2);
    return namespace === '' ? name : `${namespace}.${name}`;
  };
  return Array.from({ length: metadata.rows(table.typeDef) }, (_, index) => nameOf(index + 1));
}

/** Names of type parameters in order, under the coded row of their owner (ECMA-335 II.22.20). */
function readTypeParameters(metadata: Metadata): Map<number, string[]> {
  const byOwner = new Map<number, string[]>();
  for (let row = 1; row <= metadata.rows(table.genericParam); row++) {
    const owner = metadata.cell(table.genericParam, row, 2);
    const names = byOwner.get(owner) ?? [];
    names.push(metadata.text(table.genericParam, row, 3));
    byOwner.set(owner, names);
  }
  return byOwner;
}

/** Finds methods of an assembly by what a stack prints. */
export class AssemblyIndex {
  private readonly strings: StringTable;
  private readonly column: IndexReading<typeof assemblySections, AssemblySummary>['column'];
  readonly summary: AssemblySummary;

  private constructor({ strings, column, summary }: IndexReading<typeof assemblySections, AssemblySummary>) {
    this.strings = strings;
    this.column = column;
    this.summary = summary;
  }

  /** Opens an index that the builder made, or its file; anything else is a problem in words. */
  static open(source: Uint8Array | IndexSections): Result<AssemblyIndex, IndexProblem> {
    const read = readIndex<typeof assemblySections, AssemblySummary>(source, 'assembly', assemblySections);
    return read.ok ? success(new AssemblyIndex(read.value)) : read;
  }

  /**
   * Tokens of the methods that a printed name and its parameters may mean, such as `Ledger`1[TKey].Count` and
   * `System.Int32 step`: one where the parameters tell them apart, several where they do not, none where there are none.
   */
  tokens(method: string, parameters: string | null): number[] {
    const { methodName, methodParameters, methodToken } = this.column;
    const wanted = plainMethodName(method);
    const named: number[] = [];
    for (
      let entry = this.strings.placeIn(methodName, wanted);
      entry < methodName.length && this.strings.get(methodName[entry] as number) === wanted;
      entry++
    )
      named.push(entry);
    if (parameters === null) return named.map((entry) => methodToken[entry] as number);
    const key = overloadKey(printedTypeArguments(method), printedParameterTypes(parameters));
    const fitting = named.filter((entry) => this.strings.get(methodParameters[entry] as number) === key);
    return (fitting.length > 0 ? fitting : named).map((entry) => methodToken[entry] as number);
  }

  /** `Namespace.Type.Method` of a token; null when there is no such method. */
  methodName(token: number): string | null {
    const entry = this.column.entryOfToken[token - methodTokens];
    return entry === undefined || entry === none ? null : this.strings.get(this.column.methodName[entry] as number);
  }
}

/** What tells methods of one name apart: the number of type arguments and the parameter types. */
const overloadKey = (typeArguments: number, types: readonly string[]): string => `${typeArguments}(${types.join(',')})`;

/** How many type arguments a printed method has behind its own name. */
function printedTypeArguments(method: string): number {
  const list = /\.[^.[\]]+\[([^[\]]*(?:\[[^[\]]*\][^[\]]*)*)\]$/.exec(method)?.[1];
  return list === undefined ? 0 : splitOutsideBrackets(list).length;
}

/** The name without type arguments, nested types joined by dots. */
const plainMethodName = (printed: string): string =>
  printed
    .replace(/\[[^\]]*\]/g, '')
    .replaceAll('+', '.')
    .replaceAll('/', '.');
