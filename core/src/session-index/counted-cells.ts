import type { Verdict } from '../stability/comparison.ts';
import { verdictsOfMany } from '../stability/discoveries.ts';
import type { BadEnds } from '../stability/figures.ts';
import { typicalEffect } from '../stability/session-rate.ts';
import { oneValue } from './axis.ts';
import { effectsOf, type Spread, type SpreadTally, sidesOfCell, spreadOf } from './person-spread.ts';
import type { SessionIndex } from './session-index.ts';
import { type DaySpan, type RowCheck, type Sampling, samplingAtOnce } from './session-rows.ts';
import { type SessionScope, sessionTests } from './session-test.ts';
import { type Counts, type Effects, everyEffect, type Sums } from './tally.ts';
import { type Axes, type Tallies, tallyRows } from './tally-rows.ts';

/** What is counted, and how. */
interface Counting {
  readonly index: SessionIndex;
  readonly check: RowCheck;
  readonly axes: Axes;
  readonly badEnds: BadEnds;
}

/** Counts the rows of a scope into the cells of two axes, and into the sums of both. */
export function countCells(
  index: SessionIndex,
  { scope, span }: { scope: SessionScope; span: DaySpan },
  axes: Axes,
  { sampling, badEnds }: { sampling: Sampling; badEnds: BadEnds },
): CountedCells {
  const check = { ...sessionTests(index, scope), ...span };
  return new CountedCells(tallyRows(index, check, axes, sampling), { index, check, axes, badEnds });
}

/** What was counted, with how surely rates follow from it. */
export class CountedCells {
  private readonly spread: Spread;
  private readonly usual: Effects;

  constructor(
    private readonly tallies: Tallies,
    private readonly counting: Counting,
  ) {
    const { index, check, axes, badEnds } = counting;
    this.spread = spreadOf(index, check, axes, { sampling: samplingAtOnce(index), badEnds });
    this.usual = this.effectsOf('total', 0, tallies.total.of(0), usualEffects(index, badEnds));
  }

  of(name: keyof Tallies, place: number): Counts {
    const sums = this.tallies[name].of(place);
    return { ...sums, effects: name === 'total' ? this.usual : this.effectsOf(name, place, sums, this.usual) };
  }

  all(name: keyof Tallies): Counts[] {
    return Array.from({ length: this.tallies[name].cells }, (_, place) => this.of(name, place));
  }

  verdictsOfCells(): Verdict[] {
    const { badEnds } = this.counting;
    const all = this.tallies.total.of(0);
    const told = { all, badEnds };
    const cells = Array.from({ length: this.tallies.cells.cells }, (_, cell) => this.tallies.cells.of(cell));
    return verdictsOfMany(cells.map((own, cell) => sidesOfCell(this.spread, cell, { ...told, own })));
  }

  private effectsOf(name: keyof Tallies, cell: number, sums: Sums, usual: Effects): Effects {
    const tally: SpreadTally = this.spread[name];
    return effectsOf({ tally, cell, times: this.spread.times }, sums, { badEnds: this.counting.badEnds, usual });
  }
}

/** Days over which the design effects are taken that few crashes are drawn towards. */
const usualDays = 90;
const usualOf = new WeakMap<SessionIndex, { revision: number; readonly byEnds: Map<string, Effects> }>();

/** The design effects of an app over a longer window, kept until something changes: so every process gives the same answer. */
function usualEffects(index: SessionIndex, badEnds: BadEnds): Effects {
  const kept = usualOf.get(index);
  const known = kept?.revision === index.revision ? kept.byEnds : new Map<string, Effects>();
  usualOf.set(index, { revision: index.revision, byEnds: known });
  const name = JSON.stringify(badEnds);
  const effects = known.get(name) ?? longEffects(index, badEnds);
  known.set(name, effects);
  return effects;
}

function longEffects(index: SessionIndex, badEnds: BadEnds): Effects {
  const dayOf = index.column('dayOf');
  let last = 0;
  for (let row = 0; row < index.rows; row++) last = Math.max(last, dayOf[row] as number);
  const check = { ...sessionTests(index, { versions: { match: 'any' }, builds: 'any', filter: null }), first: last - usualDays, last };
  const sampling = samplingAtOnce(index);
  const axes = { down: oneValue(index), across: oneValue(index) };
  const { total: counted } = tallyRows(index, check, axes, sampling);
  const { total: tally, times } = spreadOf(index, check, axes, { sampling, badEnds });
  return effectsOf({ tally, cell: 0, times }, counted.of(0), { badEnds, usual: everyEffect(typicalEffect) });
}
