import fc from 'fast-check';
import { expect, it } from 'vitest';
import { commonSteps } from './common-steps.ts';

it('finds what came in the same order before most reports, whatever lay between', () => {
  const usual = ['foreground', 'screen map', 'tap offline', 'request tiles 504'];
  const trails = [
    ...Array.from({ length: 7 }, (_, at) => [...usual.slice(0, 2), `log ${at}`, ...usual.slice(2)]),
    ['screen list'],
    ['tap offline', 'screen map'],
  ];
  expect(commonSteps(trails)).toEqual({ steps: usual, reports: 7, looked: 9 });
});

it('finds nothing where every trail is its own, and nothing in nothing', () => {
  expect(commonSteps([['a'], ['b'], ['c']])).toEqual({ steps: [], reports: 3, looked: 3 });
  expect(commonSteps([])).toEqual({ steps: [], reports: 0, looked: 0 });
});

it('says no more than is so', () => {
  const step = fc.constantFrom('a', 'b', 'c', 'd');
  fc.assert(
    fc.property(fc.array(fc.array(step, { maxLength: 8 }), { minLength: 1, maxLength: 12 }), (trails) => {
      const { steps, reports, looked } = commonSteps(trails);
      const expression = new RegExp(steps.map((one) => `${one}.*`).join(''));
      expect(trails.filter((trail) => expression.test(trail.join(''))).length).toBe(reports);
      expect(reports).toBeGreaterThanOrEqual(steps.length > 0 ? looked / 2 : looked);
    }),
  );
});
