import { createHash } from 'node:crypto';
import { expect, it } from 'vitest';
import { dayLayout, encodeDay } from './day-block.ts';
import { SessionIndex } from './session-index.ts';
import { type StoredSession, sumSessions } from './sum-sessions.ts';

const session = (at: number, more: Partial<StoredSession> = {}): StoredSession => ({
  countedKey: Uint8Array.from({ length: 16 }, (_, byte) => (at * 31 + byte * 7) % 256),
  isKnown: at % 3 > 0,
  day: 20_000,
  excluded: at % 5 === 0,
  inferred: at % 7 === 0,
  state: (['open', 'ended', 'killed', 'hung', 'crashed'] as const)[at % 5] as StoredSession['state'],
  crashedAfterMs: at % 5 === 4 ? at * 700 - 3_000 : null,
  errors: at % 2,
  values: [
    ['version', '4.3.0'],
    ['os.version', String(12 + (at % 3))],
    ['country', at % 2 === 0 ? 'NO' : null],
  ],
  flags: { 'night-map': at % 2 === 0 ? 'on' : 'off' },
  attributes: { tenant: ['north', at], unasked: 'x' },
  screens: [{ name: 'Map', visits: 1 + at }],
  requests: [{ method: 'GET', host: 'tiles.larkfield.example', path: '/t/1', count: 3, failed: 1, durations: [{ bucket: 40, count: 2 }] }],
  ...more,
});

it('what days hold is numbered: whoever changes it raises the number, so that sums of before are made anew', () => {
  const index = new SessionIndex();
  for (const row of sumSessions(
    Array.from({ length: 24 }, (_, at) => session(at)),
    new Set(['tenant']),
  ))
    index.add(row);
  const digest = createHash('sha256')
    .update(encodeDay(index.blockOfDay(20_000)))
    .digest('hex')
    .slice(0, 16);
  expect([dayLayout, digest]).toEqual([2, '4d6e3a7b3aecd0bc']);
});
