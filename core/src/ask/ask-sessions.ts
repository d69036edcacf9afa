import type { Split } from '../cases/desk-settings.ts';
import { isNumber } from '../scope/filter/parse-filter.ts';
import { type Axis, axisOf, notToldValue, oneValue, otherValues } from '../session-index/axis.ts';
import { countCells } from '../session-index/counted-cells.ts';
import { listSeparator } from '../session-index/person-day.ts';
import { mark, type SessionIndex, sampleShare } from '../session-index/session-index.ts';
import { type DaySpan, rowsThatPass, type Sampling } from '../session-index/session-rows.ts';
import { type SessionScope, sessionTests } from '../session-index/session-test.ts';
import type { Counts, Effects, Sums } from '../session-index/tally.ts';
import { type Axes, tallyRows } from '../session-index/tally-rows.ts';
import { notTold } from '../session-index/value-column.ts';
import { onlyCrashes } from '../stability/figures.ts';
import { type Asked, type AskedSplit, type Counted, type Figure, placesOf, productOf } from './asked.ts';
import type { CountOf, Statistic } from './measures.ts';
import { type Histogram, histogramOf, Numbers, within } from './number-cells.ts';
import { ageOf, placesOfDays, type Steps } from './steps.ts';

export interface SessionsQuestion {
  readonly splits: readonly Split[];
  readonly span: DaySpan;
  readonly steps: Steps | null;
  readonly most: number;
  readonly sampling: Sampling;
}

type SessionCount = CountOf<'sessions'>;

/** The sums of sessions that each name stands for, and the design effect that belongs to it. */
const sumNames = {
  sessions: 'sessions',
  people: 'persons',
  'new people': 'newPersons',
  'crashed sessions': 'crashed',
  'hung sessions': 'hung',
  'killed sessions': 'killed',
  'sessions crashed at start': 'crashedAtStart',
  'sessions with errors': 'withErrors',
  'people with a crash': 'personsCrashed',
  'people with a hang': 'personsHung',
  'people with a kill': 'personsKilled',
} as const satisfies Readonly<Record<SessionCount, keyof Sums>>;

/** People are independent; how sessions as such spread over them is not looked at. */
function effectOf(name: SessionCount, effects: Effects | null): number | null {
  const sum = sumNames[name];
  if (effects !== null && sum in effects) return effects[sum as keyof Effects];
  return name === 'sessions' ? null : 1;
}

/** Counts the sessions of a scope or the people of them, and beside it what they are counted against. */
export function askSessions(
  index: SessionIndex,
  scope: SessionScope,
  question: SessionsQuestion,
  { count, per }: { readonly count: SessionCount; readonly per: SessionCount | null },
): Asked<Counted> {
  index.ready();
  const divided = divide(index, scope, question);
  const { axes, sizes, steps } = divided;
  const counter = cellsOf(index, scope, question, axes, per !== null);
  const cell = ({ sums, effects }: { sums: Sums; effects: Effects | null }): Counted => ({
    count: sums[sumNames[count]],
    per: per === null ? null : sums[sumNames[per]],
    effect: effectOf(count, effects),
  });
  const groups = Array.from({ length: axes.down.values.length }, (_, group) => group).filter(
    (group) => counter('down', group).sums.sessions > 0,
  );
  return {
    splits: divided.splits,
    groups: groups.map((group) => ({
      places: placesOf(group, sizes),
      sum: cell(counter('down', group)),
      course:
        steps === 0 ? null : Array.from({ length: steps }, (_, step) => cell(counter('cells', group * axes.across.values.length + step))),
    })),
    total: cell(counter('total', 0)),
  };
}

type Counter = (name: 'cells' | 'down' | 'total', place: number) => { readonly sums: Sums; readonly effects: Effects | null };

/** Counts cells; how surely rates follow from them is looked at only where one is asked for. */
function cellsOf(index: SessionIndex, scope: SessionScope, { span, sampling }: SessionsQuestion, axes: Axes, isRate: boolean): Counter {
  if (isRate) {
    const counted = countCells(index, { scope, span }, axes, { sampling, badEnds: onlyCrashes });
    return (name, place) => {
      const sums: Counts = counted.of(name, place);
      return { sums, effects: sums.effects };
    };
  }
  const tallies = tallyRows(index, { ...sessionTests(index, scope), ...span }, axes, sampling);
  return (name, place) => ({ sums: tallies[name].of(place), effects: null });
}

