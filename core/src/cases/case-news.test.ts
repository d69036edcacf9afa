import { describe, expect, it } from 'vitest';
import { type CaseChange, changesOf, newsOf } from './case-news.ts';

const part = (hits: number, count = 10_000) => ({ hits, count });
const changeOf = (week: ReturnType<typeof part>, weekBefore: ReturnType<typeof part>): CaseChange =>
  changesOf([{ caseId: 1, week, weekBefore }]).get(1) as CaseChange;
const news = (change: CaseChange | null, { state = 'open' as 'open' | 'reopened', isNew = false } = {}) => newsOf({ state, isNew, change });

describe('the news of a case', () => {
  it('is worse only when chance would hardly make the difference', () => {
    expect(news(changeOf(part(60), part(20)))).toBe('worse');
    expect(news(changeOf(part(6), part(3)))).toBeNull();
    expect(news(changeOf(part(20), part(60)))).toBeNull();
    expect(news(changeOf(part(60), part(0)))).toBeNull();
  });

  it('is not worse because more people use the app', () => {
    expect(news(changeOf(part(60, 30_000), part(20, 10_000)))).toBeNull();
    expect(changeOf(part(60, 30_000), part(20, 10_000)).value).toBeCloseTo(1);
    expect(news(changeOf(part(60, 10_000), part(60, 30_000)))).toBe('worse');
  });

  it('asks for more where many cases are looked at', () => {
    const quiet = Array.from({ length: 300 }, (_, at) => ({ caseId: at + 2, week: part(20 + (at % 5)), weekBefore: part(22) }));
    expect(changeOf(part(42), part(22)).isWorse).toBe(true);
    expect(changesOf([{ caseId: 1, week: part(42), weekBefore: part(22) }, ...quiet]).get(1)?.isWorse).toBe(false);
  });

  it('says first that it came back, then that it is new', () => {
    const change = changeOf(part(60), part(20));
    expect(news(change, { state: 'reopened', isNew: true })).toBe('reopened');
    expect(news(change, { isNew: true })).toBe('new');
    expect(news(null)).toBeNull();
  });

  it('stays finite where nothing came before', () => {
    const change = changeOf(part(5), part(0));
    expect([change.value, change.high].every(Number.isFinite)).toBe(true);
    expect(JSON.parse(JSON.stringify(change))).toEqual(change);
  });
});
