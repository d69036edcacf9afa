import fc from 'fast-check';
import { listSeparator, noActivities, type PersonDay } from '../person-day.ts';
import { SessionIndex } from '../session-index.ts';

/** A session as a device has it, of which the index keeps sums alone. */
export interface OneSession {
  readonly person: number;
  readonly isKnown: boolean;
  readonly day: number;
  readonly excluded: boolean;
  readonly inferred: boolean;
  readonly version: string;
  readonly device: string | null;
  readonly layers: readonly string[];
  readonly end: 'ended' | 'crashed' | 'hung' | 'killed';
  readonly atStart: boolean;
}

/** A session of which there is nothing to say. */
export const plainSession: OneSession = {
  person: 1,
  isKnown: true,
  day: 103,
  excluded: false,
  inferred: false,
  version: '4.2.0',
  device: null,
  layers: [],
  end: 'ended',
  atStart: false,
};

export const anySession: fc.Arbitrary<OneSession> = fc.record({
  person: fc.nat(12),
  isKnown: fc.constant(true),
  day: fc.integer({ min: 100, max: 106 }),
  excluded: fc.boolean(),
  inferred: fc.constantFrom(false, false, false, true),
  version: fc.constantFrom('4.2.0', '4.10.0', '4.3.0'),
  device: fc.constantFrom('Brill 6a', 'Tarn Go 3', null),
  layers: fc.constantFrom([], ['terrain'], ['terrain', 'sightings']),
  end: fc.constantFrom('ended', 'ended', 'ended', 'crashed', 'hung', 'killed'),
  atStart: fc.boolean(),
});

export const keyOf = (person: number, isKnown: boolean): Uint8Array => Uint8Array.of(isKnown ? 1 : 2, 0, 0, 0, person, 7, 0, 200);

export const toRow = ({ person, isKnown, day, excluded, inferred, version, device, layers, end, atStart }: OneSession): PersonDay => ({
  person: keyOf(person, isKnown),
  isKnown,
  day,
  excluded,
  inferred,
  sessions: 1,
  crashed: end === 'crashed' ? 1 : 0,
  hung: end === 'hung' ? 1 : 0,
  killed: end === 'killed' ? 1 : 0,
  crashedAtStart: end === 'crashed' && atStart ? 1 : 0,
  withErrors: 0,
  activities: noActivities,
  values: [
    { field: 'version', key: '', value: version },
    ...(device === null ? [] : [{ field: 'device.model' as const, key: '', value: device }]),
    ...(layers.length === 0 ? [] : [{ field: 'attributes' as const, key: 'layers', value: layers.join(listSeparator) }]),
  ],
});

/** An index of sessions, settled after the one at a place. */
export function indexOf(sessions: readonly OneSession[], settleAt: number): SessionIndex {
  const index = new SessionIndex();
  sessions.forEach((one, at) => {
    index.add(toRow(one));
    if (at === settleAt) index.settle();
  });
  return index;
}
