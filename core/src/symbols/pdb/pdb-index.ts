import { ByteReader, MalformedInput } from '../../bytes/byte-reader.ts';
import { GrowableColumn } from '../../bytes/growable-column.ts';
import { type StringTable, StringTableBuilder } from '../../bytes/string-table.ts';
import { type Result, success } from '../../result.ts';
import { type BuiltIndex, type IndexProblem, type IndexReading, type IndexSections, readIndex } from '../index-file.ts';
import { blobText, compressedSigned, compressedUnsigned, guidDigits, Metadata, table } from './metadata.ts';

/** Section numbers of an index of a portable PDB; `docs/symbol-index.md` describes each. */
export const pdbSections = {
  summary: 1,
  stringOffsets: 2,
  stringBytes: 3,
  documentName: 10,
  methodFirst: 11,
  methodOwner: 12,
  pointOffset: 20,
  pointLine: 21,
  pointColumn: 22,
  pointDocument: 23,
} as const;

/** What an index of a portable PDB says about itself. */
export interface PdbSummary {
  /** The GUID of the PDB id, in printed order; the assembly names it. */
  readonly symbolId: string;
  readonly documents: number;
  /** Methods with lines. */
  readonly methods: number;
  /** Places of the code that have a line. */
  readonly lines: number;
}

/** A place of the source. */
export interface PdbPosition {
  readonly file: string;
  /** From 1. */
  readonly line: number;
  /** From 1. */
  readonly column: number;
}

const methodTokens = 0x0600_0000;

/** Makes the index of a portable PDB (Portable PDB Format Specification v1.0). Throws MalformedInput. */
export function indexPdb(bytes: Uint8Array): BuiltIndex<PdbSummary> {
  const metadata = new Metadata(bytes);
  const id = metadata.stream('#Pdb');
  if (!id || id.length < 20) throw new MalformedInput('the metadata has no #Pdb stream: it is not of a portable PDB', 0);
  const strings = new StringTableBuilder();
  const documentRows = metadata.rows(table.document);
  const documentName = Uint32Array.from({ length: documentRows }, (_, index) =>
    strings.add(documentPath(metadata, metadata.blob(table.document, index + 1, 0))),
  );
  const methodRows = metadata.rows(table.methodDebugInformation);
  const methodFirst = new Uint32Array(methodRows + 2);
  const points = { offset: new GrowableColumn(), line: new GrowableColumn(), column: new GrowableColumn(), document: new GrowableColumn() };
  let methods = 0;
  for (let row = 1; row <= methodRows; row++) {
    methodFirst[row] = points.offset.length;
    const blob = metadata.blob(table.methodDebugInformation, row, 1);
    if (blob.length === 0) continue;
    methods++;
    readSequencePoints(blob, metadata.cell(table.methodDebugInformation, row, 0), (offset, line, column, document) => {
      if (!(document >= 1 && document <= documentRows)) throw new MalformedInput(`a method names document ${document}`, 0);
      points.offset.push(offset);
      points.line.push(line);
      points.column.push(column);
      points.document.push(document - 1);
    });
  }
  methodFirst[methodRows + 1] = points.offset.length;
  const methodOwner = new Uint32Array(methodRows + 1);
  for (let row = 1; row <= metadata.rows(table.stateMachineMethod); row++) {
    const moveNext = metadata.cell(table.stateMachineMethod, row, 0);
    if (moveNext <= methodRows) methodOwner[moveNext] = metadata.cell(table.stateMachineMethod, row, 1);
  }
  const summary: PdbSummary = { symbolId: guidDigits(id.subarray(0, 16)), documents: documentRows, methods, lines: points.offset.length };
  const encoded = strings.encode();
  const sections = new Map<number, Uint8Array | Uint32Array>([
    [pdbSections.summary, new TextEncoder().encode(JSON.stringify(summary))],
    [pdbSections.stringOffsets, encoded.offsets],
    [pdbSections.stringBytes, encoded.bytes],
    [pdbSections.documentName, documentName],
    [pdbSections.methodFirst, methodFirst],
    [pdbSections.methodOwner, methodOwner],
    [pdbSections.pointOffset, points.offset.toColumn()],
    [pdbSections.pointLine, points.line.toColumn()],
    [pdbSections.pointColumn, points.column.toColumn()],
    [pdbSections.pointDocument, points.document.toColumn()],
  ]);
  return { kind: 'pdb', sections, summary };
}

