import { ByteReader, MalformedInput, stringAt, unsignedAt } from '../../bytes/byte-reader.ts';
import { ReadBudget } from '../../bytes/read-budget.ts';
import { type Abbreviation, readAbbreviations } from './abbreviations.ts';
import { DW_AT, DW_FORM, DW_UT } from './constants.ts';
import { readFormValue } from './form-values.ts';
import type { DwarfSections } from './sections.ts';

/** Where a unit of a package of split units finds its parts; all 0 elsewhere. */
export interface Contributions {
  readonly abbreviations: number;
  readonly stringOffsets: number;
  readonly rangeLists: number;
  readonly line: number;
}
export const wholeSections: Contributions = { abbreviations: 0, stringOffsets: 0, rangeLists: 0, line: 0 };

/** One unit of `.debug_info`: what its header says, and what its first entry adds. DWARF 5 section 7.5.1. */
export interface Unit {
  readonly sections: DwarfSections;
  readonly littleEndian: boolean;
  readonly version: number;
  readonly type: number;
  readonly addressSize: number;
  readonly offsetSize: number;
  /** Where the unit begins in the section, where its entries begin, and where it ends. */
  readonly start: number;
  readonly entries: number;
  readonly end: number;
  readonly abbreviations: readonly (Abbreviation | undefined)[];
  readonly contributions: Contributions;
  readonly isSplit: boolean;
  /** Of a skeleton or split unit, sixteen hexadecimal digits. */
  dwoId: string | null;
  tag: number;
  name: string | null;
  compilationDirectory: string | null;
  language: number;
  /** Offset of the line program; -1 for none. */
  lineOffset: number;
  lowPc: number;
  stringOffsetsBase: number;
  addressBase: number;
  rangeListsBase: number;
  /** Added to the offsets of range lists of split units before DWARF 5. */
  rangesBase: number;
  dwoName: string | null;
  /** The addresses of split units lie in the linked image. */
  addressSection: Uint8Array;
  /** Reads entries here and there in the unit. */
  readonly jumps: ByteReader;
  /** Reads the section of range lists of the unit's version. */
  readonly ranges: ByteReader;
  /** Of the lists of all units of the file. */
  readonly rangesBudget: ReadBudget;
}

/** A value of an entry with the form that says how to take it. */
export interface FormValue {
  readonly form: number;
  readonly value: number;
}

/** Keeps abbreviation tables that several units share. */
export class AbbreviationTables {
  private readonly tables = new Map<string, readonly (Abbreviation | undefined)[]>();

  private readonly budget: ReadBudget;

  constructor(private readonly section: Uint8Array) {
    this.budget = new ReadBudget(section.length, 'tables of abbreviations');
  }

  at(offset: number, sizes: { version: number; addressSize: number; offsetSize: number }): readonly (Abbreviation | undefined)[] {
    const key = `${offset}/${sizes.addressSize}/${sizes.offsetSize}/${Math.min(sizes.version, 3)}`;
    let table = this.tables.get(key);
    if (!table) {
      table = readAbbreviations(this.section, offset, sizes, this.budget);
      this.tables.set(key, table);
    }
    return table;
  }
}

/** What the units of a file have in common. */
interface SharedByUnits {
  readonly sections: DwarfSections;
  readonly tables: AbbreviationTables;
  readonly isSplit: boolean;
  readonly contributionsOf: (unitStart: number) => Contributions;
  readonly rangesBudget: ReadBudget;
}

/** Reads the header of the unit at the reader and its first entry, and leaves the reader at that entry's children. */
export function readUnit(
  reader: ByteReader,
  end: number,
  { sections, tables, isSplit, contributionsOf, rangesBudget }: SharedByUnits,
): Unit {
  const start = reader.position;
  const offsetSize = reader.u32() === 0xffff_ffff ? 8 : 4;
  if (offsetSize === 8) reader.skip(8);
  const version = reader.u16();
  if (version < 2 || version > 5) throw new MalformedInput(`DWARF version ${version} is not known`, start);
  const contributions = contributionsOf(start);
  let type: number = DW_UT.compile;
  let addressSize: number;
  let abbreviationOffset: number;
  let dwoId: string | null = null;
  if (version >= 5) {
    type = reader.u8();
    addressSize = reader.u8();
    abbreviationOffset = reader.unsigned(offsetSize);
    if (type === DW_UT.skeleton || type === DW_UT.split_compile) dwoId = hexadecimal(reader.take(8), reader.littleEndian);
    else if (type === DW_UT.type || type === DW_UT.split_type) reader.skip(8 + offsetSize);
  } else {
    abbreviationOffset = reader.unsigned(offsetSize);
    addressSize = reader.u8();
  }
  if (addressSize !== 4 && addressSize !== 8 && addressSize !== 2)
    throw new MalformedInput(`addresses of ${addressSize} bytes are not known`, start);
  const sizes = { version, addressSize, offsetSize };
  const unit: Unit = {
    sections,
    littleEndian: reader.littleEndian,
    ...sizes,
    type,
    start,
    entries: reader.position,
    end,
    abbreviations: tables.at(contributions.abbreviations + abbreviationOffset, sizes),
    contributions,
    isSplit,
    dwoId,
    tag: 0,
    name: null,
    compilationDirectory: null,
    language: 0,
    lineOffset: -1,
    lowPc: 0,
    // Without an attribute, split units of DWARF 5 begin behind the header of their contribution.
    stringOffsetsBase: isSplit ? contributions.stringOffsets + (version >= 5 ? offsetSize * 2 : 0) : 0,
    addressBase: 0,
    rangeListsBase: isSplit && version >= 5 ? contributions.rangeLists + (offsetSize === 8 ? 20 : 12) : 0,
    rangesBase: 0,
    dwoName: null,
    addressSection: sections.debug_addr,
    jumps: new ByteReader(sections.debug_info, reader.littleEndian, start, end),
    ranges: new ByteReader(version >= 5 ? sections.debug_rnglists : sections.debug_ranges, reader.littleEndian),
    rangesBudget,
  };
  readFirstEntry(reader, unit);
  return unit;
}

