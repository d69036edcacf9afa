import { ByteReader, MalformedInput } from '../../bytes/byte-reader.ts';
import { ReadBudget } from '../../bytes/read-budget.ts';
import type { CodeIndexBuilder } from '../code/index-builder.ts';
import type { Warnings } from '../code/warnings.ts';
import { DW_TAG, DW_UT } from './constants.ts';
import { EntryNames } from './entry-names.ts';
import { FunctionScan } from './functions.ts';
import { type LineFiles, readLineProgram } from './line-program.ts';
import { readPackageIndex } from './package-index.ts';
import type { DwarfSections } from './sections.ts';
import { AbbreviationTables, readUnit, type Unit } from './unit.ts';

/** Called now and then while a file is read. */
export type Progress = (done: number, total: number) => void;

export interface DwarfInput {
  readonly sections: DwarfSections;
  readonly littleEndian: boolean;
  /** Lowest address of code; the index counts from it. */
  readonly base: number;
  /** Sections of `.dwp` and `.dwo` files that hold what the units of this image refer to. */
  readonly splits: readonly DwarfSections[];
  readonly progress?: Progress;
}

/**
 * Adds the lines, functions and inlined calls of all units to an index. A unit that cannot be read costs itself only,
 * and leaves a warning.
 */
export function readDwarf({ sections, littleEndian, base, splits, progress }: DwarfInput, builder: CodeIndexBuilder): void {
  const units = readUnits(sections, littleEndian, false, builder.warnings);
  const splitUnits = new SplitUnits(splits, sections, littleEndian, builder.warnings);
  const names = new EntryNames(builder.names, units.at);
  const linePrograms = new Map<number, LineFiles | null>();
  const budget = new ReadBudget(sections.debug_line.length, 'line programs');
  builder.units += units.list.length;
  units.list.forEach((unit, index) => {
    progress?.(index, units.list.length);
    const readSafely = (what: string, read: () => void) => {
      try {
        read();
      } catch (error) {
        if (!(error instanceof MalformedInput)) throw error;
        builder.warnings.add(`${what} of the unit at 0x${unit.start.toString(16)} (${unit.name ?? 'unnamed'}): ${error.message}`);
      }
    };
    if (unit.type === DW_UT.type || unit.tag === DW_TAG.type_unit) return;
    if (unit.lineOffset >= 0 && !linePrograms.has(unit.lineOffset)) {
      linePrograms.set(unit.lineOffset, null);
      readSafely('the lines', () => {
        linePrograms.set(unit.lineOffset, readLineProgram(unit, unit.lineOffset, { builder, base, budget }));
      });
    }
    const files = linePrograms.get(unit.lineOffset) ?? null;
    if (unit.dwoId !== null || unit.dwoName !== null) {
      const split = unit.dwoId === null ? null : splitUnits.under(unit.dwoId, unit);
      if (split) {
        readSafely('the functions', () => new FunctionScan(split.unit, builder, split.names(builder), files, base).run());
        return;
      }
      builder.missingSplitUnits.push(unit.dwoId ?? unit.dwoName ?? '');
    }
    readSafely('the functions', () => new FunctionScan(unit, builder, names, files, base).run());
  });
}

/** The ids of the split units that a `.dwo` or `.dwp` file holds. */
export function splitUnitIds(sections: DwarfSections, littleEndian: boolean, warnings: Warnings): string[] {
  return readUnits(sections, littleEndian, true, warnings).list.flatMap((unit) => (unit.dwoId === null ? [] : [unit.dwoId]));
}

interface Units {
  readonly list: readonly Unit[];
  readonly at: (offset: number) => Unit | null;
}

function readUnits(sections: DwarfSections, littleEndian: boolean, isSplit: boolean, warnings: Warnings): Units {
  const list: Unit[] = [];
  const reader = new ByteReader(sections.debug_info, littleEndian);
  const tables = new AbbreviationTables(sections.debug_abbrev);
  try {
    const shared = {
      ...{ sections, tables, isSplit },
      contributionsOf: readPackageIndex(sections.debug_cu_index, littleEndian),
      rangesBudget: new ReadBudget(sections.debug_ranges.length + sections.debug_rnglists.length, 'lists of ranges'),
    };
    while (reader.position < reader.end) {
      const start = reader.position;
      const end = endOfUnit(reader);
      if (end === start) break;
      reader.seek(start);
      try {
        list.push(readUnit(new ByteReader(sections.debug_info, littleEndian, start, end), end, shared));
      } catch (error) {
        if (!(error instanceof MalformedInput)) throw error;
        warnings.add(`the unit at 0x${start.toString(16)}: ${error.message}`);
      }
      reader.seek(end);
    }
  } catch (error) {
    if (!(error instanceof MalformedInput)) throw error;
    warnings.add(`the list of units: ${error.message}`);
  }
  return { list, at: (offset) => unitAround(list, offset) };
}

/** A unit of length 0 is padding; one that is longer than what is left ends with the section. */
function endOfUnit(reader: ByteReader): number {
  let length = reader.u32();
  if (length === 0xffff_ffff) length = reader.u64();
  else if (length >= 0xffff_fff0) throw new MalformedInput('a unit has a reserved length', reader.position);
  return Math.min(reader.position + length, reader.end);
}

function unitAround(units: readonly Unit[], offset: number): Unit | null {
  let low = 0;
  let high = units.length;
  while (low < high) {
    const middle = (low + high) >>> 1;
    if ((units[middle] as Unit).start <= offset) low = middle + 1;
    else high = middle;
  }
  const unit = units[low - 1];
  return unit && offset < unit.end ? unit : null;
}

interface SplitUnit {
  readonly unit: Unit;
  readonly names: (builder: CodeIndexBuilder) => EntryNames;
}

/** Split units by their ids, each completed with what only the linked image holds. DWARF 5 section 7.3.2. */
class SplitUnits {
  private readonly byId = new Map<string, { unit: Unit; file: Units }>();
  private readonly namesOfFile = new Map<Units, EntryNames>();

  constructor(splits: readonly DwarfSections[], linked: DwarfSections, littleEndian: boolean, warnings: Warnings) {
    for (const split of splits) {
      // Before DWARF 5 the ranges of split units stayed in the linked image.
      const file = readUnits({ ...split, debug_ranges: linked.debug_ranges }, littleEndian, true, warnings);
      for (const unit of file.list) if (unit.dwoId !== null) this.byId.set(unit.dwoId, { unit, file });
    }
  }

  under(id: string, skeleton: Unit): SplitUnit | null {
    const found = this.byId.get(id);
    if (!found) return null;
    const { unit, file } = found;
    unit.addressSection = skeleton.sections.debug_addr;
    unit.addressBase = skeleton.addressBase;
    unit.rangesBase = skeleton.rangesBase;
    unit.lowPc = skeleton.lowPc;
    return {
      unit,
      names: (builder) => {
        let names = this.namesOfFile.get(file);
        if (!names) {
          names = new EntryNames(builder.names, file.at);
          this.namesOfFile.set(file, names);
        }
        return names;
      },
    };
  }
}
