import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { follow, testsOf } from './match.ts';
import { parseSequence, type Sequence } from './sequence.ts';
import { type PathStep, stepsOf } from './session-path.ts';

const sequenceOf = (text: string): Sequence => {
  const read = parseSequence(text);
  if (!read.ok) throw new Error(read.problem.message);
  return read.value;
};
const reached = (steps: readonly PathStep[], text: string) => {
  const sequence = sequenceOf(text);
  return follow(steps, sequence, testsOf(sequence)).reached;
};
const screen = (name: string, atMs: number): PathStep => ({ kind: 'screen', name, atMs });

/** Tries every choice of steps. */
function reachedByTrying(steps: readonly PathStep[], sequence: Sequence): number {
  const tests = testsOf(sequence);
  const from = (place: number, at: number, beforeMs: number | null): number => {
    let best = at;
    if (at === sequence.length) return best;
    for (let next = place; next < steps.length; next++) {
      const step = steps[next] as PathStep;
      const withinMs = sequence[at]?.withinMs ?? null;
      if (!tests[at]?.(step) || (beforeMs !== null && withinMs !== null && step.atMs - beforeMs > withinMs)) continue;
      best = Math.max(best, from(next + 1, at + 1, step.atMs));
    }
    return best;
  };
  return from(0, 0, null);
}

describe('how far a session follows a sequence', () => {
  test('agrees with trying every choice of steps', () => {
    const name = fc.constantFrom('a', 'b', 'c');
    const steps = fc.array(fc.tuple(name, fc.integer({ min: 0, max: 20 })), { maxLength: 9 }).map((all) => {
      let atMs = 0;
      return all.map(([one, later]) => {
        atMs += later;
        return screen(one, atMs);
      });
    });
    const sequence = fc
      .array(fc.tuple(name, fc.option(fc.integer({ min: 0, max: 30 }))), { minLength: 1, maxLength: 4 })
      .map(
        (all): Sequence =>
          all.map(([one, withinMs], at) => ({ kind: 'screen', name: one, outcome: null, withinMs: at === 0 ? null : withinMs })),
      );
    fc.assert(
      fc.property(steps, sequence, (path, wanted) => {
        const progress = follow(path, wanted, testsOf(wanted));
        expect(progress.reached).toBe(reachedByTrying(path, wanted));
        expect(progress.atMs).toHaveLength(progress.reached);
      }),
      { numRuns: 500 },
    );
  });

  test('a later start leaves more time for what follows', () => {
    const steps = [screen('Map', 0), screen('Home', 50_000), screen('Map', 60_000), screen('Offline', 65_000)];
    expect(reached(steps, 'screen Map then screen Offline within 10 s')).toBe(2);
    expect(reached(steps, 'screen Home then screen Map then screen Offline within 1 s')).toBe(2);
  });

  test('names are whole, of requests and log lines a part, and * stands for anything', () => {
    const at = '2026-11-20T09:12:44.000Z';
    const steps = stepsOf(
      Date.parse(at),
      [
        { kind: 'tap', at, target: 'offline-maps', text: null },
        { kind: 'request', at, method: 'get', host: 'Tiles.larkfield.example', path: '/t/7', status: 504, durationMs: null },
        { kind: 'log', at, level: 'warn', message: 'cache is full' },
        { kind: 'flag', at, name: 'night-map', variant: 'on' },
      ],
      [{ kind: 'crash', atMs: Date.parse(at) }],
    );
    for (const [text, holds] of [
      ['tap offline', false],
      ['tap OFFLINE-maps', true],
      ['tap off*', true],
      ['tap *maps', true],
      ['tap off*line*maps', true],
      ['tap maps*', false],
      ['request tiles 5xx', true],
      ['request tiles 504', true],
      ['request tiles 4xx', false],
      ['request tiles failed', true],
      ['request tiles ok', false],
      ['request "tiles*{number}"', true],
      ['log full', true],
      ['flag night-map', true],
      ['flag night-map=on', true],
      ['flag night-map=off', false],
      ['flag night', false],
      ['crash', true],
      ['kill', false],
      ['tap then request then log then crash', true],
      ['crash then tap', false],
    ] as const)
      expect([text, reached(steps, text) === sequenceOf(text).length]).toEqual([text, holds]);
  });

  test('what a report tells of the session before is not of this one, and what came twice is one step', () => {
    const event = (at: string, name: string) => ({ kind: 'screen' as const, at, name });
    const started = Date.parse('2026-11-20T09:00:00.000Z');
    const told = [
      event('2026-11-20T08:00:00.000Z', 'Old'),
      event('2026-11-20T09:00:05.000Z', 'Map'),
      event('2026-11-20T09:00:05.000Z', 'Map'),
    ];
    expect(stepsOf(started, told, []).map(({ name }) => name)).toEqual(['Map']);
  });
});
