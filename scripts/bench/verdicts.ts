import { Random } from '@rough-ember/demo/random';
import { compareAdopters } from '../simulations/adopters.ts';
import { tellBelow, tellWorse } from '../simulations/alert-months.ts';
import { markCells } from '../simulations/cells.ts';
import { coverageOf, fifthTold } from '../simulations/coverage.ts';
import { demoPeople } from '../simulations/demo-people.ts';
import { toldWorse } from '../simulations/quiet-weeks.ts';
import { lookAtRollout, type People } from '../simulations/rollouts.ts';
import { type Bench, percentile } from './figure.ts';

/** Share of tries in which something is told that is not so. */
const promised = 0.05;

const percent = (share: number): string => `${(100 * share).toFixed(1)} %`;

/** How far from 95 % the share of draws is in which the interval of a crash rate holds the truth, for the app and size that is worst. */
export const verdictCoverage: Bench = async () => {
  const runs = 2_000;
  const found = demoPeople().flatMap(({ slug, people }) =>
    [50, 200, 1_000, 3_000].map((sessions) => ({ slug, sessions, held: coverageOf(new Random(5), people, { sessions, runs }) })),
  );
  const off = ({ held }: { held: number }) => Math.abs(held - 0.95);
  const worst = found.reduce((one, other) => (off(other) > off(one) ? other : one));
  const range = found.map(({ held }) => held).sort((a, b) => a - b);
  return {
    name: 'verdict.coverage',
    value: 100 * worst.held,
    unit: '% of draws of people hold the truth in the 95 % interval, for the worst app and size',
    yardstick: 'the 2 points that it may be off 95 %',
    ratio: off(worst) / 0.02,
    note: `worst: ${worst.slug} with ${worst.sessions} sessions; all five apps with 50 to 3,000 sessions: ${percent(range[0] as number)} to ${percent(range.at(-1) as number)}, ${runs} draws each`,
  };
};

/** How often a random fifth of an app's people is told better or worse than the others, for the worst app. */
export const verdictEqualOnce: Bench = async () => {
  const runs = 2_000;
  const told = demoPeople().map(({ slug, people }) => ({ slug, share: fifthTold(new Random(6), people, runs) }));
  const worst = Math.max(...told.map(({ share }) => share));
  const adopters = Array.from({ length: 200 }, (_, run) => compareAdopters(new Random(100 + run)));
  const isTold = (verdict: string) => verdict === 'better' || verdict === 'worse';
  const shareTold = (of: 'plain' | 'standardised') => adopters.filter((one) => isTold(one[of])).length / adopters.length;
  return {
    name: 'verdict.equal_once',
    value: 100 * worst,
    unit: '% of random fifths of the people of the worst app are told better or worse',
    yardstick: 'the 5 % that are promised',
    ratio: worst / promised,
    note: `${told.map(({ slug, share }) => `${slug} ${percent(share)}`).join(', ')}; where better phones update first and the version changes nothing: ${percent(shareTold('plain'))} plainly, ${percent(shareTold('standardised'))} among equal phones`,
  };
};

const heavy: People = { persons: 20_000, crashesPerThousand: 10, usage: 1.2 };
const unequal: People = { ...heavy, risk: 0.3 };
const retrying: People = { ...unequal, retries: 0.5 };
const rollouts: Readonly<Record<string, People>> = {
  'independent sessions': { persons: 20_000, crashesPerThousand: 10 },
  '3 of 1,000': { persons: 20_000, crashesPerThousand: 3 },
  'heavy users': heavy,
  'unequal risk': unequal,
  retries: retrying,
  'a tenth of the people': { ...retrying, persons: 2_000 },
};

/** How many rollouts a line; 400 take about a quarter of an hour. */
const runsOfRollouts = Number(process.env.EMBER_ROLLOUTS ?? 400);

/** How often equal versions are ever told worse, looked at hourly for ten days, for the line that is worst. */
export const verdictEqualHourly: Bench = async () => {
  const lines = Object.entries(rollouts).map(([name, people]) => {
    const told = Array.from({ length: runsOfRollouts }, (_, run) => lookAtRollout(new Random(1_000 + run), people));
    const share = (of: 'worse' | 'better') => told.filter((one) => one[of] !== null).length / told.length;
    return { name, worse: share('worse'), better: share('better') };
  });
  const worst = Math.max(...lines.map(({ worse }) => worse));
  return {
    name: 'verdict.equal_hourly',
    value: 100 * worst,
    unit: '% of rollouts of equal versions are ever told worse in ten days of hourly looks, in the worst line',
    yardstick: 'the 5 % that are promised',
    ratio: worst / promised,
    note: `${runsOfRollouts} a line, ever worse and ever better: ${lines.map(({ name, worse, better }) => `${name} ${percent(worse)}, ${percent(better)}`).join('; ')}`,
  };
};

const runsOfHarms = 100;
const never = 240;

