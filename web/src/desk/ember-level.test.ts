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
  ])('of %d reports among %d is %s', (reports, ofVersion, level) => expect(emberLevel(reports, ofVersion)).toBe(level));
});
