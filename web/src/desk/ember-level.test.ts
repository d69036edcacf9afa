import { describe, expect, it } from 'vitest';
import { emberLevel } from './ember-level';

describe('the shade of a version', () => {
  it.each([
    [0, 0, 0],
    [0, 500, 0],
    [4, 100, 1],
    [5, 100, 2],
    [15, 100, 3],
    [35, 100, 4],
    [100, 100, 4],
    [12, 12, 'few'],
  ])('of %d reports among %d is %s where no session is told', (reports, ofVersion, level) =>
    expect(emberLevel(reports, { reports: ofVersion, sessions: 0 })).toBe(level),
  );

  it.each([
    [0, 10_000, 0],
    [4, 10_000, 1],
    [5, 10_000, 2],
    [20, 10_000, 3],
    [60, 10_000, 4],
    [3, 199, 'few'],
  ])('of %d reports in %d sessions is %s', (reports, sessions, level) =>
    expect(emberLevel(reports, { reports: 50, sessions })).toBe(level),
  );
});