/** After how many hours twice the crash rate is told, nine times in ten, in the line that is slowest. */
export const verdictDetects: Bench = async () => {
  const lines = (['independent sessions', 'unequal risk', 'retries'] as const).map((name) => {
    const hours = (looking: 'once' | 'always') =>
      Array.from({ length: runsOfHarms }, (_, run) => {
        const told = lookAtRollout(new Random(5_000 + run), rollouts[name] as People, { factor: 2, looking });
        return told.worse ?? never;
      });
    const always = hours('always');
    return { name, median: percentile(always, 50), most: percentile(always, 90), once: percentile(hours('once'), 90) };
  });
  const slowest = lines.reduce((one, other) => (other.most > one.most ? other : one));
  return {
    name: 'verdict.detects',
    value: slowest.most,
    unit: 'hours until twice the rate is told in nine of ten rollouts, in the slowest line',
    yardstick: 'the hours that an interval takes which is not made for looking every hour',
    ratio: slowest.most / slowest.once,
    note: `20,000 people, steps to 1, 5, 20, 50 and 100 % at hours 0, 24, 72, 120 and 168; median and nine of ten: ${lines.map(({ name, median, most }) => `${name} ${median} h, ${most} h`).join('; ')}`,
  };
};

/** Of the cells that are marked, how many are so by chance. */
export const verdictCells: Bench = async () => {
  const lines = [2, 10].flatMap((crashesPerThousand) =>
    [30, 180, 900].map((cells) => {
      const random = new Random(7);
      const marked = Array.from({ length: Math.ceil(1_500 / cells) }, () =>
        markCells(random, { cells, crashesPerThousand, worse: Math.round(cells / 10), times: 3 }),
      );
      const quiet = Array.from({ length: Math.ceil(1_500 / cells) }, () =>
        markCells(random, { cells, crashesPerThousand, worse: 0, times: 1 }),
      );
      const sum = (of: 'falsely' | 'rightly' | 'couldBe') => marked.reduce((all, one) => all + one[of], 0);
      return {
        name: `${cells} cells at ${crashesPerThousand} of 1,000`,
        falsely: sum('falsely') / Math.max(1, sum('falsely') + sum('rightly')),
        found: sum('rightly') / sum('couldBe'),
        quiet: quiet.filter((one) => one.falsely > 0).length / quiet.length,
      };
    }),
  );
  const worst = Math.max(...lines.map(({ falsely }) => falsely));
  return {
    name: 'verdict.cells',
    value: 100 * worst,
    unit: '% of marked cells are marked by chance, in the worst matrix',
    yardstick: 'the 5 % that are promised',
    ratio: worst / promised,
    note: `a tenth of the cells crash three times as often; found of those with five expected crashed persons, and matrices without any that have a mark: ${lines.map(({ name, found, quiet }) => `${name} ${percent(found)}, ${percent(quiet)}`).join('; ')}`,
  };
};

/** In how many lists of unchanged cases one is told to get worse, while the app is used more. */
export const verdictWorsening: Bench = async () => {
  const lists = 1_000;
  const quiet = Array.from({ length: lists }, (_, run) => toldWorse(new Random(run)).falsely);
  const changed = 15;
  const doubled = Array.from({ length: 200 }, (_, run) => toldWorse(new Random(9_000 + run), { times: 2, changed }));
  const share = quiet.filter((told) => told > 0).length / lists;
  const rightly = doubled.reduce((sum, one) => sum + one.rightly, 0);
  const falsely = doubled.reduce((sum, one) => sum + one.falsely, 0);
  return {
    name: 'verdict.worsening',
    value: 100 * share,
    unit: '% of lists of 300 unchanged cases tell one to get worse, while sessions grow by a fifth',
    yardstick: 'one list in twenty',
    ratio: share / promised,
    note: `where 15 of the 300 hit twice as many people of as many sessions, ${percent(rightly / (200 * changed))} of them are told, and ${percent(falsely / Math.max(1, falsely + rightly))} of what is told is chance`,
  };
};

/** In how many months a rule tells that something got worse, or is below its target, though nothing did. */
export const verdictAlerts: Bench = async () => {
  const months = 200;
  const share = (told: (run: number) => boolean) => Array.from({ length: months }, (_, run) => told(run)).filter(Boolean).length / months;
  const worse = [
    { cases: 20, usualPeople: 100 },
    { cases: 60, usualPeople: 30 },
  ].map((of) => ({ ...of, told: share((run) => tellWorse(new Random(run), of).size > 0) }));
  const below = [300, 2_000].map((persons) => ({
    persons,
    told: share((run) => tellBelow(new Random(run), { persons, targetPercent: 99 }) !== null),
  }));
  const looks = Array.from(
    { length: 100 },
    (_, run) =>
      tellWorse(new Random(5_000 + run), { cases: 20, usualPeople: 100, changed: 1, times: 2 }).get(0) ?? Number.POSITIVE_INFINITY,
  );
  const worst = Math.max(...worse.map(({ told }) => told), ...below.map(({ told }) => told));
  return {
    name: 'verdict.alerts',
    value: 100 * worst,
    unit: '% of rule-months tell of a change where there is none, in the worst line',
    yardstick: 'one rule-month in twenty',
    ratio: worst / promised,
    note: `daily looks for 30 days; worse: ${worse.map(({ cases, usualPeople, told }) => `${cases} cases of ${usualPeople} people a week ${percent(told)}`).join(', ')}; below a target that is just met: ${below.map(({ persons, told }) => `${persons} people ${percent(told)}`).join(', ')}; a case of 100 people a week that doubles is told after ${percentile(looks, 50)} days, in nine of ten months after ${percentile(looks, 90)}`,
  };
};
