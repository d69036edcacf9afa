import { describe, expect, it } from 'vitest';
import { wordBefore, wordEvent } from './trail-words.ts';

const at = '2026-01-01T10:00:00.000Z';

describe('the trail', () => {
  it.each([
    ['2026-01-01T09:59:58.800Z', '−1.2 s'],
    ['2026-01-01T09:56:56.000Z', '−3 min 4 s'],
    ['2026-01-01T07:30:00.000Z', '−2 h 30 min'],
    ['2026-01-01T10:00:01.000Z', '+1.0 s'],
  ])('counts from the report: %s is %s', (then, words) => expect(wordBefore(then, at)).toBe(words));

  it.each([
    [
      { kind: 'request', method: 'GET', host: 'tiles.larkfield.example', path: '/t/{z}', status: 504, durationMs: 812.4 },
      'GET tiles.larkfield.example/t/{z} → 504, 812 ms',
    ],
    [{ kind: 'request', method: 'GET', host: 'a', path: '/', status: null, durationMs: null }, 'GET a/ → no answer'],
    [{ kind: 'tap', target: 'save', text: 'Keep it' }, 'save “Keep it”'],
    [{ kind: 'custom', name: 'export', attributes: { rows: 12, of: ['a', 'b'] } }, 'export · rows 12 · of a, b'],
    [{ kind: 'flag', name: 'night-map', variant: 'on' }, 'night-map = on'],
  ] as const)('says an event in a line', (event, words) => expect(wordEvent({ at, ...event } as never)).toBe(words));
});
