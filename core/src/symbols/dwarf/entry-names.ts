import type { ByteNames } from '../../bytes/byte-names.ts';
import { ByteReader, stringAt } from '../../bytes/byte-reader.ts';
import { none } from '../code/index-layout.ts';
import { DW_AT, DW_FORM, DW_TAG, languagesWithoutScopes } from './constants.ts';
import { readFormValue, skipValues } from './form-values.ts';
import { formTextPlace, type Unit } from './unit.ts';

/** Finds the unit that an offset of `.debug_info` lies in. */
export type UnitFinder = (offset: number) => Unit | null;

const maximumHops = 16;
const maximumDepth = 512;

/**
 * Names functions. An inlined call or an out-of-line copy only refers to the entry that was declared: its linkage name
 * is wanted, and where it has none its name within the namespaces and classes around it.
 */
export class EntryNames {
  private readonly known = new Map<number, number>();
  private readonly outlines = new Map<Unit, UnitOutline>();
  private readonly topLevel = new Set<number>();

  constructor(
    private readonly names: ByteNames,
    private readonly unitAt: UnitFinder,
  ) {}

  /** Number of the name of the entry at an offset of the section; none when nothing names it. */
  at(offset: number): number {
    const known = this.known.get(offset);
    if (known !== undefined) return known;
    const name = this.resolve(offset);
    this.known.set(offset, name);
    return name;
  }

  private resolve(offset: number): number {
    let at = offset;
    let plain: { unit: Unit; offset: number; form: number; value: number } | null = null;
    for (let hop = 0; hop < maximumHops; hop++) {
      const unit = this.unitAt(at);
      if (!unit) break;
      const entry = readNames(unit, at);
      if (!entry) break;
      const linkageName = entry.linkageForm === 0 ? none : this.bare(unit, entry.linkageForm, entry.linkageValue);
      if (linkageName !== none) return linkageName;
      // The last one in the chain that has a name is the declaration, which lies in its namespaces.
      if (entry.nameForm !== 0) plain = { unit, offset: at, form: entry.nameForm, value: entry.nameValue };
      if (entry.origin < 0) break;
      at = entry.origin;
    }
    if (!plain) return none;
    return this.qualified(plain.unit, plain.offset, plain.form, plain.value);
  }

  /** Says that an entry lies right below its unit, with no scope around it to look for. */
  noteTopLevel(offset: number): void {
    this.topLevel.add(offset);
  }

  /** Number of a name as it is. */
  bare(unit: Unit, form: number, value: number): number {
    const place = formTextPlace(unit, form, value);
    return place ? this.names.addStringAt(place.bytes, place.offset) >>> 0 : none;
  }

  /** Number of a bare name, put within the namespaces and classes around its entry. */
  qualified(unit: Unit, offset: number, form: number, value: number): number {
    const place = formTextPlace(unit, form, value);
    if (!place || this.topLevel.has(offset) || languagesWithoutScopes.has(unit.language)) return this.bare(unit, form, value);
    let outline = this.outlines.get(unit);
    if (!outline) {
      if (this.outlines.size >= 4) this.outlines.clear();
      outline = new UnitOutline(unit);
      this.outlines.set(unit, outline);
    }
    const scopes = outline.scopesAround(offset);
    if (scopes.length === 0) return this.bare(unit, form, value);
    return this.names.addText([...scopes, stringAt(place.bytes, place.offset)].join('::'));
  }
}

interface NamesOfEntry {
  readonly linkageForm: number;
  readonly linkageValue: number;
  readonly nameForm: number;
  readonly nameValue: number;
  /** Offset in the section of the entry it refers to; -1 for none. */
  readonly origin: number;
}

function readNames(unit: Unit, offset: number): NamesOfEntry | null {
  if (offset < unit.entries || offset >= unit.end) return null;
  const { jumps: reader } = unit;
  reader.seek(offset);
  const abbreviation = unit.abbreviations[reader.uleb()];
  if (!abbreviation) return null;
  const found = { linkageForm: 0, linkageValue: 0, nameForm: 0, nameValue: 0, origin: -1 };
  const { names, forms, constants } = abbreviation;
  for (let index = 0; index < names.length; index++) {
    const form = forms[index] as number;
    const value = readFormValue(reader, form, constants[index] as number, unit);
    switch (names[index]) {
      case DW_AT.linkage_name:
      case DW_AT.MIPS_linkage_name:
        found.linkageForm = form;
        found.linkageValue = value;
        break;
      case DW_AT.name:
        found.nameForm = form;
        found.nameValue = value;
        break;
      case DW_AT.abstract_origin:
      case DW_AT.specification:
        found.origin = referencedOffset(unit, form, value);
        break;
    }
  }
  return found;
}

