import { describe, expect, it } from 'vitest';
import { wordCondition } from './check-words.ts';
import type { CheckedCondition } from './rollout-check.ts';
import type { Estimate } from './share.ts';

const estimate = (value: number, low: number, high: number): Estimate => ({ value, low, high });
describe('a condition of a rollout in words', () => {
  it.each<[sentence: string, checked: CheckedCondition]>([
    ['at least 1,000 sessions: there are 12,345', { outcome: 'met', condition: 'sessions', wanted: 1_000, sessions: 12_345 }],
    [
      'lower end of crash-free sessions at least 98.5 %: it is 98.41 % (98.75 % seen)',
      { outcome: 'met', condition: 'crash-free', wantedPercent: 98.5, crashFree: estimate(0.9875, 0.98411, 0.99), more: null },
    ],
    [
      'lower end of crash-free sessions at least 98.5 %: it is 98.41 % (98.75 % seen); it takes about 4,200 more sessions to tell',
      { outcome: 'met', condition: 'crash-free', wantedPercent: 98.5, crashFree: estimate(0.9875, 0.98411, 0.99), more: 4_200 },
    ],
    [
      'lower end of crash-free sessions at least 98.5 %: it is 0.00 % (nothing seen)',
      // As it comes behind the API: JSON has no NaN.
      JSON.parse(
        JSON.stringify({
          outcome: 'too-early',
          condition: 'crash-free',
          wantedPercent: 98.5,
          crashFree: estimate(Number.NaN, 0, 1),
          more: null,
        }),
      ),
    ],
    [
      'at most 3 of 1,000 sessions crash in their first five seconds: 1.25 do (0.90 to 3.40); it takes about 800 more sessions to tell',
      { outcome: 'met', condition: 'start-crashes', mostPerThousand: 3, rate: estimate(1.25, 0.9, 3.4), more: 800 },
    ],
    ['no case that began in it hits more than 20 people', { outcome: 'met', condition: 'new-cases', mostPeople: 20, cases: [] }],
    [
      'no case that began in it hits more than 1,000 people: LG-12 NightMap.tileFor hits 1,700; LG-14 Diary.write hits 1,001',
      {
        outcome: 'met',
        condition: 'new-cases',
        mostPeople: 1_000,
        cases: [
          { ref: 'LG-12', title: 'NightMap.tileFor', people: 1_700 },
          { ref: 'LG-14', title: 'Diary.write', people: 1_001 },
        ],
      },
    ],
    ['symbol files complete', { outcome: 'met', condition: 'symbols', missing: [] }],
    [
      'too early to say which cases there are: mapping is missing for 1,204 reports; libsong.so is missing for 3 reports',
      {
        outcome: 'met',
        condition: 'symbols',
        missing: [
          { file: 'mapping', reports: 1_204 },
          { file: 'libsong.so', reports: 3 },
        ],
      },
    ],
    ['not worse than the version that it is compared with: there is none', { outcome: 'met', condition: 'not-worse', comparison: null }],
  ])('%s', (sentence, checked) => expect(wordCondition(checked)).toBe(sentence));
});
