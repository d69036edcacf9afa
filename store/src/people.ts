import type { ReportKind } from '@rough-ember/core/report/report-kinds';
import type { SessionState } from '@rough-ember/core/report/session';
import type { Knex } from 'knex';
import { keyOfContact, keyOfPerson } from './context-columns.ts';
import type { Database } from './database.ts';
import { beganAt } from './session-feed.ts';
import { deleteTrailsOf } from './session-trails.ts';
import { uuidText } from './uuid.ts';

/** A report of a person, with the case it went to. */
export interface PersonReport {
  readonly reportId: string;
  readonly row: number;
  readonly kind: ReportKind;
  readonly occurredAt: Date;
  readonly version: string;
  readonly osName: string | null;
  readonly osVersion: string | null;
  readonly deviceModel: string | null;
  readonly sessionId: string | null;
  readonly caseNumber: number | null;
  readonly what: string | null;
  readonly where: string | null;
}

export interface PersonSession {
  readonly sessionId: string;
  readonly state: SessionState;
  readonly startedAt: Date;
  readonly lastAt: Date;
  readonly errors: number;
  readonly version: string;
  readonly osName: string | null;
  readonly osVersion: string | null;
  readonly deviceModel: string | null;
}

/** How somebody is known: by the id the app gave, by how they can be reached, or by an installation. */
export interface PersonKeys {
  readonly person: Buffer;
  readonly contact: Buffer;
  readonly installation: Buffer | null;
}

const isUuid = (text: string): boolean => /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i.test(text);

/** The keys under which somebody may be stored, from what was written to find them. */
export const personKeys = (text: string): PersonKeys => ({
  person: keyOfPerson(text),
  contact: keyOfContact(text),
  installation: isUuid(text) ? Buffer.from(text.replaceAll('-', ''), 'hex') : null,
});

const ofPerson = (
  query: Knex.QueryBuilder,
  table: string,
  appId: number,
  { person, contact, installation }: PersonKeys,
): Knex.QueryBuilder =>
  query.where(`${table}.app_id`, appId).where((either) => {
    either.where(`${table}.person_key`, person).orWhere(`${table}.contact_key`, contact);
    if (installation) either.orWhere(`${table}.installation_id`, installation).orWhere(`${table}.person_key`, installation);
  });

/** The reports of somebody, the newest first. */
export async function listPersonReports(database: Database, appId: number, keys: PersonKeys, limit: number): Promise<PersonReport[]> {
  const rows: (Omit<PersonReport, 'reportId' | 'sessionId'> & { reportId: Buffer; sessionId: Buffer | null })[] = await ofPerson(
    database('reports'),
    'reports',
    appId,
    keys,
  )
    .leftJoin('cases', 'cases.id', 'reports.case_id')
    .orderBy('occurred_at', 'desc')
    .limit(limit)
    .select({
      row: 'reports.id',
      reportId: 'report_id',
      kind: 'reports.kind',
      occurredAt: 'occurred_at',
      version: 'version',
      osName: 'os_name',
      osVersion: 'os_version',
      deviceModel: 'device_model',
      sessionId: 'session_id',
      caseNumber: 'cases.number',
      what: 'cases.what',
      where: 'cases.where_text',
    });
  return rows.map((row) => ({ ...row, reportId: uuidText(row.reportId), sessionId: row.sessionId && uuidText(row.sessionId) }));
}

/** The sessions of somebody, the newest first. */
export async function listPersonSessions(database: Database, appId: number, keys: PersonKeys, limit: number): Promise<PersonSession[]> {
  const rows: (Omit<PersonSession, 'sessionId'> & { sessionId: Buffer })[] = await ofPerson(database('sessions'), 'sessions', appId, keys)
    .orderByRaw(`${beganAt} DESC`)
    .limit(limit)
    .select({
      sessionId: 'session_id',
      state: 'state',
      startedAt: database.raw(beganAt),
      lastAt: 'last_at',
      errors: 'errors',
      version: 'version',
      osName: 'os_name',
      osVersion: 'os_version',
      deviceModel: 'device_model',
    });
  return rows.map((row) => ({ ...row, sessionId: uuidText(row.sessionId) }));
}

/** Rows of reports of somebody, at most `limit`. */
export async function listPersonReportRows(
  transaction: Knex.Transaction,
  appId: number,
  keys: PersonKeys,
  limit: number,
): Promise<number[]> {
  return ofPerson(transaction('reports'), 'reports', appId, keys).limit(limit).pluck('reports.id');
}

/** Forgets the sessions of somebody, with what they told by the way; gives how many. */
export async function deletePersonSessions(transaction: Knex.Transaction, appId: number, keys: PersonKeys): Promise<number> {
  const ids: Buffer[] = await ofPerson(transaction('sessions'), 'sessions', appId, keys).pluck('session_id');
  await deleteTrailsOf(transaction, appId, ids);
  return ofPerson(transaction('sessions'), 'sessions', appId, keys).delete() as unknown as Promise<number>;
}