/** The offset in the section that a reference points to; -1 for one into another file or a type unit. */
export function referencedOffset(unit: Unit, form: number, value: number): number {
  switch (form) {
    case DW_FORM.ref1:
    case DW_FORM.ref2:
    case DW_FORM.ref4:
    case DW_FORM.ref8:
    case DW_FORM.ref_udata:
      return unit.start + value;
    case DW_FORM.ref_addr:
      return value;
    default:
      return -1;
  }
}

/** Tags that put what they hold into a scope with a name. */
const scopeTags: ReadonlySet<number> = new Set([
  DW_TAG.namespace,
  DW_TAG.class_type,
  DW_TAG.structure_type,
  DW_TAG.union_type,
  DW_TAG.interface_type,
  DW_TAG.enumeration_type,
  DW_TAG.module,
  // Classes and lambdas are written inside functions too.
  DW_TAG.subprogram,
]);

/** The named scopes of one unit as stretches of offsets, made when a name without linkage name first asks for it. */
class UnitOutline {
  private readonly starts: number[] = [];
  private readonly ends: number[] = [];
  private readonly labels: string[] = [];
  /** Where each scope is declared: what it lies in is told there. */
  private readonly declared: number[] = [];

  constructor(unit: Unit) {
    const reader = new ByteReader(unit.sections.debug_info, unit.littleEndian, unit.entries, unit.end);
    const open: number[] = [];
    while (reader.position < unit.end) {
      const at = reader.position;
      const code = reader.uleb();
      if (code === 0) {
        const scope = open.pop();
        if (scope === undefined) break;
        if (scope >= 0) this.ends[scope] = at;
        continue;
      }
      const abbreviation = unit.abbreviations[code];
      if (!abbreviation || open.length > maximumDepth) break;
      skipValues(reader, abbreviation.skip, unit);
      if (!abbreviation.hasChildren) continue;
      const label = scopeTags.has(abbreviation.tag) ? labelOf(unit, at, abbreviation.tag) : null;
      if (label === null) {
        open.push(-1);
        continue;
      }
      this.starts.push(at);
      this.ends.push(unit.end);
      this.labels.push(label.text);
      this.declared.push(label.declaredAt);
      open.push(this.starts.length - 1);
    }
  }

  /** Names of the scopes around an offset, outermost first. */
  scopesAround(offset: number, hop = 0): string[] {
    let around: string[] = [];
    for (let index = 0; index < this.starts.length && (this.starts[index] as number) < offset; index++) {
      if ((this.ends[index] as number) <= offset) continue;
      const declared = this.declared[index] as number;
      if (declared !== this.starts[index] && hop < maximumHops) around = this.scopesAround(declared, hop + 1);
      around.push(this.labels[index] as string);
    }
    return around;
  }
}

/** How a scope is called in the names of what it holds; null for one that gives no name to it. */
function labelOf(unit: Unit, at: number, tag: number): { readonly text: string; readonly declaredAt: number } | null {
  let declaredAt = at;
  let entry = readNames(unit, at);
  for (let hop = 0; hop < maximumHops && entry && entry.origin >= unit.entries && entry.origin < unit.end; hop++) {
    declaredAt = entry.origin;
    const name = entry;
    entry = readNames(unit, declaredAt);
    if (entry && entry.nameForm === 0 && name.nameForm !== 0) entry = { ...entry, nameForm: name.nameForm, nameValue: name.nameValue };
  }
  const place = entry && entry.nameForm !== 0 ? formTextPlace(unit, entry.nameForm, entry.nameValue) : null;
  if (place) return { text: stringAt(place.bytes, place.offset), declaredAt };
  if (tag === DW_TAG.subprogram) return null;
  return { text: tag === DW_TAG.namespace ? '(anonymous namespace)' : '{unnamed type}', declaredAt };
}
