import { ByteReader, MalformedInput } from '../../bytes/byte-reader.ts';
import type { CodeIndexBuilder } from '../code/index-builder.ts';
import { none } from '../code/index-layout.ts';
import { type Abbreviation, type FormSizes, fixedFormBytes, type SkipPlan, skipPlan } from './abbreviations.ts';
import { DW_AT, DW_TAG } from './constants.ts';
import { type EntryNames, referencedOffset } from './entry-names.ts';
import { readFormValue, skipValues } from './form-values.ts';
import type { LineFiles } from './line-program.ts';
import { forEachRange } from './ranges.ts';
import { formAddress, isAddressForm, type Unit } from './unit.ts';

const maximumDepth = 4_096;
/** At a level of the tree: the entries below belong to no function. */
const outside = -1;

/** The attributes of a function that matter. */
const slots = { name: 0, linkageName: 1, lowPc: 2, highPc: 3, ranges: 4, origin: 5, callFile: 6, callLine: 7, callColumn: 8 } as const;
const slotCount = 9;
const slotOf: ReadonlyMap<number, number> = new Map([
  [DW_AT.name, slots.name],
  [DW_AT.linkage_name, slots.linkageName],
  [DW_AT.MIPS_linkage_name, slots.linkageName],
  [DW_AT.low_pc, slots.lowPc],
  [DW_AT.high_pc, slots.highPc],
  [DW_AT.ranges, slots.ranges],
  [DW_AT.abstract_origin, slots.origin],
  [DW_AT.specification, slots.origin],
  [DW_AT.call_file, slots.callFile],
  [DW_AT.call_line, slots.callLine],
  [DW_AT.call_column, slots.callColumn],
]);

/** Values to pass over, then one to read into a slot; the last step only passes over what is left. */
interface ReadStep {
  readonly skip: SkipPlan;
  readonly slot: number;
  readonly form: number;
  /** Size of the value when its form has one, else -1. */
  readonly bytes: number;
  readonly constant: number;
}

function readPlan({ names, forms, constants }: Abbreviation, sizes: FormSizes): ReadStep[] {
  const plan: ReadStep[] = [];
  let passed: number[] = [];
  names.forEach((name, index) => {
    const slot = slotOf.get(name);
    const form = forms[index] as number;
    if (slot === undefined) passed.push(form);
    else {
      plan.push({ skip: skipPlan(passed, sizes), slot, form, bytes: fixedFormBytes(form, sizes), constant: constants[index] as number });
      passed = [];
    }
  });
  plan.push({ skip: skipPlan(passed, sizes), slot: -1, form: 0, bytes: 0, constant: 0 });
  return plan;
}

/**
 * Walks the tree of a unit and adds its functions and the calls inlined into them (DWARF 5 sections 3.3.5 to 3.3.8).
 * Types and variables are passed over; where the compiler tells their siblings, with all they hold.
 */
export class FunctionScan {
  private readonly reader: ByteReader;
  /** Scope that holds the entries of each open level, and its depth of inlining. */
  private readonly scopeOfLevel: number[] = [outside];
  private readonly depthOfLevel: number[] = [0];
  private level = 0;
  /** Forms and values of the function that was read last, by slot; form 0 stands for an attribute it lacks. */
  private readonly forms = new Int32Array(slotCount);
  private readonly values = new Float64Array(slotCount);
  private readonly stretches: number[] = [];
  private takesAnyPlace = false;
  private readonly plans = new Map<Abbreviation, readonly ReadStep[]>();

  constructor(
    private readonly unit: Unit,
    private readonly builder: CodeIndexBuilder,
    private readonly names: EntryNames,
    private readonly files: LineFiles | null,
    private readonly base: number,
  ) {
    this.reader = new ByteReader(unit.sections.debug_info, unit.littleEndian, unit.entries, unit.end);
  }

  run(): void {
    const { reader, unit } = this;
    while (reader.position < unit.end) {
      const at = reader.position;
      const code = reader.uleb();
      if (code === 0) {
        if (this.level === 0) return;
        this.level--;
        if (this.level === 0) return;
        continue;
      }
      const abbreviation = unit.abbreviations[code];
      if (!abbreviation) throw new MalformedInput(`the abbreviation ${code} is not defined`, at);
      this.entry(at, abbreviation);
      if (!abbreviation.hasChildren && this.level === 0) return;
    }
  }

  private entry(at: number, abbreviation: Abbreviation): void {
    const { tag } = abbreviation;
    if (tag === DW_TAG.subprogram || tag === DW_TAG.inlined_subroutine) {
      this.function(at, abbreviation);
      return;
    }
    const { reader } = this;
    const isTypeWithSibling =
      abbreviation.hasChildren &&
      abbreviation.siblingAt >= 0 &&
      (tag === DW_TAG.structure_type || tag === DW_TAG.class_type || tag === DW_TAG.union_type || tag === DW_TAG.enumeration_type);
    if (isTypeWithSibling) {
      // Declarations only: what is defined stands outside of its class, or refers back into it.
      const sibling = this.siblingOf(abbreviation);
      if (sibling > reader.position && sibling <= this.unit.end) {
        reader.seek(sibling);
        return;
      }
    } else skipValues(reader, abbreviation.skip, this.unit);
    if (abbreviation.hasChildren) this.descend(this.scopeOfLevel[this.level] as number, this.depthOfLevel[this.level] as number);
  }