function readFirstEntry(reader: ByteReader, unit: Unit): void {
  const abbreviation = unit.abbreviations[reader.uleb()];
  if (!abbreviation) return;
  unit.tag = abbreviation.tag;
  const values = new Map<number, FormValue>();
  abbreviation.names.forEach((name, index) => {
    const form = abbreviation.forms[index] as number;
    values.set(name, { form, value: readFormValue(reader, form, abbreviation.constants[index] as number, unit) });
  });
  const number = (name: number): number | undefined => values.get(name)?.value;
  // Bases first: other attributes of the same entry are counted from them.
  unit.stringOffsetsBase = number(DW_AT.str_offsets_base) ?? unit.stringOffsetsBase;
  unit.addressBase = number(DW_AT.addr_base) ?? number(DW_AT.GNU_addr_base) ?? unit.addressBase;
  unit.rangeListsBase = number(DW_AT.rnglists_base) ?? unit.rangeListsBase;
  unit.rangesBase = number(DW_AT.GNU_ranges_base) ?? 0;
  const text = (name: number): string | null => {
    const value = values.get(name);
    return value ? formText(unit, value) : null;
  };
  unit.name = text(DW_AT.name);
  unit.compilationDirectory = text(DW_AT.comp_dir);
  unit.dwoName = text(DW_AT.dwo_name) ?? text(DW_AT.GNU_dwo_name);
  unit.language = number(DW_AT.language) ?? 0;
  unit.lineOffset = number(DW_AT.stmt_list) ?? -1;
  const lowPc = values.get(DW_AT.low_pc);
  if (lowPc) unit.lowPc = formAddress(unit, lowPc.form, lowPc.value);
  const dwoId = number(DW_AT.GNU_dwo_id);
  if (dwoId !== undefined && unit.dwoId === null) unit.dwoId = gnuDwoId(reader, unit, abbreviation);
}

/** The id is a 64-bit number that a double cannot hold: it is read again, as bytes. */
function gnuDwoId(reader: ByteReader, unit: Unit, abbreviation: Abbreviation): string {
  const again = new ByteReader(reader.bytes, reader.littleEndian, unit.entries);
  again.uleb();
  for (let index = 0; index < abbreviation.names.length; index++) {
    if (abbreviation.names[index] === DW_AT.GNU_dwo_id) return hexadecimal(again.take(8), reader.littleEndian);
    readFormValue(again, abbreviation.forms[index] as number, 0, unit);
  }
  throw new MalformedInput('the id of a split unit is missing', unit.start);
}

/** Eight bytes as the number they stand for, in hexadecimal digits. */
export function hexadecimal(bytes: Uint8Array, littleEndian: boolean): string {
  const digits = Array.from(bytes, (byte) => byte.toString(16).padStart(2, '0'));
  return (littleEndian ? digits.reverse() : digits).join('');
}

/** Where the bytes of a string lie. */
export interface TextPlace {
  readonly bytes: Uint8Array;
  readonly offset: number;
}

/** Where a string value lies; null for one in a file that is not at hand. */
export function formTextPlace(unit: Unit, form: number, value: number): TextPlace | null {
  const { sections } = unit;
  switch (form) {
    case DW_FORM.string:
      return { bytes: sections.debug_info, offset: value };
    case DW_FORM.strp:
      return { bytes: sections.debug_str, offset: value };
    case DW_FORM.line_strp:
      return { bytes: sections.debug_line_str, offset: value };
    case DW_FORM.strx:
    case DW_FORM.strx1:
    case DW_FORM.strx2:
    case DW_FORM.strx3:
    case DW_FORM.strx4:
    case DW_FORM.GNU_str_index: {
      const at = unit.stringOffsetsBase + value * unit.offsetSize;
      return { bytes: sections.debug_str, offset: unsignedAt(sections.debug_str_offsets, at, unit.offsetSize, unit.littleEndian) };
    }
    default:
      return null;
  }
}

function formText(unit: Unit, { form, value }: FormValue): string | null {
  const place = formTextPlace(unit, form, value);
  return place && stringAt(place.bytes, place.offset);
}

/** Whether a form stands for an address, and not for the length behind one. */
export const isAddressForm = (form: number): boolean =>
  form === DW_FORM.addr || form === DW_FORM.addrx || (form >= DW_FORM.addrx1 && form <= DW_FORM.addrx4) || form === DW_FORM.GNU_addr_index;

/** The address that a value of an address form stands for. */
export function formAddress(unit: Unit, form: number, value: number): number {
  return form === DW_FORM.addr ? value : indexedAddress(unit, value);
}

/** The address under an index of `.debug_addr`. DWARF 5 section 7.27. */
export function indexedAddress(unit: Unit, index: number): number {
  return unsignedAt(unit.addressSection, unit.addressBase + index * unit.addressSize, unit.addressSize, unit.littleEndian);
}
