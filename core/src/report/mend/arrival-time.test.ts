import { describe, expect, it } from 'vitest';
import { reportSchema } from '../report.ts';
import { clockError, landAtArrival } from './arrival-time.ts';

const receivedAt = '2026-11-30T12:00:00.000Z';
const report = (occurredAt: string) =>
  reportSchema.parse({
    id: '0192d3a4-0000-4000-8000-000000000001',
    kind: 'crash',
    occurredAt,
    version: '4.3.0',
    build: '430',
    trail: [{ at: new Date(Date.parse(occurredAt) - 30_000).toISOString(), kind: 'screen', name: 'Map' }],
  });

describe('a report', () => {
  it.each([
    ['of a moment ago', '2026-11-30T11:59:58.000Z'],
    ['that waited for weeks without a network', '2026-09-14T08:00:00.000Z'],
  ])('%s stays where its device puts it', (_of, told) => expect(landAtArrival(report(told), { receivedAt })).toEqual(report(told)));

  it.each([
    ['a year slow', '2025-11-30T12:00:00.000Z'],
    ['three days fast', '2026-12-03T12:00:00.000Z'],
    ['at the beginning of all clocks', '1970-01-01T00:00:37.000Z'],
  ])('by a clock that is %s lands at its arrival, says so, and what came before keeps its distance', (_by, told) => {
    const landed = landAtArrival(report(told), { receivedAt });
    expect(landed.occurredAt).toBe(receivedAt);
    expect(landed.trail.map((event) => event.at)).toEqual(['2026-11-30T11:59:30.000Z']);
    expect(landed.remarks).toEqual([`occurredAt is ${told} by a clock that cannot be right; the time of arrival stands for it`]);
  });

  it('by a clock that is a little ahead lands at its arrival, and nothing is said of it', () =>
    expect(landAtArrival(report('2026-11-30T12:01:00.000Z'), { receivedAt })).toMatchObject({ occurredAt: receivedAt, remarks: [] }));

  it('that a person hands over may be as old as it says, and no younger than now', () => {
    expect(landAtArrival(report('2024-02-03T04:05:06.000Z'), { receivedAt, byHand: true }).occurredAt).toBe('2024-02-03T04:05:06.000Z');
    expect(landAtArrival(report('2027-02-03T04:05:06.000Z'), { receivedAt, byHand: true }).occurredAt).toBe(receivedAt);
  });
});

it('a clock may be right within the 180 days that an item may have waited', () => {
  expect(clockError('2026-06-03T12:00:00.000Z', receivedAt)).toBe(0);
  expect(clockError('2026-06-03T11:59:59.000Z', receivedAt)).toBe(-(180 * 86_400_000 + 1_000));
});
