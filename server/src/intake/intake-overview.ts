import { hourMs } from '@rough-ember/core/durations';
import { type KeyRules, keyRulesSchema } from '@rough-ember/core/report/key-rules';
import type { ScrubRules } from '@rough-ember/core/report/scrub';
import type { AccountRole } from '@rough-ember/store/accounts';
import { type App, readScrubRules } from '@rough-ember/store/apps';
import { listIntakeKeys, listTokens, type TokenScope, tokenScopes } from '@rough-ember/store/credentials';
import type { Database } from '@rough-ember/store/database';
import { type Failure, listFailures, retryFailed } from '@rough-ember/store/failed-reports';
import {
  countIntakeHours,
  firstAccepted,
  type IntakeEntry,
  type IntakeHour,
  lastAcceptedAt,
  listIntakeLog,
  listRefusals,
  type Refusals,
} from '@rough-ember/store/intake-log';
import { intakeOutcomes } from '@rough-ember/store/intake-outcomes';
import { z } from 'zod';
import type { Services } from '../services.ts';
import { type IntakeState, judgeIntake } from './intake-state.ts';

const credentialName = z.string().trim().min(1, { error: 'give it a name' }).max(100);
export const newKeySchema = z.object({ name: credentialName });
export const keyChangeSchema = z.object({ name: credentialName, rules: keyRulesSchema });
export const newTokenSchema = z.object({ name: credentialName, scope: z.enum(tokenScopes).default('upload') });
/** Which part of the log is asked for. */
export const intakeQuerySchema = z.object({
  outcome: z.enum([...intakeOutcomes, 'remarked']).optional(),
  before: z.coerce.number().int().min(1).optional(),
});
export type IntakeQuery = z.infer<typeof intakeQuerySchema>;

export type { IntakeHour };

export interface IntakeKeyView {
  readonly id: number;
  readonly name: string;
  readonly keyText: string;
  readonly createdAt: string;
  readonly revokedAt: string | null;
  readonly lastUsedAt: string | null;
  readonly rules: KeyRules;
}

export interface TokenView {
  readonly id: number;
  readonly name: string;
  readonly scope: TokenScope;
  readonly shownPrefix: string;
  readonly createdAt: string;
  readonly revokedAt: string | null;
  readonly lastUsedAt: string | null;
}

export interface IntakeOverview {
  readonly keys: readonly IntakeKeyView[];
  readonly tokens: readonly TokenView[];
  readonly log: readonly (Omit<IntakeEntry, 'at'> & { readonly at: string })[];
  /** There are older requests than those of the log. */
  readonly more: boolean;
  readonly hours: readonly IntakeHour[];
  /** The first report that was ever accepted, as far back as the log reaches; null while the app still waits for it. */
  readonly first: { readonly at: string; readonly reportId: string } | null;
  readonly state: IntakeState;
  /** Why reports that were taken could not be processed; they are kept. */
  readonly failures: readonly (Omit<Failure, 'latestAt'> & { readonly latestAt: string })[];
  /** Why requests of the last hour were refused. */
  readonly refusals: readonly (Omit<Refusals, 'lastAt'> & { readonly lastAt: string })[];
  readonly lastAcceptedAt: string | null;
  readonly scrub: ScrubRules;
  readonly now: string;
}

const loggedRequests = 200;
export const shownHours = 48;

/** Keys, tokens and the latest requests. Requests whose key belongs to no app are shown to owners only. */
export async function loadIntakeOverview(
  database: Database,
  { app, role, now, query = {} }: { app: App; role: AccountRole; now: Date; query?: IntakeQuery },
): Promise<IntakeOverview> {
  const whose = { appId: app.id, strangers: role === 'owner' };
  const first = await firstAccepted(database, app.id);
  // A wrong key may be this app's only while nothing of it ever came.
  const blamed = { appId: app.id, strangers: whose.strangers && first === null };
  const [keys, tokens, log, hours, scrub, refusals, lastAccepted, failures] = await Promise.all([
    listIntakeKeys(database, app.id),
    listTokens(database, app.id),
    listIntakeLog(database, { ...whose, ...query, limit: loggedRequests + 1 }),
    countIntakeHours(database, { ...whose, hours: shownHours, now }),
    readScrubRules(database, app.id),
    listRefusals(database, { ...blamed, since: new Date(now.getTime() - hourMs) }),
    lastAcceptedAt(database, app.id),
    listFailures(database, app.id),
  ]);
  const lastHour = hours.find((one) => one.hoursAgo === 0)?.counts;
  const refusedRequests = refusals.reduce((sum, one) => sum + one.requests, 0);
  const iso = (at: Date | null) => at?.toISOString() ?? null;
  return {
    keys: keys.map(({ id, name, keyText, createdAt, revokedAt, lastUsedAt, rules }) => ({
      id,
      name,
      keyText,
      createdAt: createdAt.toISOString(),
      revokedAt: iso(revokedAt),
      lastUsedAt: iso(lastUsedAt),
      rules,
    })),
    tokens: tokens.map(({ id, name, scope, shownPrefix, createdAt, revokedAt, lastUsedAt }) => ({
      id,
      name,
      scope,
      shownPrefix,
      createdAt: createdAt.toISOString(),
      revokedAt: iso(revokedAt),
      lastUsedAt: iso(lastUsedAt),
    })),
    log: log.slice(0, loggedRequests).map((entry) => ({ ...entry, at: entry.at.toISOString() })),
    more: log.length > loggedRequests,
    hours,
    first: first && { at: first.at.toISOString(), reportId: first.reportId },
    state: judgeIntake({
      everAccepted: first !== null,
      refusedRequests,
      acceptedItems: lastHour ? lastHour.accepted + lastHour.duplicate + lastHour.excluded : 0,
      refusedItems: refusedRequests === 0 ? 0 : (lastHour?.refused ?? 0),
    }),
    failures: failures.map((one) => ({ ...one, latestAt: one.latestAt.toISOString() })),
    refusals: refusals.map((one) => ({ ...one, lastAt: one.lastAt.toISOString() })),
    lastAcceptedAt: iso(lastAccepted),
    scrub,
    now: now.toISOString(),
  };
}

/** Which failed reports are to be tried again: one, those of one reason, or all when neither is named. */
export const retrySchema = z.object({
  reason: z.string().min(1).max(1_000).optional().describe('As the intake overview tells it.'),
  reportId: z.uuid().optional(),
});

/** Sends failed reports round again, and gives how many. */
export async function retryReports(
  { database, jobs }: Pick<Services, 'database' | 'jobs'>,
  app: App,
  { reason, reportId }: z.infer<typeof retrySchema>,
): Promise<{ readonly retried: number }> {
  const which = reportId !== undefined ? { reportId } : reason !== undefined ? { reason } : { all: true as const };
  const retried = await retryFailed(database, app.id, which);
  jobs.wake();
  return { retried };
}
