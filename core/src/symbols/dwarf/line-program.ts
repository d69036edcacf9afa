import { ByteReader, MalformedInput, stringAt } from '../../bytes/byte-reader.ts';
import type { ReadBudget } from '../../bytes/read-budget.ts';
import type { CodeIndexBuilder } from '../code/index-builder.ts';
import { none } from '../code/index-layout.ts';
import { DW_FORM, DW_LNCT, DW_LNE, DW_LNS } from './constants.ts';
import { readFormValue } from './form-values.ts';
import type { DwarfSections } from './sections.ts';
import { formTextPlace, type Unit } from './unit.ts';

const maximumFiles = 1_000_000;

/** The files of a line program; their paths are put together when a row names one. */
export class LineFiles {
  private readonly ids: number[] = [];

  constructor(
    private readonly directories: readonly string[],
    private readonly files: readonly { readonly path: string; readonly directory: number }[],
    /** Before DWARF 5 files count from 1, and directory 0 is that of the compilation. */
    private readonly firstFile: 0 | 1,
    private readonly compilationDirectory: string,
    private readonly builder: CodeIndexBuilder,
  ) {}

  /** Number of the path among the names of the index; none for a file that the program does not list. */
  nameOf(file: number): number {
    const known = this.ids[file];
    if (known !== undefined) return known;
    const entry = this.files[file - this.firstFile];
    const id = entry ? this.builder.names.addText(this.path(entry)) : none;
    if (file >= 0 && file < maximumFiles) this.ids[file] = id;
    return id;
  }

  private path({ path, directory }: { path: string; directory: number }): string {
    const folder = directory < this.directories.length ? (this.directories[directory] as string) : '';
    // In DWARF 5 directory 0 is that of the compilation itself.
    if (directory === 0 && this.firstFile === 0 && folder !== '') return joinPath(folder, path);
    return joinPath(joinPath(this.compilationDirectory, folder), path);
  }
}

/** From a root or a drive, or an address such as "package:trails/map.dart". */
const isAbsolute = (path: string): boolean =>
  path.startsWith('/') || /^[A-Za-z]:[\\/]/.test(path) || path.startsWith('\\\\') || /^[a-z][\w+.-]+:/.test(path);

function joinPath(folder: string, path: string): string {
  // What a compiler made itself, such as "<compiler-generated>", lies in no folder.
  if (path.startsWith('<')) return path;
  if (folder === '' || isAbsolute(path)) return path;
  if (path === '') return folder;
  const separator = folder.includes('\\') && !folder.includes('/') ? '\\' : '/';
  return folder.endsWith(separator) ? folder + path : folder + separator + path;
}

/** The unit's own sizes, as far as a line program needs them. */
type LineUnit = Pick<Unit, 'addressSize' | 'littleEndian' | 'compilationDirectory' | 'name'> & {
  readonly sections: DwarfSections;
  readonly stringOffsetsBase: number;
};

interface LineHeader {
  readonly version: number;
  readonly addressSize: number;
  readonly minimumInstructionLength: number;
  readonly operationsPerInstruction: number;
  readonly lineBase: number;
  readonly lineRange: number;
  readonly opcodeBase: number;
  readonly operandCounts: Uint8Array;
  readonly files: LineFiles;
}

/** Reads the line program at an offset of `.debug_line` and adds its rows to the index. Gives its files. DWARF 5 section 6.2; versions 2 to 5. */
export function readLineProgram(
  unit: LineUnit,
  offset: number,
  { builder, base, budget }: { builder: CodeIndexBuilder; base: number; budget: ReadBudget },
): LineFiles {
  const reader = new ByteReader(unit.sections.debug_line, unit.littleEndian);
  reader.seek(offset);
  let length = reader.u32();
  const offsetSize = length === 0xffff_ffff ? 8 : 4;
  if (offsetSize === 8) length = reader.u64();
  const end = reader.position + length;
  if (end > reader.end) throw new MalformedInput('a line program is cut off', offset);
  budget.spend(length, offset);
  reader.end = end;
  const header = readHeader(reader, unit, offsetSize, builder);
  new LineMachine(reader, header, builder, base).run();
  return header.files;
}

