import { compareSides } from '@rough-ember/core/stability/comparison';
import type { Looking } from '@rough-ember/core/stability/looking';
import { SidesTally } from '@rough-ember/core/stability/sides';
import type { Random } from '@rough-ember/demo/random';
import { gamma, lognormal, poisson } from './draws.ts';

/** Who has an app, and how its sessions end. */
export interface People {
  readonly persons: number;
  /** Crashed sessions of a thousand, on average. */
  readonly crashesPerThousand: number;
  /** Spread of how much persons use the app, as the standard deviation of its logarithm; 0 where all use it alike. */
  readonly usage?: number;
  /** Shape of the gamma distribution of the persons' own risk, the smaller the more unequal; null where all run the same. */
  readonly risk?: number | null;
  /** Share of crashes after which somebody tries at once what crashed, and it crashes again. */
  readonly retries?: number;
}

/** Sessions of a person in a day, on average. */
const sessionsADay = 1;
const hours = 240;
/** From which hour on which share of people gets the newer version. */
const steps = [
  [0, 0.01],
  [24, 0.05],
  [72, 0.2],
  [120, 0.5],
  [168, 1],
] as const;

/** Crashed sessions and all sessions of a person: of the newer version, of the older one. */
type Done = [x1: number, n1: number, x2: number, n2: number];

/** What somebody was told who looked at a rollout every hour. */
export interface Told {
  /** The hour of the first such verdict; null when it never came. */
  readonly worse: number | null;
  readonly better: number | null;
}

/** Goes through a rollout in which the newer version crashes `factor` times as often, and looks every hour. */
export function lookAtRollout(
  random: Random,
  people: People,
  { factor = 1, looking = 'always' }: { factor?: number; looking?: Looking } = {},
): Told {
  const { persons } = people;
  const usage = Array.from({ length: persons }, () => lognormal(random, people.usage ?? 0));
  const risk = Array.from({ length: persons }, () => (people.risk == null ? 1 : gamma(random, people.risk) / people.risk));
  const turn = Array.from({ length: persons }, () => random.next());
  const retries = people.retries ?? 0;
  // With retries each first crash makes 1 / (1 - retries) of them.
  const base = (people.crashesPerThousand / 1_000) * (1 - retries);
  const done = Array.from({ length: persons }, (): Done => [0, 0, 0, 0]);
  const tally = new SidesTally();
  const told: { worse: number | null; better: number | null } = { worse: null, better: null };
  for (let hour = 0; hour < hours; hour++) {
    const share = steps.findLast(([from]) => from <= hour)?.[1] as number;
    for (let person = 0; person < persons; person++) {
      const sessions = poisson(random, ((usage[person] as number) * sessionsADay) / 24);
      if (sessions === 0) continue;
      const isNewer = (turn[person] as number) < share;
      const own = done[person] as Done;
      tally.remove(...own);
      const chance = Math.min(1, base * (risk[person] as number) * (isNewer ? factor : 1));
      const [at, all] = isNewer ? ([0, 1] as const) : ([2, 3] as const);
      for (let session = 0; session < sessions; session++) {
        let crashes = random.next() < chance ? 1 : 0;
        while (crashes > 0 && random.next() < retries) crashes++;
        own[at] += crashes;
        own[all] += Math.max(1, crashes);
      }
      tally.add(...own);
    }
    const { verdict } = compareSides(tally.sides, looking);
    if (verdict === 'worse' || verdict === 'better') told[verdict] ??= hour + 1;
  }
  return told;
}
