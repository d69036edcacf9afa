import { describe, expect, it } from 'vitest';
import { changeOf, newsOf } from './case-news.ts';

const news = (reports: number, reportsBefore: number, { state = 'open' as 'open' | 'reopened', isNew = false } = {}) =>
  newsOf({ state, isNew, change: changeOf({ reports, reportsBefore }, true) });

describe('the news of a case', () => {
  it('is worse only when chance would hardly make the difference', () => {
    expect(news(60, 20)).toBe('worse');
    expect(news(6, 3)).toBeNull();
    expect(news(20, 60)).toBeNull();
    expect(news(60, 0)).toBeNull();
  });

  it('says first that it came back, then that it is new', () => {
    expect(news(60, 20, { state: 'reopened', isNew: true })).toBe('reopened');
    expect(news(60, 0, { isNew: true })).toBe('new');
  });

  it('says nothing of a change where there is no window before', () => {
    expect(changeOf({ reports: 60, reportsBefore: 0 }, false)).toBeNull();
    expect(newsOf({ state: 'open', isNew: false, change: null })).toBeNull();
  });

  it('stays finite where nothing came before', () => {
    const change = changeOf({ reports: 5, reportsBefore: 0 }, true);
    expect([change?.value, change?.high].every(Number.isFinite)).toBe(true);
    expect(JSON.parse(JSON.stringify(change))).toEqual(change);
  });
});
