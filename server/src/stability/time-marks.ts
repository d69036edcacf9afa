import { wordRolloutStep } from '@rough-ember/core/rollouts/rollouts';
import type { App } from '@rough-ember/store/apps';
import { listFlagChanges, listRolloutSteps } from '@rough-ember/store/rollouts';
import type { Services } from '../services.ts';

/** A moment at which something was changed that people may feel, to be marked on a chart of time. */
export interface TimeMark {
  /** ISO text in UTC. */
  readonly at: string;
  readonly kind: 'rollout' | 'flag' | 'case';
  /** What changed, and how: `4.3.1`, `to 20 %`. */
  readonly what: string;
  readonly how: string;
  /** The case it is about. */
  readonly ref?: string;
}

/** Everything that was changed of an app since a moment, the oldest first. */
export async function loadTimeMarks({ database }: Pick<Services, 'database'>, app: App, since: number): Promise<TimeMark[]> {
  const [steps, flags] = await Promise.all([listRolloutSteps(database, app.id), listFlagChanges(database, app.id)]);
  const marks: TimeMark[] = [
    ...steps.map((step) => ({ at: step.at, kind: 'rollout' as const, what: step.version, how: wordRolloutStep(step) })),
    ...flags.map(({ at, flag, variant, percent }) => ({
      at,
      kind: 'flag' as const,
      what: `flag ${flag}`,
      how: `${variant}${percent === null ? '' : ` for ${Number(percent.toFixed(2))} %`}`,
    })),
  ];
  return marks.filter((one) => Date.parse(one.at) >= since).sort((a, b) => a.at.localeCompare(b.at));
}