/** A separator, then the blobs of the path's parts (Document Name Blob). */
function documentPath(metadata: Metadata, blob: Uint8Array): string {
  const reader = new ByteReader(blob, true);
  if (reader.atEnd) return '';
  const first = reader.u8();
  const separator = first === 0 ? '' : String.fromCharCode(first);
  const parts: string[] = [];
  while (!reader.atEnd) parts.push(blobText(metadata.blobAt(compressedUnsigned(reader))));
  return parts.join(separator);
}

/** Gives the places of a method that have lines; hidden ones carry none and end nothing (Sequence Points Blob). */
function readSequencePoints(
  blob: Uint8Array,
  document: number,
  point: (offset: number, line: number, column: number, document: number) => void,
): void {
  const reader = new ByteReader(blob, true);
  compressedUnsigned(reader);
  let current = document === 0 ? compressedUnsigned(reader) : document;
  let offset = 0;
  let line = 0;
  let column = 0;
  let isFirst = true;
  let isFirstVisible = true;
  while (!reader.atEnd) {
    const step = compressedUnsigned(reader);
    if (step === 0 && !isFirst) {
      current = compressedUnsigned(reader);
      continue;
    }
    offset += step;
    isFirst = false;
    const lines = compressedUnsigned(reader);
    const columns = lines === 0 ? compressedUnsigned(reader) : compressedSigned(reader);
    if (lines === 0 && columns === 0) continue;
    line += isFirstVisible ? compressedUnsigned(reader) : compressedSigned(reader);
    column += isFirstVisible ? compressedUnsigned(reader) : compressedSigned(reader);
    if (!(line >= 0 && line < 0x2000_0000 && column >= 0 && column < 0x1_0000_0000))
      throw new MalformedInput('a line lies outside every file', reader.position);
    isFirstVisible = false;
    point(offset, line, column, current);
  }
}

/** Finds the source of methods by token and offset in the intermediate language. */
export class PdbIndex {
  private readonly strings: StringTable;
  private readonly column: IndexReading<typeof pdbSections, PdbSummary>['column'];
  /** Row of the state machine's method by the row of the method it was written as. */
  private readonly machineOf = new Map<number, number>();
  readonly summary: PdbSummary;

  private constructor({ strings, column, summary }: IndexReading<typeof pdbSections, PdbSummary>) {
    this.strings = strings;
    this.column = column;
    this.summary = summary;
    this.column.methodOwner.forEach((owner, row) => {
      if (owner !== 0) this.machineOf.set(owner, row);
    });
  }

  /** Opens an index that the builder made, or its file; anything else is a problem in words. */
  static open(source: Uint8Array | IndexSections): Result<PdbIndex, IndexProblem> {
    const read = readIndex<typeof pdbSections, PdbSummary>(source, 'pdb', pdbSections);
    return read.ok ? success(new PdbIndex(read.value)) : read;
  }

  /**
   * The place that begins last at or before an offset of a method, as the runtimes themselves choose it; null when the
   * method has no lines there. A runtime that prints an async method in place of its state machine means the offset in the
   * latter, as the method that was written keeps no code of its own.
   */
  lookup(token: number, ilOffset: number): PdbPosition | null {
    const row = token - methodTokens;
    return this.placeIn(row, ilOffset) ?? this.placeIn(this.machineOf.get(row) ?? 0, ilOffset);
  }

  private placeIn(row: number, ilOffset: number): PdbPosition | null {
    const { methodFirst, pointOffset, pointLine, pointColumn, pointDocument, documentName } = this.column;
    if (!(row >= 1 && row < methodFirst.length - 1)) return null;
    let found = -1;
    for (let point = methodFirst[row] as number; point < (methodFirst[row + 1] as number); point++) {
      if ((pointOffset[point] as number) > ilOffset) break;
      found = point;
    }
    if (found < 0) return null;
    return {
      file: this.strings.get(documentName[pointDocument[found] as number] as number),
      line: pointLine[found] as number,
      column: pointColumn[found] as number,
    };
  }

  /** Token of the async method or iterator that a state machine's method was written as; null for every other method. */
  writtenAs(token: number): number | null {
    const owner = this.column.methodOwner[token - methodTokens] ?? 0;
    return owner === 0 ? null : methodTokens + owner;
  }
}