function readHeader(reader: ByteReader, unit: LineUnit, offsetSize: number, builder: CodeIndexBuilder): LineHeader {
  const version = reader.u16();
  if (version < 2 || version > 5) throw new MalformedInput(`line programs of version ${version} are not known`, reader.position - 2);
  let { addressSize } = unit;
  if (version >= 5) {
    addressSize = reader.u8();
    reader.skip(1);
  }
  const headerLength = reader.unsigned(offsetSize);
  const program = reader.position + headerLength;
  const minimumInstructionLength = reader.u8();
  const operationsPerInstruction = version >= 4 ? reader.u8() : 1;
  reader.skip(1);
  const lineBase = reader.i8();
  const lineRange = reader.u8();
  const opcodeBase = reader.u8();
  const operandCounts = reader.take(Math.max(0, opcodeBase - 1));
  const compilationDirectory = unit.compilationDirectory ?? '';
  const files =
    version >= 5
      ? readTables(reader, { unit, offsetSize, version, addressSize, compilationDirectory, builder })
      : readOldTables(reader, compilationDirectory, builder);
  reader.seek(program);
  return {
    version,
    addressSize,
    minimumInstructionLength,
    operationsPerInstruction,
    lineBase,
    lineRange,
    opcodeBase,
    operandCounts,
    files,
  };
}

/** DWARF 4 section 6.2.4: directories, then files, each list closed by an empty name. */
function readOldTables(reader: ByteReader, compilationDirectory: string, builder: CodeIndexBuilder): LineFiles {
  const directories = [''];
  for (let name = reader.string(); name !== ''; name = reader.string()) directories.push(name);
  const files: { path: string; directory: number }[] = [];
  for (let path = reader.string(); path !== ''; path = reader.string()) {
    files.push({ path, directory: reader.uleb() });
    reader.uleb();
    reader.uleb();
  }
  return new LineFiles(directories, files, 1, compilationDirectory, builder);
}

interface TableParts {
  readonly unit: LineUnit;
  readonly offsetSize: number;
  readonly version: number;
  readonly addressSize: number;
  readonly compilationDirectory: string;
  readonly builder: CodeIndexBuilder;
}

/** DWARF 5 section 6.2.4.1: tables that describe their own columns; directory 0 is that of the compilation. */
function readTables(reader: ByteReader, parts: TableParts): LineFiles {
  const directories = readTable(reader, parts).map(({ path }) => path);
  const files = readTable(reader, parts);
  return new LineFiles(directories, files, 0, parts.compilationDirectory || (directories[0] ?? ''), parts.builder);
}

function readTable(reader: ByteReader, { unit, offsetSize, version, addressSize }: TableParts): { path: string; directory: number }[] {
  const columns: { content: number; form: number }[] = [];
  for (let left = reader.u8(); left > 0; left--) columns.push({ content: reader.uleb(), form: reader.uleb() });
  const count = reader.uleb();
  if (count > maximumFiles || (columns.length === 0 && count > 0)) throw new MalformedInput('a file table is too long', reader.position);
  const rows: { path: string; directory: number }[] = [];
  const sizes = { version, addressSize, offsetSize };
  for (let row = 0; row < count; row++) {
    let path = '';
    let directory = 0;
    for (const { content, form } of columns) {
      const value = readFormValue(reader, form, 0, sizes);
      if (content === DW_LNCT.path) path = tableText(unit, offsetSize, form, value);
      else if (content === DW_LNCT.directory_index) directory = value;
    }
    rows.push({ path, directory });
  }
  return rows;
}

function tableText(unit: LineUnit, offsetSize: number, form: number, value: number): string {
  if (form === DW_FORM.string) return stringAt(unit.sections.debug_line, value);
  const place = formTextPlace({ ...(unit as Unit), offsetSize }, form, value);
  return place ? stringAt(place.bytes, place.offset) : '';
}

/** The state machine of DWARF 5 section 6.2.2; statement, block and prologue marks do not matter for a lookup. */
class LineMachine {
  private address = 0;
  private operation = 0;
  private file = 1;
  private line = 1;
  private column = 0;
  private isOpen = false;
  /** The sequence lies in code; what a linker dropped points elsewhere. */
  private isLive = false;
  private lastPlace = 0;
  private readonly range: number;
  private readonly reader: ByteReader;
  private readonly header: LineHeader;
  private readonly builder: CodeIndexBuilder;
  private readonly base: number;

