import type { Scope } from '@rough-ember/core/scope/scope';
import { type FunnelStep, funnelOf } from '@rough-ember/core/sequences/funnel';
import { follow, testsOf } from '@rough-ember/core/sequences/match';
import { printStep, type Sequence } from '@rough-ember/core/sequences/sequence';
import type { PathStep } from '@rough-ember/core/sequences/session-path';
import { type Way, waysOf } from '@rough-ember/core/sequences/ways';
import { type BadEnds, kindsOfEnds } from '@rough-ember/core/stability/figures';
import type { Database } from '@rough-ember/store/database';
import { type SessionItem, toItem } from '../stability/sessions.ts';
import { type DayTotals, type LookedSession, readPaths, type Totals } from './read-paths.ts';

/** What a worker is asked about the ways of sessions. */
export interface PathsQuery {
  readonly appId: number;
  readonly scope: Scope;
  readonly badEnds: BadEnds;
  /** Sessions of the scope by how they ended. */
  readonly days: readonly DayTotals[];
  /** So many of those that ended badly are looked at, and of the others. */
  readonly look: number;
  /** Null where only the ways are asked for. */
  readonly sequence: Sequence | null;
}

/** A step that sessions took, as it is written in a sequence. */
export interface KnownStep {
  readonly step: string;
  /** Sessions that were looked at and took it. */
  readonly looked: number;
}

export interface PathsAnswer {
  /** Sessions that were looked at, by how they ended. */
  readonly looked: Totals;
  readonly cut: boolean;
  readonly ways: readonly Way[];
  readonly funnel: readonly FunnelStep[];
  /** The newest sessions that follow the whole sequence. */
  readonly sessions: readonly SessionItem[];
  /** What sessions did, the most common first. */
  readonly steps: readonly KnownStep[];
}

const endOfKind = { crash: 'crashed', hang: 'hung', kill: 'killed', error: 'ended' } as const;
const shownSessions = 50;
const shownSteps = 300;

/** Reads the ways of sessions and counts what is asked of them; for a worker thread. */
export async function lookAtPaths(database: Database, { sequence, badEnds, ...query }: PathsQuery): Promise<PathsAnswer> {
  const { paths, looked, cut } = await readPaths(database, query);
  const bad = new Set<string>(kindsOfEnds(badEnds).map((kind) => endOfKind[kind]));
  return {
    looked,
    cut,
    ways: waysOf(paths, (end) => bad.has(end)),
    funnel: sequence === null ? [] : funnelOf(paths, sequence),
    sessions: sequence === null ? [] : sessionsAlong(paths, sequence),
    steps: knownSteps(paths),
  };
}

function sessionsAlong(paths: readonly LookedSession[], sequence: Sequence): SessionItem[] {
  const tests = testsOf(sequence);
  return paths
    .filter(({ steps }) => follow(steps, sequence, tests).reached === sequence.length)
    .map(({ session }) => session)
    .sort((a, b) => b.startedAt.getTime() - a.startedAt.getTime())
    .slice(0, shownSessions)
    .map(toItem);
}

/** Log lines are mostly sentences with numbers in them: nobody chooses one from a list. */
const isChosen = ({ kind }: PathStep): boolean => kind !== 'log';

function knownSteps(paths: readonly LookedSession[]): KnownStep[] {
  const counts = new Map<string, number>();
  for (const { steps } of paths) {
    const own = new Set(
      steps.filter(isChosen).map((step) => printStep({ ...step, name: step.name || null, outcome: null, withinMs: null })),
    );
    for (const step of own) counts.set(step, (counts.get(step) ?? 0) + 1);
  }
  return [...counts]
    .sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1))
    .slice(0, shownSteps)
    .map(([step, looked]) => ({ step, looked }));
}
