import type { ReportKind } from '../report/report-kinds.ts';
import { wholeScope } from '../scope/scope.ts';
import { versionSortKey } from '../version/version-order.ts';
import { CaseOrder, type RowStretch, versionOfClass, wantedClasses } from './case-order.ts';
import { none, type ReportIndex } from './report-index.ts';
import { scopeColumns } from './rows-in-scope.ts';

/** What a version changed about the cases of an app. Cases are told by their number in the store. */
export interface VersionCases {
  readonly version: string;
  /** Cases whose first version by version order it is, with the people they hit in it; those with most, no more than were asked for. */
  readonly began: readonly BegunCase[];
  /** How many cases have it as their last version. */
  readonly ended: number;
  /** Cases that happened in it. */
  readonly seen: number;
}

interface BegunCase {
  readonly caseId: number;
  readonly people: number;
  readonly reports: number;
}

/** Sorts the cases of released builds and some kinds by the versions they began, happened and ended in; oldest version first. */
export function casesOfVersions(index: ReportIndex, kinds: readonly ReportKind[], { most }: { most: number }): VersionCases[] {
  const { order, placeOf } = versionsInOrder(index);
  const found = order.map((version) => ({ version, began: [] as BegunCase[], ended: 0, seen: 0 }));
  const isWanted = wantedClasses(scopeColumns(index, { ...wholeScope, builds: 'released', kinds: [...kinds] }));
  const cases = CaseOrder.of(index);
  const lastCaseOfPlace = new Int32Array(order.length).fill(none);
  const lastCaseOfPerson = new Int32Array(index.peopleSize).fill(none);
  for (let of = 0; of < index.caseCount; of++) {
    const stretches = cases.stretchesOf(of);
    let [first, last] = [order.length, none];
    for (const { columns, first: from, end } of stretches)
      for (let at = from; at < end; at++) {
        const ofClass = columns.classes[at] as number;
        if (isWanted[ofClass] !== 1) continue;
        const place = placeOf[versionOfClass(ofClass)] as number;
        if (lastCaseOfPlace[place] === of) continue;
        lastCaseOfPlace[place] = of;
        (found[place] as { seen: number }).seen++;
        if (place < first) first = place;
        if (place > last) last = place;
      }
    if (last === none) continue;
    (found[last] as { ended: number }).ended++;
    const counted = countIn(
      stretches,
      of,
      lastCaseOfPerson,
      (ofClass) => isWanted[ofClass] === 1 && placeOf[versionOfClass(ofClass)] === first,
    );
    found[first]?.began.push({ caseId: index.caseIds[of] as number, ...counted });
  }
  for (const one of found) {
    one.began.sort((a, b) => b.people - a.people || b.reports - a.reports);
    one.began.length = Math.min(one.began.length, most);
  }
  return found;
}

/** The versions of an app, oldest first, and the place of each among them by its number; names that mean the same have one place. */
function versionsInOrder({ versions }: ReportIndex): { readonly order: readonly string[]; readonly placeOf: Int32Array } {
  const keys = [...new Set(versions.map(versionSortKey))].sort((a, b) => (a < b ? -1 : 1));
  const placeOfKey = new Map(keys.map((key, place) => [key, place]));
  const placeOf = Int32Array.from(versions, (version) => placeOfKey.get(versionSortKey(version)) as number);
  return { order: keys.map((_, place) => versions[placeOf.indexOf(place)] as string), placeOf };
}

/** The reports of a case that are of some classes, and the people they came from. */
function countIn(
  stretches: readonly RowStretch[],
  of: number,
  lastCaseOfPerson: Int32Array,
  isAsked: (ofClass: number) => boolean,
): { readonly reports: number; readonly people: number } {
  let [reports, people] = [0, 0];
  for (const { columns, first, end } of stretches)
    for (let at = first; at < end; at++) {
      if (!isAsked(columns.classes[at] as number)) continue;
      reports += columns.weights === null ? 1 : (columns.weights[at] as number);
      const person = columns.personOf[at] as number;
      if (person === none || lastCaseOfPerson[person] === of) continue;
      lastCaseOfPerson[person] = of;
      people++;
    }
  return { reports: Math.round(reports), people };
}
