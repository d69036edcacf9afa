import { describe, expect, test } from 'vitest';
import { funnelOf, type WeighedPath } from './funnel.ts';
import { parseSequence } from './sequence.ts';
import type { PathEnd, PathStep } from './session-path.ts';
import { waysOf } from './ways.ts';
import { WeighedShare } from './weighed-share.ts';

let made = 0;
/** A session through screens, a second on each; `screens` as `Home Map Offline`. */
const walk = (screens: string, end: PathEnd, { weight = 1, person = `person ${made++}` } = {}): WeighedPath => ({
  person,
  weight,
  end,
  steps: screens.split(' ').map((name, at): PathStep => ({ kind: 'screen', name, atMs: 1_000 * at })),
});
const walks = (count: number, screens: string, end: PathEnd, weight = 1): WeighedPath[] =>
  Array.from({ length: count }, () => walk(screens, end, { weight }));

/** Numbers from 0 to 1 that are the same at each run (Numerical Recipes, ranqd1). */
function randomFrom(seed: number): () => number {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return state / 2 ** 32;
  };
}

describe('who follows a sequence how far', () => {
  const sequence = parseSequence('screen Map then screen Offline then screen Done within 3 s');
  if (!sequence.ok) throw new Error(sequence.problem.message);

  test('counts who comes to each step, who is lost there, how, and what they did instead', () => {
    const paths = [
      ...walks(10, 'Home Map Offline Done', 'ended', 5),
      ...walks(6, 'Home Map Offline', 'crashed'),
      ...walks(4, 'Home Map Offline Home Home Home Done', 'ended', 5),
      ...walks(20, 'Home Map Settings', 'ended', 5),
      ...walks(10, 'Home', 'ended', 5),
    ];
    const [map, offline, done] = funnelOf(paths, sequence.value);
    expect(map).toMatchObject({ looked: 40, sessions: 5 * 34 + 6, medianMs: null });
    expect(map?.ofAll.value).toBeCloseTo(176 / 226);
    expect(map?.lost.ended.value).toBeCloseTo(100 / 176);
    expect(map?.instead).toEqual([{ step: 'screen Settings', looked: 20 }]);
    expect(offline).toMatchObject({ looked: 20, sessions: 76, medianMs: 1_000 });
    expect(offline?.ofBefore.value).toBeCloseTo(76 / 176);
    expect(offline?.lost.crashed.value).toBeCloseTo(6 / 76);
    // Four came to Done, but too late.
    expect(offline?.lost.ended.value).toBeCloseTo(20 / 76);
    expect(done).toMatchObject({ looked: 10, sessions: 50 });
    expect(done?.lost.ended.value).toBe(1);
  });

  test('without sessions it says nothing, and breaks nothing', () => {
    expect(funnelOf([], sequence.value).map(({ sessions }) => sessions)).toEqual([0, 0, 0]);
    expect(waysOf([], () => true)).toEqual([]);
  });
});

describe('the ways that end badly', () => {
  const isBad = (end: PathEnd) => end === 'crashed';

  test('one that ends worse than the others to the same screen is named, with its parts', () => {
    const ways = waysOf(
      [
        ...walks(30, 'Home Settings Offline', 'crashed'),
        ...walks(60, 'Home Settings Offline Home', 'ended', 5),
        ...walks(10, 'Home Map Offline', 'crashed'),
        ...walks(100, 'Home Map Offline Home', 'ended', 10),
        ...walks(100, 'Home Settings', 'ended', 10),
      ],
      isBad,
    );
    const found = ways.find(({ screens }) => screens.join() === 'Settings,Offline');
    expect(found).toMatchObject({ verdict: 'worse', looked: 30, people: 30, sessions: 330, shareOfBad: 0.75 });
    expect(found?.risk.value).toBeCloseTo(30 / 330);
    expect(found?.riskElsewhere.value).toBeCloseTo(10 / 1_010);
    expect(found?.shareOfGood).toBeCloseTo(300 / 2_300);
    expect(ways.filter(({ verdict }) => verdict === 'worse').every(({ screens }) => screens.at(-1) === 'Offline')).toBe(true);
    // A screen by itself is always told, whatever it comes to.
    expect(ways.map(({ screens }) => screens.join())).toContain('Offline');
  });

  test('where the way makes no difference, hardly any is told worse than others to its screen', () => {
    let told = 0;
    for (let run = 0; run < 60; run++) {
      const random = randomFrom(run + 1);
      const paths = Array.from({ length: 600 }, () => {
        const before = ['Map', 'Settings', 'Species', 'Sightings'][Math.floor(4 * random())];
        const crashes = random() < 0.2;
        return walk(`Home ${before} Offline${crashes ? '' : ' Home'}`, crashes ? 'crashed' : 'ended', { weight: crashes ? 1 : 8 });
      });
      told += waysOf(paths, isBad).filter(({ screens, verdict }) => screens.length > 1 && verdict === 'worse').length === 0 ? 0 : 1;
    }
    expect(told).toBeLessThanOrEqual(6);
  });

  test('somebody who does the same a hundred times is one person', () => {
    const again = Array.from({ length: 60 }, () => walk('Home Settings Offline', 'crashed', { person: 'one' }));
    const ways = waysOf([...again, ...walks(300, 'Home Map Offline Home', 'ended', 5), ...walks(5, 'Home Map Offline', 'crashed')], isBad);
    expect(ways.filter(({ screens, verdict }) => screens.length > 1 && verdict === 'worse')).toEqual([]);
  });
});

describe('a share of sessions that stand for others', () => {
  test('where no good session was seen of a way, one that stands for many may have been missed', () => {
    const share = new WeighedShare(40);
    for (let at = 0; at < 33; at++) share.add({ person: String(at), weight: 1 }, true);
    const { value, low, high } = share.estimate;
    expect([value, high]).toEqual([1, 1]);
    // As if by the rule of three: up to three sessions of forty each.
    expect(low).toBeLessThan(33 / (33 + 3 * 40));
    expect(share.independent.hits).toBeLessThan(2);
  });

  test('its interval holds the true share in nearly 95 of 100 samples, with people of many sessions and all crashes looked at', () => {
    const truth = 0.02;
    let held = 0;
    const runs = 400;
    for (let run = 0; run < runs; run++) {
      const random = randomFrom(7_919 * (run + 1));
      const share = new WeighedShare(10);
      for (let person = 0; person < 1_500; person++) {
        // Half of the people crash three times as often as the others.
        const own = random() < 0.5 ? 0.5 * truth : 1.5 * truth;
        const sessions = 1 + Math.floor(6 * random() ** 2);
        for (let at = 0; at < sessions; at++) {
          const crashes = random() < own;
          if (!crashes && random() > 0.1) continue;
          share.add({ person: String(person), weight: crashes ? 1 : 10 }, crashes);
        }
      }
      const { low, high } = share.estimate;
      if (low <= truth && truth <= high) held++;
    }
    expect(held / runs).toBeGreaterThan(0.92);
    expect(held / runs).toBeLessThan(0.985);
  });
});
