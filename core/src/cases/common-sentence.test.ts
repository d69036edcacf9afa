import { describe, expect, it } from 'vitest';
import type { StandingOut } from '../report-index/stand-out.ts';
import { commonSentence } from './common-sentence.ts';

describe('what its people have in common, in a sentence', () => {
  const value = (more: Partial<StandingOut>): StandingOut => ({
    term: { field: 'flags', key: 'night-map', value: 'on' },
    people: 10,
    share: 1,
    shareOfOthers: 0.12,
    against: 'everybody',
    lift: { value: 8, low: 5, high: 12 },
    ...more,
  });
  const said = (...values: StandingOut[]) =>
    commonSentence({ values })
      .map(({ text }) => text)
      .join('')
      .trim();

  it('says what nearly all have and few others', () =>
    expect(said(value({}))).toBe('Nearly only with flag night-map on (100 % here, 12 % of others).'));
  it('says two things at most, and each once', () =>
    expect(
      said(
        value({ share: 0.7 }),
        value({ term: { field: 'flags', key: 'other', value: 'on' } }),
        value({ term: { field: 'device.model', key: '', value: 'Tarn Go 3' } }),
      ),
    ).toBe('Mostly with flag night-map on (70 % here, 12 % of others) and device Tarn Go 3 (100 % here, 12 % of others).'));
  it('says nothing that is not clear', () => {
    expect(said(value({ share: 0.3 }))).toBe('');
    expect(said(value({ lift: { value: 3, low: 1.2, high: 9 } }))).toBe('');
  });
});
