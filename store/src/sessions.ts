import type { ReportContext } from '@rough-ember/core/report/context';
import type { KnownSession, SessionItem, SessionState } from '@rough-ember/core/report/session';
import { stateAfter } from '@rough-ember/core/report/session';
import type { Knex } from 'knex';
import { contextColumns } from './context-columns.ts';
import { insertRows } from './insert-rows.ts';
import type { EndingReport } from './reports.ts';
import { uuidBytes } from './uuid.ts';

export interface StorableSession {
  readonly known: KnownSession;
  readonly excluded: boolean;
}

/** Higher than any sequence a client may send: what only a report tells of a session gives way to the session's own items. */
const ofAReport = 2_000_000_000;

const columns = [
  'app_id',
  'session_id',
  'started',
  'excluded',
  'state',
  'started_at',
  'last_at',
  'duration_ms',
  'errors',
  'crashed_at',
  'first_sequence',
  'last_sequence',
  'version',
  'version_key',
  'build',
  'build_type',
  'os_name',
  'os_version',
  'device_model',
  'country',
  'installation_id',
  'person_key',
  'contact_key',
  'memory_class',
  'carrier',
  'body',
  'received_at',
] as const;

const fromTheFirstItem = columns.slice(columns.indexOf('version'), columns.indexOf('body'));

/**
 * Joins what arrived into the sessions that are known. Each column's rule gives the same result in any order and for repeated
 * items (`joinSessions` in core is the same in memory), so that two processes may take items of one session at once.
 * MariaDB assigns from left to right: the sequences that decide come after what they decide.
 */
const join = [
  'started = started OR VALUES(started)',
  'excluded = IF(VALUES(first_sequence) < first_sequence, VALUES(excluded), excluded)',
  'state = GREATEST(state + 0, VALUES(state) + 0)',
  `started_at = IF(VALUES(started) = (first_sequence < ${ofAReport}), LEAST(started_at, VALUES(started_at)), IF(VALUES(started), VALUES(started_at), started_at))`,
  'last_at = GREATEST(last_at, VALUES(last_at))',
  'duration_ms = GREATEST(duration_ms, VALUES(duration_ms))',
  'errors = GREATEST(errors, VALUES(errors))',
  'crashed_at = LEAST(COALESCE(crashed_at, VALUES(crashed_at)), COALESCE(VALUES(crashed_at), crashed_at))',
  ...fromTheFirstItem.map((column) => `${column} = IF(VALUES(first_sequence) < first_sequence, VALUES(${column}), ${column})`),
  'body = IF(VALUES(last_sequence) > last_sequence, VALUES(body), body)',
  'first_sequence = LEAST(first_sequence, VALUES(first_sequence))',
  'last_sequence = GREATEST(last_sequence, VALUES(last_sequence))',
].join(', ');

type Row = Record<(typeof columns)[number], Knex.Value>;

/** Keeps sessions, and marks those that reports say ended badly. */
export async function joinIntoSessions(
  transaction: Knex.Transaction,
  {
    appId,
    sessions,
    reports,
    receivedAt,
  }: { appId: number; sessions: readonly StorableSession[]; reports: readonly EndingReport[]; receivedAt: Date },
): Promise<void> {
  const rows = [
    ...sessions.map((one) => rowOfSession(appId, one, receivedAt)),
    ...reports.flatMap((one) => rowOfReport(appId, one, receivedAt)),
  ];
  // In one order everywhere, so that two transactions wait for each other instead of locking each other out.
  rows.sort((a, b) => Buffer.compare(a.session_id as Buffer, b.session_id as Buffer));
  for (let at = 0; at < rows.length; at += 500) {
    await insertRows(transaction, 'sessions', rows.slice(at, at + 500), { behind: `ON DUPLICATE KEY UPDATE ${join}` });
  }
}

function rowOfSession(appId: number, { known, excluded }: StorableSession, receivedAt: Date): Row {
  const { first, latest } = known;
  return {
    app_id: appId,
    session_id: uuidBytes(first.id),
    started: true,
    excluded,
    state: known.state,
    started_at: new Date(known.startedAt),
    last_at: new Date(known.lastAt),
    duration_ms: known.durationMs,
    errors: known.errors,
    crashed_at: known.crashedAt === null ? null : new Date(known.crashedAt),
    first_sequence: first.sequence,
    last_sequence: latest.sequence + 1,
    ...contextColumns(first),
    ...circumstances(first),
    body: JSON.stringify(bodyOf(latest)),
    received_at: receivedAt,
  };
}

/** What is as the latest item told it; of activities only what there is, since most rows are read by the million. */
const bodyOf = ({ flags, attributes, screens, requests }: SessionItem) => ({
  flags,
  attributes,
  ...(screens.length > 0 && { screens }),
  ...(requests.length > 0 && { requests }),
});

/** What sessions are told apart by beside the columns they share with reports. */
const circumstances = ({ device, carrier }: Pick<ReportContext, 'device' | 'carrier'>) => ({
  memory_class: device?.memoryClass ?? null,
  carrier,
});

/** What a report tells of the session it names; nothing when the error was handled. */
function rowOfReport(appId: number, { head, excluded, timeOfDevice }: EndingReport, receivedAt: Date): Row[] {
  const state: SessionState = stateAfter[head.kind];
  if (head.sessionId === null || state === 'open') return [];
  const at = new Date(timeOfDevice);
  return [
    {
      app_id: appId,
      session_id: uuidBytes(head.sessionId),
      started: false,
      excluded,
      state,
      started_at: at,
      last_at: at,
      duration_ms: 0,
      errors: 0,
      crashed_at: state === 'crashed' ? at : null,
      first_sequence: ofAReport,
      last_sequence: 0,
      ...contextColumns(head),
      ...circumstances(head),
      body: null,
      received_at: receivedAt,
    },
  ];
}
