import { describe, expect, it } from 'vitest';
import { type CaseFigures, caseSentence } from './case-sentence.ts';

const now = '2026-11-23T08:00:00.000Z';
const item: CaseFigures = {
  reports: 1,
  people: 1,
  perThousand: null,
  firstVersion: '4.3.0',
  lastVersion: '4.3.0',
  beganAt: '2026-11-20T08:00:00.000Z',
  lastAt: '2026-11-23T07:30:00.000Z',
};
const words = (more: Partial<CaseFigures>, activePeople: number | null = null) =>
  caseSentence({ ...item, ...more }, { now, activePeople })
    .map(({ text }) => text)
    .join('');

describe('a case in a sentence', () => {
  it('tells since when, until when and for how many', () => {
    expect(words({ lastVersion: '4.3.1', reports: 1_214, people: 163 })).toBe(
      'Began in 4.3.0, 3 days ago; last seen in 4.3.1. 163 people in 1,214 reports, the latest 30 minutes ago.',
    );
  });
  it('says how long its version was out by then, where that was recorded and is not long', () => {
    const since = (releasedAt: string | null) => caseSentence(item, { now, releasedAt })[2]?.text;
    expect(since('2026-11-20T04:30:00.000Z')).toBe(', 3 days ago, 3 hours after it came out');
    expect(since('2026-11-20T07:59:30.000Z')).toBe(', 3 days ago, less than a minute after it came out');
    for (const noNews of [null, '2026-11-20T09:00:00.000Z', '2026-09-01T08:00:00.000Z']) expect(since(noNews)).toBe(', 3 days ago');
  });
  it('says when only one version has it', () =>
    expect(words({})).toBe('Began in 4.3.0, 3 days ago; seen in no other version. 1 person in 1 report, the latest 30 minutes ago.'));
  it('says of how many who used it, where sessions tell', () =>
    expect(words({ reports: 1_214, people: 163 }, 24_300)).toContain('163 people, 0.7 % of 24,300 who used it, in 1,214 reports'));
  it('counts no people where none are told', () => expect(words({ people: 0 })).toContain('version. 1 report, the latest'));
  it('says how often that is, where sessions are told', () =>
    expect(words({ reports: 12, perThousand: 0.4213 })).toContain('12 reports, 0.42 for 1,000 sessions of these versions, the latest'));
  it('has no two equal parts, which would share a key', () => {
    const parts = caseSentence({ ...item, lastVersion: '4.3.1', people: 2, reports: 2 }, { now }).map(({ text }) => text);
    expect(new Set(parts).size).toBe(parts.length);
  });
});
