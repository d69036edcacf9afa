import { z } from 'zod';
import { buildName } from '../report/limits.ts';

/** What was done with a version or flag: given to a share of people, stopped where it was, or let go on. */
export const rolloutActions = ['step', 'halt', 'resume'] as const;
export type RolloutAction = (typeof rolloutActions)[number];

const happened = {
  percent: z.number().min(0).max(100).nullable().default(null).describe('Share of people who may have it from then on.'),
  at: z.iso.datetime({ offset: true }).optional().describe('When it was done; now, if left out.'),
  note: z.string().trim().max(2_000).default(''),
};

/** A step of a rollout, as a release pipeline or a person records it. */
export const rolloutSchema = z
  .object({
    version: buildName,
    action: z.enum(rolloutActions).default('step'),
    ...happened,
    commit: z.string().trim().max(200).default('').describe('What the build was made of.'),
  })
  .refine(({ action, percent }) => action !== 'step' || percent !== null, {
    error: 'a step says to which percent of people',
    path: ['percent'],
  });

/** A change of a feature flag or experiment. */
export const flagChangeSchema = z.object({
  flag: z.string().trim().min(1).max(200),
  variant: z.string().trim().min(1).max(200).default('on'),
  ...happened,
});

/** A step that was recorded. Times are ISO texts in UTC. */
export interface RolloutStep {
  readonly id: number;
  readonly version: string;
  readonly action: RolloutAction;
  readonly percent: number | null;
  readonly at: string;
  readonly by: string;
  readonly commit: string;
  readonly note: string;
}

export interface FlagChange {
  readonly id: number;
  readonly flag: string;
  readonly variant: string;
  readonly percent: number | null;
  readonly at: string;
  readonly by: string;
  readonly note: string;
}

/** How a rollout stands after its steps. */
export interface RolloutStatus {
  /** Share of people who may have the version; null when no step was recorded. */
  readonly percent: number | null;
  readonly halted: boolean;
  readonly since: string | null;
  /** What was written beside the last step; empty when nothing was. */
  readonly note: string;
}

/** Where the rollout of a version stands after steps, the oldest first. */
export function rolloutStatus(steps: readonly Pick<RolloutStep, 'action' | 'percent' | 'at' | 'note'>[]): RolloutStatus {
  let status: RolloutStatus = { percent: null, halted: false, since: null, note: '' };
  for (const { action, percent, at, note } of steps)
    status = { percent: percent ?? status.percent, halted: action === 'halt', since: at, note };
  return status;
}

/** How a rollout stands, in words: "is out to 20 %", "is halted". */
export const wordRolloutStatus = ({ halted, percent }: Pick<RolloutStatus, 'halted' | 'percent'>): string =>
  halted ? 'is halted' : percent === null ? 'is out' : `is out to ${Number(percent.toFixed(2))} %`;

/** A step in a few words: "to 20 %", "halted at 20 %". */
export function wordRolloutStep({ action, percent }: Pick<RolloutStep, 'action' | 'percent'>): string {
  const share = percent === null ? '' : `${Number(percent.toFixed(2))} %`;
  if (action === 'step') return `to ${share}`;
  const word = action === 'halt' ? 'halted' : 'resumed';
  return share === '' ? word : `${word} at ${share}`;
}