  constructor(reader: ByteReader, header: LineHeader, builder: CodeIndexBuilder, base: number) {
    this.reader = reader;
    this.header = header;
    this.builder = builder;
    this.base = base;
    // By the standard 0 is not allowed; assemblers write it for programs without special opcodes.
    this.range = header.lineRange || 1;
  }

  run(): void {
    const { reader } = this;
    const { opcodeBase } = this.header;
    while (reader.position < reader.end) {
      const opcode = reader.u8();
      if (opcode >= opcodeBase) this.special(opcode - opcodeBase);
      else if (opcode === 0) this.extended();
      else this.standard(opcode);
    }
    if (this.isOpen && this.isLive) this.builder.lines.dropSequence();
  }

  /** Section 6.2.5.1: moves address and line at once, and adds a row. */
  private special(adjusted: number): void {
    this.advance(Math.floor(adjusted / this.range));
    this.line += this.header.lineBase + (adjusted % this.range);
    this.emit();
  }

  /** Section 6.2.5.2. */
  private standard(opcode: number): void {
    const { reader, header } = this;
    switch (opcode) {
      case DW_LNS.copy:
        this.emit();
        break;
      case DW_LNS.advance_pc:
        this.advance(reader.uleb());
        break;
      case DW_LNS.advance_line:
        this.line += reader.sleb();
        break;
      case DW_LNS.set_file:
        this.file = reader.uleb();
        break;
      case DW_LNS.set_column:
        this.column = reader.uleb();
        break;
      case DW_LNS.const_add_pc:
        this.advance(Math.floor((255 - header.opcodeBase) / this.range));
        break;
      case DW_LNS.fixed_advance_pc:
        this.address += reader.u16();
        this.operation = 0;
        break;
      case DW_LNS.set_isa:
        reader.uleb();
        break;
      case DW_LNS.negate_stmt:
      case DW_LNS.set_basic_block:
      case DW_LNS.set_prologue_end:
      case DW_LNS.set_epilogue_begin:
        break;
      default:
        // An opcode of a later version: the header says how many operands to pass over.
        for (let left = header.operandCounts[opcode - 1] ?? 0; left > 0; left--) reader.uleb();
    }
  }

  /** Section 6.2.5.3; one that is not known is passed over by its length. */
  private extended(): void {
    const { reader } = this;
    const length = reader.uleb();
    const next = reader.position + length;
    if (length === 0) return;
    const opcode = reader.u8();
    if (opcode === DW_LNE.end_sequence) this.endSequence();
    else if (opcode === DW_LNE.set_address) {
      this.address = reader.unsigned(length - 1);
      this.operation = 0;
    }
    reader.seek(next);
  }

  private endSequence(): void {
    const { lines } = this.builder;
    const place = this.address - this.base;
    if (this.isOpen && this.isLive) {
      if (place === this.lastPlace || (place > this.lastPlace && place < none)) lines.endSequence(place);
      else lines.dropSequence();
    }
    this.address = this.operation = this.column = 0;
    this.file = this.line = 1;
    this.isOpen = false;
  }

  private advance(count: number): void {
    const { minimumInstructionLength, operationsPerInstruction } = this.header;
    if (operationsPerInstruction <= 1) this.address += minimumInstructionLength * count;
    else {
      const total = this.operation + count;
      this.address += minimumInstructionLength * Math.floor(total / operationsPerInstruction);
      this.operation = total % operationsPerInstruction;
    }
  }

  /** Adds a row; the first begins a sequence. */
  private emit(): void {
    const { lines } = this.builder;
    const place = this.address - this.base;
    if (!this.isOpen) {
      this.isOpen = true;
      this.isLive = place >= 0 && place < none && this.builder.isCode(place);
      if (this.isLive) lines.beginSequence();
      this.lastPlace = place;
    }
    if (!this.isLive) return;
    if (place < this.lastPlace || place >= none) {
      // Addresses of a sequence ascend (section 6.2.5); what follows a step back cannot be told apart.
      this.isLive = false;
      lines.dropSequence();
      return;
    }
    this.lastPlace = place;
    lines.add(place, this.header.files.nameOf(this.file), this.line, this.column);
  }
}
