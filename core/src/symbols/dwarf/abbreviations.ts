import { ByteReader, MalformedInput } from '../../bytes/byte-reader.ts';
import type { ReadBudget } from '../../bytes/read-budget.ts';
import { DW_AT, DW_FORM } from './constants.ts';

/** What one kind of entry consists of: DWARF 5 section 7.5.3. */
export interface Abbreviation {
  readonly tag: number;
  readonly hasChildren: boolean;
  readonly names: readonly number[];
  readonly forms: readonly number[];
  /** Value of an attribute of form `implicit_const`; 0 for all others. */
  readonly constants: readonly number[];
  /** How to pass over the values of an entry. */
  readonly skip: SkipPlan;
  /** Where among the attributes the next sibling is told, or -1. */
  readonly siblingAt: number;
}

/** The sizes that a unit's header chooses for its forms. */
export interface FormSizes {
  readonly version: number;
  readonly addressSize: number;
  readonly offsetSize: number;
}

const maximumAbbreviations = 200_000;
const maximumAttributes = 1_000;

/** Reads the table of abbreviations at an offset of the section, by code. */
export function readAbbreviations(section: Uint8Array, offset: number, sizes: FormSizes, budget: ReadBudget): (Abbreviation | undefined)[] {
  const reader = new ByteReader(section, true);
  reader.seek(offset);
  const table: (Abbreviation | undefined)[] = [];
  for (let count = 0; count < maximumAbbreviations && !reader.atEnd; count++) {
    const start = reader.position;
    const code = reader.uleb();
    if (code === 0) break;
    if (code > maximumAbbreviations) throw new MalformedInput(`the abbreviation code ${code} is too large`, reader.position);
    const tag = reader.uleb();
    const hasChildren = reader.u8() !== 0;
    const names: number[] = [];
    const forms: number[] = [];
    const constants: number[] = [];
    for (;;) {
      const name = reader.uleb();
      const form = reader.uleb();
      if (name === 0 && form === 0) break;
      names.push(name);
      forms.push(form);
      constants.push(form === DW_FORM.implicit_const ? reader.sleb() : 0);
      if (names.length > maximumAttributes) throw new MalformedInput('an abbreviation has too many attributes', reader.position);
    }
    table[code] = { tag, hasChildren, names, forms, constants, skip: skipPlan(forms, sizes), siblingAt: names.indexOf(DW_AT.sibling) };
    budget.spend(reader.position - start, start);
  }
  return table;
}

/** Steps over values: a number of bytes, or one of `skipSteps`. Values of a known size that follow each other are one step. */
export type SkipPlan = readonly number[];
export const skipSteps = { leb128: -1, lengthThenBytes: -2, other: -3 } as const;

/** The steps over values of these forms; behind `other` the form itself stands in the plan. */
export function skipPlan(forms: readonly number[], sizes: FormSizes): SkipPlan {
  const plan: number[] = [];
  for (const form of forms) {
    const bytes = fixedFormBytes(form, sizes);
    const last = plan.length - 1;
    if (bytes === 0) continue;
    if (bytes > 0 && last >= 0 && (plan[last] as number) > 0 && plan[last - 1] !== skipSteps.other)
      plan[last] = (plan[last] as number) + bytes;
    else if (bytes > 0) plan.push(bytes);
    else if (lebForms.has(form)) plan.push(skipSteps.leb128);
    else if (form === DW_FORM.exprloc || form === DW_FORM.block) plan.push(skipSteps.lengthThenBytes);
    else plan.push(skipSteps.other, form);
  }
  return plan;
}

const lebForms: ReadonlySet<number> = new Set([
  DW_FORM.sdata,
  DW_FORM.udata,
  DW_FORM.ref_udata,
  DW_FORM.strx,
  DW_FORM.addrx,
  DW_FORM.loclistx,
  DW_FORM.rnglistx,
  DW_FORM.GNU_addr_index,
  DW_FORM.GNU_str_index,
]);

/** Bytes of a value of this form, -1 when the value itself tells. DWARF 5 section 7.5.5. */
export function fixedFormBytes(form: number, { version, addressSize, offsetSize }: FormSizes): number {
  switch (form) {
    case DW_FORM.flag_present:
    case DW_FORM.implicit_const:
      return 0;
    case DW_FORM.data1:
    case DW_FORM.ref1:
    case DW_FORM.flag:
    case DW_FORM.strx1:
    case DW_FORM.addrx1:
      return 1;
    case DW_FORM.data2:
    case DW_FORM.ref2:
    case DW_FORM.strx2:
    case DW_FORM.addrx2:
      return 2;
    case DW_FORM.strx3:
    case DW_FORM.addrx3:
      return 3;
    case DW_FORM.data4:
    case DW_FORM.ref4:
    case DW_FORM.ref_sup4:
    case DW_FORM.strx4:
    case DW_FORM.addrx4:
      return 4;
    case DW_FORM.data8:
    case DW_FORM.ref8:
    case DW_FORM.ref_sup8:
    case DW_FORM.ref_sig8:
      return 8;
    case DW_FORM.data16:
      return 16;
    case DW_FORM.addr:
      return addressSize;
    case DW_FORM.ref_addr:
      return version === 2 ? addressSize : offsetSize;
    case DW_FORM.strp:
    case DW_FORM.line_strp:
    case DW_FORM.sec_offset:
    case DW_FORM.strp_sup:
    case DW_FORM.GNU_ref_alt:
    case DW_FORM.GNU_strp_alt:
      return offsetSize;
    default:
      return -1;
  }
}
