import type { App } from '@rough-ember/store/apps';
import { inTransaction } from '@rough-ember/store/database';
import { deleteReports } from '@rough-ember/store/delete-reports';
import {
  deletePersonSessions,
  listPersonReportRows,
  listPersonReports,
  listPersonSessions,
  type PersonReport,
  type PersonSession,
  personKeys,
} from '@rough-ember/store/people';
import { forgetCounted } from '@rough-ember/store/session-feed';
import { z } from 'zod';
import type { Services } from '../services.ts';

/** One thing that happened to somebody: a report, or a session that began. Times are ISO texts in UTC. */
export type PersonMoment = { readonly at: string } & (
  | ({ readonly type: 'report'; readonly ref: string | null } & Omit<PersonReport, 'row' | 'occurredAt' | 'caseNumber'>)
  | ({ readonly type: 'session'; readonly lastAt: string } & Omit<PersonSession, 'startedAt' | 'lastAt'>)
);

export interface PersonFile {
  /** What was looked for. */
  readonly id: string;
  readonly reports: number;
  readonly sessions: number;
  /** In the order they were met, the newest first. */
  readonly versions: readonly string[];
  readonly devices: readonly string[];
  /** The newest first. */
  readonly moments: readonly PersonMoment[];
  /** There are more than these. */
  readonly cut: boolean;
  readonly now: string;
}

const shownMoments = 500;

export const personSchema = z.object({
  id: z.string().trim().min(1).max(200).describe('The id that the app gives, how the person can be reached, or an installation.'),
});

/** What happened to somebody, found by the id the app gives them, by how they can be reached, or by an installation. */
export async function loadPerson(
  { database }: Pick<Services, 'database'>,
  { app, id, now }: { app: App; id: string; now: Date },
): Promise<PersonFile> {
  const keys = personKeys(id);
  const [reports, sessions] = await Promise.all([
    listPersonReports(database, app.id, keys, shownMoments),
    listPersonSessions(database, app.id, keys, shownMoments),
  ]);
  const moments: PersonMoment[] = [
    ...reports.map(({ row: _row, occurredAt, caseNumber, ...rest }) => ({
      type: 'report' as const,
      at: occurredAt.toISOString(),
      ref: caseNumber === null ? null : `${app.prefix}-${caseNumber}`,
      ...rest,
    })),
    ...sessions.map(({ startedAt, lastAt, ...rest }) => ({
      type: 'session' as const,
      at: startedAt.toISOString(),
      lastAt: lastAt.toISOString(),
      ...rest,
    })),
  ];
  moments.sort((a, b) => (a.at < b.at ? 1 : -1));
  const seen = <Value>(values: readonly (Value | null)[]) => [...new Set(values.filter((value) => value !== null))] as Value[];
  return {
    id,
    reports: reports.length,
    sessions: sessions.length,
    versions: seen(moments.map((one) => one.version)),
    devices: seen(
      moments.map((one) => [one.deviceModel, [one.osName, one.osVersion].filter(Boolean).join(' ')].filter(Boolean).join(', ') || null),
    ),
    moments,
    cut: reports.length === shownMoments || sessions.length === shownMoments,
    now: now.toISOString(),
  };
}

const deletedAtOnce = 500;

/** Forgets everything that somebody's devices sent, and by and by the words that nobody else used. Gives how much. */
export async function forgetPerson(
  { database, changes, jobs }: Pick<Services, 'database' | 'changes' | 'jobs'>,
  app: App,
  id: string,
): Promise<{ reports: number; sessions: number }> {
  const keys = personKeys(id);
  let reports = 0;
  for (let last = deletedAtOnce; last === deletedAtOnce; reports += last)
    last = await inTransaction(database, async (transaction) => {
      const rows = await listPersonReportRows(transaction, app.id, keys, deletedAtOnce);
      await deleteReports(transaction, app.id, rows);
      return rows.length;
    });
  const sessions = await inTransaction(database, async (transaction) => {
    await forgetCounted(transaction, app.id, keys.installation ? [keys.person, keys.installation] : [keys.person]);
    return deletePersonSessions(transaction, app.id, keys);
  });
  jobs.wake();
  changes.note(app.id);
  return { reports, sessions };
}
