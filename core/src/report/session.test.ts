import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { joinSessions, type KnownSession, knownSession, type SessionItem, sessionItemSchema, sessionStates } from './session.ts';

/** The items of one session as its client made them: numbers rise, and so do time, duration and errors. */
export const sessionStory: fc.Arbitrary<SessionItem[]> = fc
  .record({
    id: fc.uuid(),
    states: fc.array(fc.constantFrom(...sessionStates), { minLength: 1, maxLength: 6 }),
    version: fc.constantFrom('4.2.0', '4.3.0'),
  })
  .map(({ id, states, version }) =>
    states.map((state, sequence) =>
      sessionItemSchema.parse({
        id,
        sequence,
        state,
        version,
        build: '1',
        startedAt: '2026-01-01T00:00:00Z',
        at: new Date(Date.UTC(2026, 0, 1, 0, sequence)).toISOString(),
        durationMs: sequence * 60_000,
        errors: sequence,
        attributes: { step: sequence },
      }),
    ),
  );

const fold = (items: readonly SessionItem[]): KnownSession => items.map(knownSession).reduce(joinSessions);

describe('what is known of a session', () => {
  it('is the same in whatever order its items come, and however often', () => {
    fc.assert(
      fc.property(
        sessionStory.chain((items) =>
          fc.tuple(fc.constant(items), fc.shuffledSubarray([...items, ...items], { minLength: items.length * 2 })),
        ),
        ([items, delivered]) => {
          expect(fold(delivered)).toEqual(fold(items));
        },
      ),
    );
  });

  it('keeps where it began and the worst that happened', () => {
    const at = (sequence: number, more: object) =>
      sessionItemSchema.parse({
        id: '0192d3a4-5b6c-4d7e-8f90-a1b2c3d4e5f6',
        sequence,
        at: `2026-01-01T00:0${sequence}:00Z`,
        startedAt: '2026-01-01T00:00:00Z',
        version: '1',
        build: '1',
        ...more,
      });
    const known = fold([at(2, { state: 'ended', version: '2' }), at(1, { state: 'crashed' }), at(0, { version: '1' })]);
    expect(known).toMatchObject({ state: 'crashed', lastAt: '2026-01-01T00:02:00Z', first: { version: '1' } });
  });
});