  private siblingOf(abbreviation: Abbreviation): number {
    const { reader, unit } = this;
    let sibling = -1;
    for (let index = 0; index < abbreviation.forms.length; index++) {
      const form = abbreviation.forms[index] as number;
      const value = readFormValue(reader, form, abbreviation.constants[index] as number, unit);
      if (index === abbreviation.siblingAt) sibling = referencedOffset(unit, form, value);
    }
    return sibling;
  }

  private descend(scope: number, depth: number): void {
    this.level++;
    if (this.level >= maximumDepth) throw new MalformedInput('the entries are nested too deeply', this.reader.position);
    this.scopeOfLevel[this.level] = scope;
    this.depthOfLevel[this.level] = depth;
  }

  private function(at: number, abbreviation: Abbreviation): void {
    this.readValues(abbreviation);
    if (this.level <= 1) this.names.noteTopLevel(at);
    const isInlined = abbreviation.tag === DW_TAG.inlined_subroutine;
    const around = this.scopeOfLevel[this.level] as number;
    this.collectStretches(isInlined);
    const { stretches, values } = this;
    // A function without code is a declaration, an abstract one, or was dropped. An inlined call may have lost all of its
    // own code and still hold a call inlined into it.
    if (isInlined ? around === outside : stretches.length === 0) {
      if (abbreviation.hasChildren) this.descend(outside, 0);
      return;
    }

    const depth = isInlined ? (this.depthOfLevel[this.level] as number) + 1 : 0;
    const { scopes } = this.builder;
    const callFile = this.forms[slots.callFile] === 0 ? -1 : (values[slots.callFile] as number);
    const scope = scopes.add(
      this.nameOf(at),
      isInlined ? around : none,
      isInlined && this.files && callFile >= 0 ? this.files.nameOf(callFile) : none,
      values[slots.callLine] as number,
      values[slots.callColumn] as number,
    );
    for (let index = 0; index < stretches.length; index += 2)
      scopes.cover(scope, depth, stretches[index] as number, stretches[index + 1] as number);
    if (!abbreviation.hasChildren) {
      if (around === outside) scopes.endFunction();
    } else if (around !== outside) this.descend(scope, depth);
    else this.wholeFunction(scope);
  }

  private readValues(abbreviation: Abbreviation): void {
    const { reader, unit, forms, values } = this;
    forms.fill(0);
    values.fill(0);
    for (const { skip, slot, form, bytes, constant } of this.planOf(abbreviation)) {
      skipValues(reader, skip, unit);
      if (slot < 0) return;
      forms[slot] = form;
      values[slot] = bytes > 0 ? reader.unsigned(bytes) : readFormValue(reader, form, constant, unit);
    }
  }

  private planOf(abbreviation: Abbreviation): readonly ReadStep[] {
    let plan = this.plans.get(abbreviation);
    if (!plan) {
      plan = readPlan(abbreviation, this.unit);
      this.plans.set(abbreviation, plan);
    }
    return plan;
  }

  private collectStretches(isInlined: boolean): void {
    const { unit, forms, values, stretches } = this;
    stretches.length = 0;
    this.takesAnyPlace = isInlined;
    if (forms[slots.ranges] !== 0) forEachRange(unit, forms[slots.ranges] as number, values[slots.ranges] as number, this.take);
    else if (forms[slots.lowPc] !== 0 && forms[slots.highPc] !== 0) {
      const start = formAddress(unit, forms[slots.lowPc] as number, values[slots.lowPc] as number);
      const highForm = forms[slots.highPc] as number;
      const high = values[slots.highPc] as number;
      this.take(start, isAddressForm(highForm) ? formAddress(unit, highForm, high) : start + high);
    }
  }

  private readonly take = (start: number, end: number): void => {
    const from = start - this.base;
    const to = end - this.base;
    if (to > from && from >= 0 && to < none && (this.takesAnyPlace || this.builder.isCode(from))) this.stretches.push(from, to);
  };

  private nameOf(at: number): number {
    const { unit, forms, values } = this;
    const linkageForm = forms[slots.linkageName] as number;
    const linkageName = linkageForm === 0 ? none : this.names.bare(unit, linkageForm, values[slots.linkageName] as number);
    if (linkageName !== none) return linkageName;
    const originForm = forms[slots.origin] as number;
    const origin = originForm === 0 ? -1 : referencedOffset(unit, originForm, values[slots.origin] as number);
    const referenced = origin >= 0 ? this.names.at(origin) : none;
    const nameForm = forms[slots.name] as number;
    if (referenced !== none || nameForm === 0) return referenced;
    return this.names.qualified(unit, at, nameForm, values[slots.name] as number);
  }

  /** Reads all that a function holds, then closes it. */
  private wholeFunction(scope: number): void {
    const { reader, unit } = this;
    const outer = this.level;
    this.descend(scope, 0);
    while (this.level > outer && reader.position < unit.end) {
      const at = reader.position;
      const code = reader.uleb();
      if (code === 0) {
        this.level--;
        continue;
      }
      const abbreviation = unit.abbreviations[code];
      if (!abbreviation) throw new MalformedInput(`the abbreviation ${code} is not defined`, at);
      this.entry(at, abbreviation);
    }
    this.builder.scopes.endFunction();
  }
}
