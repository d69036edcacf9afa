import { type BadEnds, onlyCrashes } from '../stability/figures.ts';
import { type Sides, SidesTally } from '../stability/sides.ts';
import { type Standardised, StrataTally } from '../stability/strata.ts';
import { isSameVersion } from '../version/version-order.ts';
import type { SessionField } from './person-day.ts';
import { mark, type SessionIndex } from './session-index.ts';
import { checkOf, type DaySpan, eachRow, rowsByPerson, type Sampling, samplingAtOnce, somePersons } from './session-rows.ts';
import { type SessionScope, sessionTests } from './session-test.ts';

/** One side of a comparison: the sessions of a scope in some days. */
export interface Side {
  readonly scope: SessionScope;
  readonly span: DaySpan;
}

/** Two sides as they are compared. Where a sample stands for all, the sums are of the sample, and so is what follows from them. */
export interface CountedSides {
  readonly sampling: Sampling;
  readonly sessions: Sides;
  /** The same with persons in place of sessions: those with a session, and those with one that ended badly. */
  readonly persons: Sides;
  /** The difference within strata; null when there are none to tell apart. */
  readonly standardised: Standardised | null;
}

/** About so many rows tell how two sides differ; of more, one person in so many is looked at. */
const enoughRows = 300_000;

/** Sums up both sides of a comparison, person by person. A session that lies on both counts on the newer one. */
export function countSides(
  index: SessionIndex,
  { newer, older }: { readonly newer: Side; readonly older: Side },
  { badEnds = onlyCrashes, strata = [] }: { badEnds?: BadEnds; strata?: readonly SessionField[] } = {},
): CountedSides {
  index.ready();
  const sampling = samplingAtOnce(index);
  const isNewer = checkOf(index, { ...sessionTests(index, newer.scope), ...newer.span });
  const isOlder = checkOf(index, { ...sessionTests(index, older.scope), ...older.span });
  const gathering = new SidesGathering(strata.length > 0);
  const stratumOf = stratumOfRows(index, strata);
  const badOf = badOfRows(index, badEnds);
  const personOf = index.column('personOf');
  const sessions = index.column('sessions');
  const marks = index.column('marks');
  const byPerson = rowsByPerson(index, sampling);
  const some = somePersons(index, byPerson, enoughRows);
  const look = (row: number) => {
    const person = personOf[row] as number;
    if (!some.has(person)) return;
    const place = isNewer(row) ? 0 : isOlder(row) ? 2 : -1;
    if (place < 0) return;
    gathering.begin(person, ((marks[row] as number) & mark.unknownPerson) === 0);
    gathering.add(place, badOf(row), sessions[row] as number, stratumOf(row));
  };
  eachRow(byPerson, look);
  return { sampling: some.share > 1 ? 'sample' : sampling, ...gathering.end() };
}

/** Two versions to compare, each in days of its own. */
export interface VersionSides {
  readonly newer: { readonly version: string; readonly span: DaySpan };
  readonly older: { readonly version: string; readonly span: DaySpan };
}

