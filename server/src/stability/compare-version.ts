import { rolloutStatus } from '@rough-ember/core/rollouts/rollouts';
import { defaultScope, type Scope } from '@rough-ember/core/scope/scope';
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
const everyVersion = 500;

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
  const [daily, steps] = await Promise.all([
    sessions.ask('dailySessions', app.id, defaultScope, span, { field: 'version', key: '' }, { most: everyVersion }),
    listRolloutSteps(database, app.id),
  ]);
  const known = daily.values.map((version, at): KnownVersion => {
    const own = steps.filter((one) => isSameVersion(one.version, version));
    const days = daily.days[at] ?? [];
    return {
      version,
      sessionsOfDays: days.map((day) => day.sessions),
      personsOfDays: days.map((day) => day.persons),
      rollout: rolloutStatus(own),
      firstStep: own[0] ? dayOf(Date.parse(own[0].at)) : null,
    };
  });
  return { first: span.first, today, known };
}

/**
 * How a version does against the one that it is to be compared with, as every screen, the API and the command line tell it; null where
 * there is none, or no session of it.
 */
export async function compareVersion(
  { sessions }: DeskServices,
  app: App,
  { version, history }: { readonly version: string; readonly history: VersionHistory },
  { against, align: alignment = 'days', badEnds = onlyCrashes, of = defaultScope }: ComparedAs = {},
): Promise<VersionComparison | null> {
  const { first, today, known } = history;
  const baseline = baselineOf(version, known, against);
  const [newer, older] = [version, baseline?.version].map((name) =>
    name === undefined ? undefined : known.find((one) => isSameVersion(one.version, name)),
  );
  const [newerOut, olderOut] = [newer, older].map((one) => (one ? cameOutOn(one, first) : null));
  if (!baseline || newerOut == null || olderOut == null) return null;
  const spans = spansOf({ cameOut: newerOut }, { cameOut: olderOut }, { alignment, today, longest: longestComparedDays });
  const only = (name: string): SessionScope => ({ filter: of.filter, builds: of.builds, versions: { match: 'only', version: name } });
  const sides = {
    newer: { scope: only(version), span: spans.newer },
    older: { scope: only(baseline.version), span: spans.older },
  };
  const counted = await sessions.ask('sides', app.id, sides, { badEnds, strata });
  return compareVersionSides({ version, than: baseline.version, reason: baseline.reason, alignment, spans }, counted);
}

/** Comparisons are made of the newest versions that are used. */
const mostCompared = 12;

/** How the newest of some versions, the oldest first, do against those that they are compared with. */
export async function compareNewest(
  services: DeskServices,
  app: App,
  versions: readonly string[],
  { history, ...as }: { readonly history: VersionHistory } & ComparedAs,
): Promise<Map<string, VersionComparison | null>> {
  const newest = versions.slice(-mostCompared);
  return new Map(
    await Promise.all(newest.map(async (version) => [version, await compareVersion(services, app, { version, history }, as)] as const)),
  );
}
