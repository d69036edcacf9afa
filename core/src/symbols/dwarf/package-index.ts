import { ByteReader, MalformedInput } from '../../bytes/byte-reader.ts';
import { DW_SECT } from './constants.ts';
import { type Contributions, wholeSections } from './unit.ts';

const maximumUnits = 1_000_000;

/**
 * Where each unit of a package of split units finds its parts, by where the unit begins in `.debug_info.dwo`.
 * DWARF 5 section 7.3.5.3; version 2 is the GNU proposal that came before it.
 */
export function readPackageIndex(section: Uint8Array, littleEndian: boolean): (unitStart: number) => Contributions {
  if (section.length === 0) return () => wholeSections;
  const reader = new ByteReader(section, littleEndian);
  const first = reader.u32();
  const version = first === 2 ? 2 : littleEndian ? first & 0xffff : first >>> 16;
  if (version !== 2 && version !== 5) throw new MalformedInput(`package indexes of version ${version} are not known`, 0);
  const columnCount = reader.u32();
  const unitCount = reader.u32();
  const slotCount = reader.u32();
  if (columnCount > 16 || unitCount > maximumUnits) throw new MalformedInput('the package index is too large', 4);
  reader.skip(slotCount * 12);
  const columns = Array.from({ length: columnCount }, () => reader.u32());
  const starts = new Map<number, Contributions>();
  for (let unit = 0; unit < unitCount; unit++) {
    const offsets = new Map(columns.map((column) => [column, reader.u32()]));
    const of = (column: number) => offsets.get(column) ?? 0;
    starts.set(of(DW_SECT.info), {
      abbreviations: of(DW_SECT.abbrev),
      line: of(DW_SECT.line),
      stringOffsets: of(DW_SECT.strOffsets),
      rangeLists: version === 5 ? of(DW_SECT.rngListsOr7) : 0,
    });
  }
  return (unitStart) => starts.get(unitStart) ?? wholeSections;
}
