import { printFilter } from '@rough-ember/core/scope/filter/print-filter';
import type { FunnelStep } from '@rough-ember/core/sequences/funnel';
import { longestSequence, parseSequence, printSequence } from '@rough-ember/core/sequences/sequence';
import type { Way } from '@rough-ember/core/sequences/ways';
import { reportConditions } from '@rough-ember/core/session-index/session-test';
import type { Counts } from '@rough-ember/core/session-index/tally';
import { spanOf } from '@rough-ember/core/session-index/window';
import type { BadEnds } from '@rough-ember/core/stability/figures';
import { trailDays } from '@rough-ember/store/session-trails';
import { z } from 'zod';
import type { Services } from '../services.ts';
import type { StabilityQuery } from '../stability/crash-free.ts';
import type { SessionItem } from '../stability/sessions.ts';
import type { KnownStep } from './look-at-paths.ts';
import type { Totals } from './read-paths.ts';

/** So many sessions are looked at: a first look at once, the others when somebody waits for them. */
export const lookSizes = ['500', '2000', '8000'] as const;

export const waysSchema = z.object({
  sequence: z
    .string()
    .max(longestSequence)
    .default('')
    .describe('Steps in order: `screen Map then tap Offline then request tiles 5xx within 10 s`. Its words stand in docs/ways.md.')
    .transform((text, context) => {
      if (text.trim() === '') return null;
      const read = parseSequence(text);
      if (read.ok) return read.value;
      context.addIssue({ code: 'custom', message: read.problem.message });
      return z.NEVER;
    }),
  look: z.enum(lookSizes).default('500').describe('How many sessions that went well to look at, and as many that ended badly.'),
});

/** The ways of sessions through an app, and how far they follow a sequence. */
export interface AppWays {
  readonly badEnds: BadEnds;
  /** Sessions of the scope, and those of them that were looked at, by how they ended. */
  readonly totals: Totals;
  readonly looked: Totals;
  /** The scope is longer, but only sessions of so many days are looked at, since trails are kept no longer; null where it is not. */
  readonly trailDays: number | null;
  /** There are more that tell what they did than were looked at. */
  readonly cut: boolean;
  readonly ways: readonly Way[];
  /** As it was read; null when none was asked for. */
  readonly sequence: string | null;
  readonly funnel: readonly FunnelStep[];
  readonly sessions: readonly SessionItem[];
  readonly steps: readonly KnownStep[];
  /** Conditions of the filter that sessions cannot be asked for. */
  readonly unasked: readonly string[];
  readonly now: string;
}

let turn: Promise<unknown> = Promise.resolve();

/** One look at a time in a process: it takes seconds, and its thread is one of those that take in what is sent. */
function inTurn<Value>(look: () => Promise<Value>): Promise<Value> {
  const looked = turn.then(look);
  turn = looked.catch(() => {});
  return looked;
}

/** Answers for a scope through which screens it comes to a bad end, and who follows a sequence how far. */
export async function loadWays(
  { workers, sessions }: Pick<Services, 'workers' | 'sessions'>,
  { app, scope, count: badEnds, now, sequence, look }: Omit<StabilityQuery, 'exact'> & z.output<typeof waysSchema>,
): Promise<AppWays> {
  const span = spanOf(scope, now.getTime());
  // Before that the crashes alone tell what happened, and a way would look as if it always ended in one.
  const told = { ...span, first: Math.max(span.first, span.last - trailDays + 1) };
  const { first, ofDays } = await sessions.ask('dailySessions', app.id, scope, told, null, { badEnds });
  const days = ofDays.map((counts, place) => ({ day: first + place, totals: totalsOf(counts) }));
  const answer = await inTurn(() => workers.run('lookAtPaths', { appId: app.id, scope, badEnds, days, look: Number(look), sequence }));
  const totals = totalsOf({
    sessions: sum(ofDays.map((one) => one.sessions)),
    crashed: sum(ofDays.map((one) => one.crashed)),
    hung: sum(ofDays.map((one) => one.hung)),
    killed: sum(ofDays.map((one) => one.killed)),
  });
  return {
    ...answer,
    badEnds,
    totals,
    sequence: sequence && printSequence(sequence),
    trailDays: told.first > span.first ? trailDays : null,
    unasked: reportConditions(scope.filter).map(printFilter),
    now: now.toISOString(),
  };
}

const totalsOf = ({ sessions, crashed, hung, killed }: Pick<Counts, 'sessions' | 'crashed' | 'hung' | 'killed'>): Totals => ({
  crashed,
  hung,
  killed,
  ended: Math.max(0, sessions - crashed - hung - killed),
});
const sum = (numbers: readonly number[]): number => numbers.reduce((total, number) => total + number, 0);
