import type { ByteNames } from '../../bytes/byte-names.ts';
import { ByteReader } from '../../bytes/byte-reader.ts';
import { none } from '../code/index-layout.ts';
import type { CodeSymbol } from '../code/symbol-list.ts';
import { type ElfFile, SHF, SHT } from './elf-file.ts';
import { readSection } from './section-data.ts';

const STT = { NOTYPE: 0, FUNC: 2, GNU_IFUNC: 10 } as const;
const EM_ARM = 40;
/** Marks where code and data begin in ARM files (AAELF section 5.5.5); they name nothing. */
const mappingSymbol = /^\$[axdt](?:\.|$)/;

/** The functions of the symbol tables of a file; addresses count from `base`. System V gABI chapter 4, "Symbol Table". */
export async function readElfSymbols(file: ElfFile, base: number, names: ByteNames): Promise<CodeSymbol[]> {
  const symbols: CodeSymbol[] = [];
  for (const table of file.sections) {
    if (table.type !== SHT.SYMTAB && table.type !== SHT.DYNSYM) continue;
    const strings = file.sections[table.link];
    if (!strings) continue;
    const text = await readSection(file, strings);
    const reader = new ByteReader(await readSection(file, table), file.littleEndian);
    const rowBytes = file.is64 ? 24 : 16;
    for (let at = 0; at + rowBytes <= reader.end; at += rowBytes) {
      reader.seek(at);
      const name = reader.u32();
      let info: number;
      let section: number;
      let value: number;
      let size: number;
      if (file.is64) {
        info = reader.u8();
        reader.u8();
        section = reader.u16();
        value = reader.u64();
        size = reader.u64();
      } else {
        value = reader.u32();
        size = reader.u32();
        info = reader.u8();
        reader.u8();
        section = reader.u16();
      }
      const type = info & 15;
      if (name === 0 || section === 0 || (type !== STT.FUNC && type !== STT.GNU_IFUNC && type !== STT.NOTYPE)) continue;
      const home = file.sections[section];
      if (!home || (home.flags & SHF.EXECINSTR) === 0) continue;
      // On 32-bit ARM the lowest bit of a function's address tells its instruction set.
      const start = (file.machine === EM_ARM && value % 2 === 1 ? value - 1 : value) - base;
      if (!(start >= 0 && start < none)) continue;
      const zero = text.indexOf(0, name);
      if (type === STT.NOTYPE && mappingSymbol.test(asText(text, name, Math.min(zero, name + 4)))) continue;
      const id = names.addStringAt(text, name);
      if (id < 0) continue;
      const binding = info >> 4;
      symbols.push({ start, size, name: id, rank: (type === STT.NOTYPE ? 0 : 4) + (binding === 1 ? 2 : binding === 2 ? 1 : 0) });
    }
  }
  return symbols;
}

const asText = (bytes: Uint8Array, from: number, to: number): string => String.fromCharCode(...bytes.subarray(from, to));
