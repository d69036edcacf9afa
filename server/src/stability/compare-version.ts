import { rolloutStatus } from '@rough-ember/core/rollouts/rollouts';
import { defaultScope, type Scope } from '@rough-ember/core/scope/scope';
import type { CountedSides } from '@rough-ember/core/session-index/count-sides';
import { type Day, dayOf, type SessionField } from '@rough-ember/core/session-index/person-day';
import type { SessionScope } from '@rough-ember/core/session-index/session-test';
import { spanOf } from '@rough-ember/core/session-index/window';
import { type BadEnds, onlyCrashes } from '@rough-ember/core/stability/figures';
import {
  type Alignment,
  alignments,
  baselineOf,
  cameOutOn,
  compareVersionSides,
  type KnownVersion,
  spansOf,
  type VersionComparison,
} from '@rough-ember/core/stability/version-comparison';
import { isSameVersion } from '@rough-ember/core/version/version-order';
import type { App } from '@rough-ember/store/apps';
import { listRolloutSteps } from '@rough-ember/store/rollouts';
import { z } from 'zod';
import type { DeskServices } from '../services.ts';

/** With what a version is compared, where that is not left to the product. */
export const baselineSchema = z.object({
  against: z
    .string()
    .min(1)
    .max(200)
    .optional()
    .describe('The version to compare with; the last one that was out to everybody, if left out.'),
  align: z
    .enum(alignments)
    .default('days')
    .describe('`days`: both over the same days; `release`: each over the days since its own release.'),
});

/** How versions are compared: with which one, over which days, and which sessions of theirs. */
export interface ComparedAs {
  readonly against?: string | undefined;
  readonly align?: Alignment | undefined;
  readonly badEnds?: BadEnds;
  /** Which sessions; those of released builds, if left out. */
  readonly of?: Pick<Scope, 'filter' | 'builds'>;
}

/** The versions of an app, day by day. */
export interface VersionHistory {
  readonly first: Day;
  readonly today: Day;
  readonly known: readonly KnownVersion[];
}

/** How far back a version is looked for that one can be compared with. */
const historyDays = 120;
/** Days over which versions are compared at most. */
export const longestComparedDays = 60;

/** What like is compared with like by: the system, the class of the device, and where it is. */
const strata: readonly SessionField[] = [
  { field: 'os.name', key: '' },
  { field: 'device.memory', key: '' },
  { field: 'country', key: '' },
];

/** What there is to choose a baseline from: released builds. */
export async function loadVersionHistory({ sessions, database }: DeskServices, app: App, now: Date): Promise<VersionHistory> {
  const today = spanOf({ days: 1 }, now.getTime()).last;
  const span = { first: today - historyDays + 1, last: today };
  const [daily, steps] = await Promise.all([sessions.ask('versionDays', app.id, defaultScope, span), listRolloutSteps(database, app.id)]);
  const known = daily.versions.map((version, at): KnownVersion => {
    const own = steps.filter((one) => isSameVersion(one.version, version));
    return {
      version,
      sessionsOfDays: daily.sessions[at] ?? [],
      personsOfDays: daily.persons[at] ?? [],
      rollout: rolloutStatus(own),
      firstStep: own[0] ? dayOf(Date.parse(own[0].at)) : null,
    };
  });
  return { first: span.first, today, known };
}

/**
 * How versions do against those that they are to be compared with, as every screen, the API and the command line tell it; null where there
 * is none, or no session of it.
 */
async function compareAll(
  { sessions }: DeskServices,
  app: App,
  versions: readonly string[],
  {
    history,
    against,
    align: alignment = 'days',
    badEnds = onlyCrashes,
    of = defaultScope,
  }: { readonly history: VersionHistory } & ComparedAs,
): Promise<(VersionComparison | null)[]> {
  const planned = versions.map((version) => planComparison(version, history, { against, alignment }));
  const pairs = planned.flatMap((plan) =>
    plan ? [{ newer: { version: plan.version, span: plan.spans.newer }, older: { version: plan.than, span: plan.spans.older } }] : [],
  );
  const scope: SessionScope = { filter: of.filter, builds: of.builds, versions: { match: 'any' } };
  const counted = pairs.length === 0 ? [] : await sessions.ask('versionSides', app.id, scope, pairs, { badEnds, strata });
  let at = 0;
  return planned.map((plan) => (plan ? compareVersionSides(plan, counted[at++] as CountedSides) : null));
}

/** With what a version is compared, and over which days. */
function planComparison(
  version: string,
  { first, today, known }: VersionHistory,
  { against, alignment }: { readonly against: string | undefined; readonly alignment: Alignment },
) {
  const baseline = baselineOf(version, known, against);
  const [newerOut, olderOut] = [version, baseline?.version].map((name) => {
    const one = name === undefined ? undefined : known.find((other) => isSameVersion(other.version, name));
    return one ? cameOutOn(one, first) : null;
  });
  if (!baseline || newerOut == null || olderOut == null) return null;
  const spans = spansOf({ cameOut: newerOut }, { cameOut: olderOut }, { alignment, today, longest: longestComparedDays });
  return { version, than: baseline.version, reason: baseline.reason, alignment, spans };
}

/** How one version does against the one that it is to be compared with. */
export async function compareVersion(
  services: DeskServices,
  app: App,
  { version, history }: { readonly version: string; readonly history: VersionHistory },
  as: ComparedAs = {},
): Promise<VersionComparison | null> {
  const [comparison = null] = await compareAll(services, app, [version], { history, ...as });
  return comparison;
}

/** Comparisons are made of the newest versions that are used. */
const mostCompared = 8;

/** How the newest of some versions, the oldest first, do against those that they are compared with. */
export async function compareNewest(
  services: DeskServices,
  app: App,
  versions: readonly string[],
  as: { readonly history: VersionHistory } & ComparedAs,
): Promise<Map<string, VersionComparison | null>> {
  const newest = versions.slice(-mostCompared);
  const comparisons = await compareAll(services, app, newest, as);
  return new Map(newest.map((version, at) => [version, comparisons[at] ?? null]));
}