/** Sums up both sides of many comparisons of versions in one pass over the sessions of a scope, whichever versions that names. */
export function countVersionSides(
  index: SessionIndex,
  scope: SessionScope,
  pairs: readonly VersionSides[],
  { badEnds = onlyCrashes, strata = [] }: { badEnds?: BadEnds; strata?: readonly SessionField[] } = {},
): CountedSides[] {
  index.ready();
  const sampling = samplingAtOnce(index);
  const gatherings = pairs.map(() => new SidesGathering(strata.length > 0));
  const versions = index.valuesOf({ field: 'version', key: '' });
  if (versions) {
    const spans = pairs.flatMap(({ newer, older }) => [newer.span, older.span]);
    const span = { first: Math.min(...spans.map(({ first }) => first)), last: Math.max(...spans.map(({ last }) => last)) };
    const passes = checkOf(index, { ...sessionTests(index, { ...scope, versions: { match: 'any' } }), ...span });
    const rolesOf = versions.dictionary.map((name) => rolesOfVersion(name, pairs));
    const stratumOf = stratumOfRows(index, strata);
    const badOf = badOfRows(index, badEnds);
    const [personOf, dayOf, sessions, marks] = [
      index.column('personOf'),
      index.column('dayOf'),
      index.column('sessions'),
      index.column('marks'),
    ];
    const { codes } = versions;
    const look = (row: number) => {
      const roles = rolesOf[codes[row] as number] as readonly Role[];
      if (roles.length === 0 || !passes(row)) return;
      const day = dayOf[row] as number;
      for (const { pair, place, first, last } of roles) {
        if (day < first || day > last) continue;
        const gathering = gatherings[pair] as SidesGathering;
        gathering.begin(personOf[row] as number, ((marks[row] as number) & mark.unknownPerson) === 0);
        gathering.add(place, badOf(row), sessions[row] as number, stratumOf(row));
      }
    };
    eachRow(rowsByPerson(index, sampling), look);
  }
  return gatherings.map((gathering) => ({ sampling, ...gathering.end() }));
}

/** On which side of which pair the sessions of a version lie, and on which days. */
interface Role extends DaySpan {
  readonly pair: number;
  readonly place: 0 | 2;
}

function rolesOfVersion(name: string, pairs: readonly VersionSides[]): readonly Role[] {
  return pairs.flatMap(({ newer, older }, pair): Role[] => [
    ...(isSameVersion(newer.version, name) ? [{ pair, place: 0 as const, ...newer.span }] : []),
    ...(isSameVersion(older.version, name) ? [{ pair, place: 2 as const, ...older.span }] : []),
  ]);
}

/** How many sessions of a row ended badly. */
export function badOfRows(index: SessionIndex, { hangs, kills }: BadEnds): (row: number) => number {
  const [crashed, hung, killed] = [index.column('crashed'), index.column('hung'), index.column('killed')];
  return (row) => (crashed[row] as number) + (hangs ? (hung[row] as number) : 0) + (kills ? (killed[row] as number) : 0);
}

/** A number for what rows have in some fields together. */
function stratumOfRows(index: SessionIndex, fields: readonly SessionField[]): (row: number) => number {
  const columns = fields.flatMap((field) => index.valuesOf(field) ?? []);
  const [first, ...others] = columns;
  if (!first) return () => 0;
  return (row) =>
    others.reduce((stratum, { codes, dictionary }) => stratum * dictionary.length + (codes[row] as number), first.codes[row] as number);
}

type Four = [x1: number, n1: number, x2: number, n2: number];

/** What one person did on both sides, until the rows of the next one begin. */
class SidesGathering {
  private readonly sessions = new SidesTally();
  private readonly persons = new SidesTally();
  private readonly strata: StrataTally | null;
  private person = -1;
  private isKnown = false;
  private readonly own: Four = [0, 0, 0, 0];

  constructor(hasStrata: boolean) {
    this.strata = hasStrata ? new StrataTally() : null;
  }

  begin(person: number, isKnown: boolean): void {
    if (person === this.person) return;
    this.flush();
    this.person = person;
    this.isKnown = isKnown;
  }

  add(place: number, bad: number, sessions: number, stratum: number): void {
    const { own } = this;
    own[place] = (own[place] as number) + bad;
    own[place + 1] = (own[place + 1] as number) + sessions;
    this.strata?.add(this.person, stratum, place, bad, sessions);
  }

  end(): Omit<CountedSides, 'sampling'> {
    this.flush();
    return { sessions: this.sessions.sides, persons: this.persons.sides, standardised: this.strata?.standardised() ?? null };
  }

  private flush(): void {
    const { own } = this;
    if (own[1] + own[3] === 0) return;
    this.sessions.add(...own);
    const once = (count: number) => (count > 0 ? 1 : 0);
    if (this.isKnown) this.persons.add(once(own[0]), once(own[1]), once(own[2]), once(own[3]));
    own.fill(0);
  }
}
