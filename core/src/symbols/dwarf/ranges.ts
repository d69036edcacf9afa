import { unsignedAt } from '../../bytes/byte-reader.ts';
import { DW_FORM, DW_RLE } from './constants.ts';
import { indexedAddress, type Unit } from './unit.ts';

const maximumRanges = 1_000_000;

/** Calls `take` for each stretch `[start, end)` of a `DW_AT_ranges` value. */
export function forEachRange(unit: Unit, form: number, value: number, take: (start: number, end: number) => void): void {
  if (unit.version < 5) readRanges(unit, value, take);
  else readRangeList(unit, form === DW_FORM.rnglistx ? rangeListOffset(unit, value) : value, take);
}

/** DWARF 5 section 7.28: an index counts into the offsets behind the header of the list table. */
function rangeListOffset(unit: Unit, index: number): number {
  const { ranges, rangeListsBase, offsetSize, littleEndian } = unit;
  return rangeListsBase + unsignedAt(ranges.bytes, rangeListsBase + index * offsetSize, offsetSize, littleEndian);
}

/** DWARF 4 section 2.17.3. */
function readRanges(unit: Unit, offset: number, take: (start: number, end: number) => void): void {
  const { ranges: reader } = unit;
  reader.seek(unit.rangesBase + offset);
  const baseSelection = unit.addressSize === 4 ? 0xffff_ffff : 2 ** 64;
  let base = unit.lowPc;
  for (let count = 0; count < maximumRanges; count++) {
    unit.rangesBudget.spend(2 * unit.addressSize, offset);
    const start = reader.unsigned(unit.addressSize);
    const end = reader.unsigned(unit.addressSize);
    if (start === 0 && end === 0) return;
    if (start >= baseSelection) base = end;
    else if (end > start) take(base + start, base + end);
  }
}

/** DWARF 5 section 2.17.3. */
function readRangeList(unit: Unit, offset: number, take: (start: number, end: number) => void): void {
  const { ranges: reader } = unit;
  reader.seek(offset);
  let base = unit.lowPc;
  for (let count = 0; count < maximumRanges; count++) {
    // An entry has two bytes at least, but for the one that ends the list.
    unit.rangesBudget.spend(2, offset);
    const kind = reader.u8();
    switch (kind) {
      case DW_RLE.end_of_list:
        return;
      case DW_RLE.base_addressx:
        base = indexedAddress(unit, reader.uleb());
        break;
      case DW_RLE.startx_endx:
        take(indexedAddress(unit, reader.uleb()), indexedAddress(unit, reader.uleb()));
        break;
      case DW_RLE.startx_length: {
        const start = indexedAddress(unit, reader.uleb());
        take(start, start + reader.uleb());
        break;
      }
      case DW_RLE.offset_pair: {
        const start = base + reader.uleb();
        take(start, base + reader.uleb());
        break;
      }
      case DW_RLE.base_address:
        base = reader.unsigned(unit.addressSize);
        break;
      case DW_RLE.start_end: {
        const start = reader.unsigned(unit.addressSize);
        take(start, reader.unsigned(unit.addressSize));
        break;
      }
      case DW_RLE.start_length: {
        const start = reader.unsigned(unit.addressSize);
        take(start, start + reader.uleb());
        break;
      }
      default:
        return;
    }
  }
}
