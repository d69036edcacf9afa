import { type ByteReader, MalformedInput } from '../../bytes/byte-reader.ts';
import { type FormSizes, fixedFormBytes, type SkipPlan, skipSteps } from './abbreviations.ts';
import { DW_FORM } from './constants.ts';

/**
 * Reads one value: a constant, address, index or offset as a number; of an inline string or a block the position where
 * it begins. What the number means is told by the form. DWARF 5 section 7.5.5.
 */
export function readFormValue(reader: ByteReader, form: number, constant: number, sizes: FormSizes): number {
  switch (form) {
    case DW_FORM.flag_present:
      return 1;
    case DW_FORM.implicit_const:
      return constant;
    case DW_FORM.sdata:
      return reader.sleb();
    case DW_FORM.udata:
    case DW_FORM.ref_udata:
    case DW_FORM.strx:
    case DW_FORM.addrx:
    case DW_FORM.loclistx:
    case DW_FORM.rnglistx:
    case DW_FORM.GNU_addr_index:
    case DW_FORM.GNU_str_index:
      return reader.uleb();
    case DW_FORM.string:
      return reader.skipString();
    case DW_FORM.block1:
      return reader.skip(reader.u8());
    case DW_FORM.block2:
      return reader.skip(reader.u16());
    case DW_FORM.block4:
      return reader.skip(reader.u32());
    case DW_FORM.block:
    case DW_FORM.exprloc:
      return reader.skip(reader.uleb());
    case DW_FORM.data16:
      return reader.skip(16);
    case DW_FORM.indirect: {
      const actual = reader.uleb();
      if (actual === DW_FORM.indirect || actual === DW_FORM.implicit_const)
        throw new MalformedInput('an indirect form names no form', reader.position);
      return readFormValue(reader, actual, 0, sizes);
    }
    default: {
      const bytes = fixedFormBytes(form, sizes);
      if (bytes < 0) throw new MalformedInput(`the form 0x${form.toString(16)} is not known`, reader.position);
      return reader.unsigned(bytes);
    }
  }
}

/** Moves behind the values that a plan covers. */
export function skipValues(reader: ByteReader, plan: SkipPlan, sizes: FormSizes): void {
  for (let index = 0; index < plan.length; index++) {
    const step = plan[index] as number;
    if (step > 0) reader.skip(step);
    else if (step === skipSteps.leb128) reader.skipLeb();
    else if (step === skipSteps.lengthThenBytes) reader.skip(reader.uleb());
    else readFormValue(reader, plan[++index] as number, 0, sizes);
  }
}
