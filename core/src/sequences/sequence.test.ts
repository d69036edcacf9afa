import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { parseSequence, printSequence, type RequestOutcome, type Sequence, type StepPattern } from './sequence.ts';
import { stepKinds } from './session-path.ts';

const reportKinds = new Set(['crash', 'hang', 'kill', 'error']);
const outcome = fc.oneof<fc.Arbitrary<RequestOutcome>[]>(
  fc.record({ kind: fc.constant('status' as const), status: fc.integer({ min: 100, max: 599 }) }),
  fc.record({ kind: fc.constant('class' as const), hundreds: fc.integer({ min: 1, max: 5 }) }),
  fc.constantFrom({ kind: 'failed' as const }, { kind: 'ok' as const }),
);
const step = fc
  .record({
    kind: fc.constantFrom(...stepKinds),
    name: fc.option(
      fc.oneof(fc.constantFrom('then', 'within', '5xx', 'ok', ',', '*.tiles', 'Map'), fc.string({ minLength: 1, maxLength: 30 })),
    ),
    outcome: fc.option(outcome),
    withinMs: fc.option(fc.integer({ min: 1, max: 86_400_000 })),
  })
  .map(
    (one): StepPattern => ({
      ...one,
      name: reportKinds.has(one.kind) || one.name === '*' ? null : one.name,
      outcome: one.kind === 'request' ? one.outcome : null,
    }),
  );
const sequences = fc
  .array(step, { minLength: 1, maxLength: 10 })
  .map((steps): Sequence => steps.map((one, at) => (at === 0 ? { ...one, withinMs: null } : one)))
  .filter((sequence) => printSequence(sequence).length <= 1_000);

describe('a sequence as it is written', () => {
  test('is read step by step', () => {
    const read = parseSequence('screen Map, tap "Offline maps" then request tiles 5xx within 10 s then crash within 500 ms');
    expect(read).toEqual({
      ok: true,
      value: [
        { kind: 'screen', name: 'Map', outcome: null, withinMs: null },
        { kind: 'tap', name: 'Offline maps', outcome: null, withinMs: null },
        { kind: 'request', name: 'tiles', outcome: { kind: 'class', hundreds: 5 }, withinMs: 10_000 },
        { kind: 'crash', name: null, outcome: null, withinMs: 500 },
      ],
    });
  });

  test('is read as it was printed', () => {
    fc.assert(
      fc.property(sequences, (sequence) => {
        expect(parseSequence(printSequence(sequence))).toEqual({ ok: true, value: sequence });
      }),
    );
  });

  test.each([
    ['', 'a sequence has at least one step, such as "screen Map"'],
    ['then then', 'a sequence has at least one step, such as "screen Map"'],
    ['Map', '"Map" begins no step'],
    ['screen Night map', '"map" was not understood; put names of several words in quotes'],
    ['screen Map within 3 s', 'the first step follows none'],
    ['screen Map then tap Go within soon', 'after "within" comes a time'],
    [Array.from({ length: 11 }, () => 'crash').join(' then '), 'at most 10 steps'],
  ])('%j is not understood, and says why', (text, words) => {
    const read = parseSequence(text);
    expect(read.ok ? '' : read.problem.message).toContain(words);
  });

  test('any text is read or refused', () => {
    fc.assert(fc.property(fc.string({ maxLength: 1_200 }), (text) => void parseSequence(text)));
  });
});
