import { defaultScope, type ScopeDays } from '@rough-ember/core/scope/scope';
import { countMatrix, type SessionMatrix, sampleError } from '@rough-ember/core/session-index/count-sessions';
import type { SessionField } from '@rough-ember/core/session-index/person-day';
import { SessionIndex } from '@rough-ember/core/session-index/session-index';
import type { Counts } from '@rough-ember/core/session-index/tally';
import { spanOf } from '@rough-ember/core/session-index/window';
import { Random } from '@rough-ember/demo/random';
import type { Bench } from './figure.ts';
import { largeDay, largeSessions, sumsADay } from './large-sessions.ts';

const persons = 5_000_000;
const sessions = 20_000_000;
const windows: readonly ScopeDays[] = [7, 30, 90];

/** What was counted without the index: a mark for each person. */
class Truth {
  private readonly seen = new Uint8Array(persons);
  private readonly crashed = new Uint8Array(persons);

  add(person: number, crashed: number): void {
    this.seen[person] = 1;
    if (crashed > 0) this.crashed[person] = 1;
  }

  /** Of all persons, or of those of a system, which stays with a person. */
  count(system: number | null): Pick<Counts, 'persons' | 'personsCrashed'> {
    let [all, crashed] = [0, 0];
    for (let person = system ?? 0; person < persons; person += system === null ? 1 : largeSessions.systems) {
      all += this.seen[person] as number;
      crashed += this.crashed[person] as number;
    }
    return { persons: all, personsCrashed: crashed };
  }
}

const systemField: SessionField = { field: 'os.version', key: '' };

/**
 * How far persons and crash-free users of five million installations are from a count of each of them. Exact counts must be
 * equal; the figure is how many of the numbers that a sample gives at once are further off than the page tells.
 */
export const crashFreeAccuracy: Bench = async () => {
  const index = new SessionIndex();
  const truths = windows.map((days) => ({ days, truth: new Truth() }));
  const random = new Random(5);
  const sums = sumsADay(sessions);
  for (let back = largeSessions.days - 1; back >= 0; back--) {
    const block = largeDay(random, { back, sums, persons });
    index.addBlock(block);
    const who = new DataView(block.persons.buffer);
    for (let row = 0; row < block.rows; row++)
      for (const { days, truth } of truths)
        if (back < days) truth.add(who.getUint32(8 * row + 4, true), block.counts.crashed[row] as number);
  }
  index.ready();
  const now = Date.now();
  let [looks, beyond, worstOfAll, worstFree] = [0, 0, 0, 0];
  for (const { days, truth } of truths) {
    const [exact, drawn] = (['everybody', 'sample'] as const).map((sampling) =>
      countMatrix(index, defaultScope, spanOf({ days }, now), systemField, null, { sampling }),
    ) as [SessionMatrix, SessionMatrix];
    for (let system: number | null = null; system !== largeSessions.systems; system = system === null ? 0 : system + 1) {
      const right = truth.count(system);
      const of = ({ rows, ofRows, total }: SessionMatrix) => (system === null ? total : (ofRows[rows.indexOf(String(system))] as Counts));
      const [one, other] = [of(exact), of(drawn)];
      if (one.persons !== right.persons || one.personsCrashed !== right.personsCrashed)
        throw new Error(`${one.persons} persons of system ${system} in ${days} days were counted, and there are ${right.persons}`);
      const error = Math.abs(other.persons / right.persons - 1);
      looks++;
      if (error > sampleError(other.persons)) beyond++;
      if (system !== null) continue;
      worstOfAll = Math.max(worstOfAll, error);
      worstFree = Math.max(worstFree, 100 * Math.abs(other.personsCrashed / other.persons - right.personsCrashed / right.persons));
    }
  }
  return {
    name: 'crashfree.accuracy',
    value: (100 * beyond) / looks,
    unit: '% of numbers of persons are further off than the page tells',
    yardstick: 'the 5 % that an interval of 95 % leaves out',
    ratio: beyond / looks / 0.05,
    note: `${index.personCount} persons in ${index.rows} sums; ${looks} numbers, of windows of ${windows.join(', ')} days, all systems and each of ${largeSessions.systems}: counted exactly, all are those of a count of each person; in the sample all persons of a window are right within ${(100 * worstOfAll).toFixed(2)} % and their crash-free share within ${worstFree.toFixed(4)} percentage points`,
  };
};
