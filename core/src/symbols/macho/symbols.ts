import type { ByteNames } from '../../bytes/byte-names.ts';
import { ByteReader } from '../../bytes/byte-reader.ts';
import { readPart } from '../../bytes/byte-source.ts';
import { none } from '../code/index-layout.ts';
import type { CodeSymbol } from '../code/symbol-list.ts';
import { isCodeSection } from './code-sections.ts';
import type { MachFile } from './macho-file.ts';

const N_STAB = 0xe0;
const N_TYPE = 0x0e;
const N_SECT = 0x0e;
const N_EXT = 0x01;
const underscore = 0x5f;

/** The functions of the symbol table: <mach-o/nlist.h>. Names are without the underscore that the format puts in front. */
export async function readMachSymbols(file: MachFile, base: number, names: ByteNames): Promise<CodeSymbol[]> {
  const table = file.symbolTable;
  if (!table || table.count === 0) return [];
  const rowBytes = file.is64 ? 16 : 12;
  const reader = new ByteReader(await readPart(file.source, table.offset, table.count * rowBytes), file.littleEndian);
  const text = await readPart(file.source, table.strings.offset, table.strings.sizeBytes);
  const symbols: CodeSymbol[] = [];
  for (let at = 0; at < reader.end; at += rowBytes) {
    reader.seek(at);
    const name = reader.u32();
    const type = reader.u8();
    const section = reader.u8();
    reader.u16();
    const start = (file.is64 ? reader.u64() : reader.u32()) - base;
    if ((type & N_STAB) !== 0 || (type & N_TYPE) !== N_SECT || name === 0) continue;
    const home = file.sections[section - 1];
    if (!home || !isCodeSection(home) || !(start >= 0 && start < none)) continue;
    const id = names.addStringAt(text, text[name] === underscore ? name + 1 : name);
    if (id >= 0) symbols.push({ start, size: 0, name: id, rank: (type & N_EXT) !== 0 ? 2 : 1 });
  }
  return symbols;
}

/**
 * Where functions begin, as the linker recorded it: distances in LEB128, from the text segment on. They hold no names
 * but keep the symbol before from reaching over a function whose name was stripped.
 */
export async function readFunctionStarts(file: MachFile, base: number): Promise<CodeSymbol[]> {
  if (!file.functionStarts) return [];
  const { offset, sizeBytes } = file.functionStarts;
  const reader = new ByteReader(await readPart(file.source, offset, sizeBytes), file.littleEndian);
  const starts: CodeSymbol[] = [];
  let address = file.textAddress;
  while (!reader.atEnd) {
    const distance = reader.uleb();
    if (distance === 0) break;
    address += distance;
    if (address - base >= 0 && address - base < none) starts.push({ start: address - base, size: 0, name: none, rank: 0 });
  }
  return starts;
}