/** A statistic of an attribute of the sessions of a scope that is a number; and how its values are spread. */
export function askNumbersOfSessions(
  index: SessionIndex,
  scope: SessionScope,
  question: SessionsQuestion,
  { statistic, attribute }: { readonly statistic: Statistic; readonly attribute: string },
): Asked<Figure> & { readonly histogram: Histogram | null } {
  index.ready();
  const { axes, splits, sizes, steps } = divide(index, scope, question);
  const column = index.valuesOf({ field: 'attributes', key: attribute });
  const numbers = (column?.dictionary ?? []).map((value, code) =>
    code === notTold ? [] : value.split(listSeparator).filter(isNumber).map(Number),
  );
  const [cells, groups, total] = [new Map<number, Numbers>(), new Map<number, Numbers>(), new Numbers()];
  const times = question.sampling === 'sample' ? sampleShare : 1;
  const [personOf, marks, sessions] = [index.column('personOf'), index.column('marks'), index.column('sessions')];
  for (const row of rowsThatPass(index, question.sampling, { ...sessionTests(index, scope), ...question.span })) {
    const told = numbers[column?.codes[row] ?? notTold] ?? [];
    if (told.length === 0) continue;
    const group = placeIn(axes.down, row);
    const step = placeIn(axes.across, row);
    const person = ((marks[row] as number) & mark.unknownPerson) === 0 ? (personOf[row] as number) : -1;
    for (const value of told)
      for (const to of [total, within(groups, group), ...(steps > 0 ? [within(cells, group * axes.across.values.length + step)] : [])])
        to.add(value, times * (sessions[row] as number), person);
  }
  const nothing = new Numbers();
  return {
    splits,
    groups: [...groups].map(([group, own]) => ({
      places: placesOf(group, sizes),
      sum: own.figure(statistic),
      course:
        steps === 0
          ? null
          : Array.from({ length: steps }, (_, step) => (cells.get(group * axes.across.values.length + step) ?? nothing).figure(statistic)),
    })),
    total: total.figure(statistic),
    histogram: histogramOf(total),
  };
}

export const placeIn = ({ placeOf, codes }: Axis, row: number): number => placeOf[codes[row] as number] as number;

/** How the rows of an index are divided: by all fields together along one axis, and by time along the other. */
export interface Divided {
  readonly axes: Axes;
  readonly splits: readonly AskedSplit[];
  readonly sizes: readonly number[];
  /** Steps that are told; the axis may have one more for days of no step. */
  readonly steps: number;
}

export function divide(
  index: SessionIndex,
  scope: SessionScope,
  { splits, span, steps, most }: Omit<SessionsQuestion, 'sampling'>,
): Divided {
  const axes = splits.map((split) => axisOf(index, split, most));
  // An attribute that no session told has no axis: all sessions are among those that do not tell it.
  const sizes = axes.map((axis) => axis.values.length);
  return {
    axes: { down: combined(index, axes), across: steps === null ? oneValue(index) : timeAxis(index, steps) },
    splits: axes.map((axis) => ({
      values: axis.values,
      gathered: axis.values.at(-1) === otherValues ? gatheredIn(index, scope, span, axis) : 0,
    })),
    sizes,
    steps: steps?.starts.length ?? 0,
  };
}

/** One axis of several, the last one counting fastest. */
function combined(index: SessionIndex, axes: readonly Axis[]): Axis {
  const [first, ...others] = axes;
  if (!first) return oneValue(index);
  if (others.length === 0) return first;
  const codes = new Int32Array(index.rows);
  for (const { codes: own, placeOf, values } of axes)
    for (let row = 0; row < codes.length; row++)
      codes[row] = Math.imul(codes[row] as number, values.length) + (placeOf[own[row] as number] as number);
  const size = productOf(axes.map((axis) => axis.values.length));
  return { values: new Array<string>(size).fill(notToldValue), codes, placeOf: Int32Array.from({ length: size }, (_, place) => place) };
}

function timeAxis(index: SessionIndex, steps: Steps): Axis {
  const places = steps.starts.length;
  if (steps.every !== 'day since release')
    return { values: steps.starts.map(String), codes: index.column('dayOf'), placeOf: placesOfDays(steps) };
  const versions = index.valuesOf({ field: 'version', key: '' });
  const ages = (versions?.dictionary ?? ['']).map(ageOf(steps));
  const dayOf = index.column('dayOf');
  const codes = new Int32Array(index.rows);
  for (let row = 0; row < codes.length; row++)
    codes[row] = (ages[versions?.codes[row] ?? notTold] as (day: number) => number)(dayOf[row] as number);
  return {
    values: new Array<string>(places + 1).fill(notToldValue),
    codes,
    placeOf: Int32Array.from({ length: places + 1 }, (_, place) => place),
  };
}

/** How many values of a scope are among the others of an axis. */
function gatheredIn(index: SessionIndex, scope: SessionScope, span: DaySpan, { codes, placeOf, values }: Axis): number {
  const isThere = new Uint8Array(placeOf.length);
  const others = values.length - 1;
  for (const row of rowsThatPass(index, 'everybody', { ...sessionTests(index, scope), ...span })) isThere[codes[row] as number] = 1;
  let gathered = 0;
  for (let code = 0; code < placeOf.length; code++) if (isThere[code] === 1 && placeOf[code] === others) gathered++;
  return gathered;
}
