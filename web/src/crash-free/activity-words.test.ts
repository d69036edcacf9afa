import { expect, it } from 'vitest';
import { printCsv } from '../words/csv';
import { rateOfScreen, wordMs } from './activity-words';

it('a screen has a rate where visits are told, never of more than all of them', () => {
  expect(rateOfScreen({ visits: 0, reports: 3 })).toBeNull();
  expect(rateOfScreen({ visits: 2_000, reports: 3 })?.value).toBeCloseTo(1.5);
  expect(rateOfScreen({ visits: 2, reports: 3 })?.value).toBe(1_000);
});

it('durations are told with the digits that tell', () => {
  expect([null, 0.4, 87.3, 143, 1_234, 8_000, 61_000].map(wordMs)).toEqual(['–', '0 ms', '87 ms', '140 ms', '1.2 s', '8 s', '61 s']);
});

it('a file of figures keeps commas and quotes inside its texts', () => {
  expect(
    printCsv([
      ['screen', 'visits'],
      ['map, "night"', 7],
      ['song', null],
    ]),
  ).toBe('"screen","visits"\r\n"map, ""night""",7\r\n"song",');
});
