import type { CaseState } from '@rough-ember/core/cases/case-status';
import { type Happening, type TellingReason, whoIsTold } from '@rough-ember/core/cases/who-is-told';
import type { Knex } from 'knex';
import { readToldFact, type ToldFact } from './alerts.ts';
import { listFollowers } from './case-followers.ts';
import type { Database } from './database.ts';

/** The case that somebody is told of. */
export interface CaseToldOf {
  readonly number: number;
  readonly what: string;
  readonly where: string;
  readonly state: CaseState;
}

/** What somebody is told of: something that happened to a case, and why it is theirs to know; or what a rule tells. */
export interface Told extends Happening {
  readonly id: number;
  readonly at: Date;
  readonly reason: TellingReason | 'rule';
  readonly readAt: Date | null;
  readonly appId: number;
  /** Null where a rule tells of something else; then `told` says of what. */
  readonly case: CaseToldOf | null;
  readonly told: ToldFact | null;
}

/** Tells the people whom something that happened to a case concerns, each once. Part of the transaction in which it happened. */
export async function tellPeople(
  transaction: Database,
  { eventId, caseId, ...happening }: Happening & { readonly eventId: number; readonly caseId: number },
): Promise<void> {
  const found: { app_id: number; assignee: string | null } | undefined = await transaction('cases')
    .where({ id: caseId })
    .first('app_id', 'assignee');
  if (!found) return;
  const [accounts, actors, followers]: [
    { id: number; email: string; name: string; role: string; app_ids: readonly number[] | null }[],
    string[],
    number[],
  ] = await Promise.all([
    transaction('accounts').select('id', 'email', 'name', 'role', 'app_ids'),
    transaction('case_events').where({ case_id: caseId }).distinct().pluck('actor'),
    listFollowers(transaction, caseId),
  ]);
  const colleagues = accounts.filter(({ role, app_ids }) => role === 'owner' || app_ids === null || app_ids.includes(found.app_id));
  const told = whoIsTold(happening, colleagues, { assignee: found.assignee, actors, followers });
  const rows = [...told].map(([account_id, reason]) => ({ account_id, event_id: eventId, reason }));
  if (rows.length > 0) await transaction('told').insert(rows).onConflict().ignore();
}

/** Of somebody alone, and of the apps that they see now; null for all. */
export interface Whose {
  readonly accountId: number;
  readonly appIds: readonly number[] | null;
}

const ofWhom = (database: Database, { accountId, appIds }: Whose): Knex.QueryBuilder =>
  database('told')
    .leftJoin('case_events', 'case_events.id', 'told.event_id')
    .leftJoin('alerts', 'alerts.id', 'told.alert_id')
    .leftJoin('cases', (join) => join.on('cases.id', '=', database.raw('COALESCE(case_events.case_id, alerts.case_id)')))
    .join('apps', (join) => join.on('apps.id', '=', database.raw('COALESCE(cases.app_id, alerts.app_id)')))
    .where({ 'told.account_id': accountId })
    .whereRaw('COALESCE(case_events.undone, FALSE) = FALSE')
    .whereNull('apps.deleted_at')
    .whereNull('cases.deleted_at')
    .modify((query) => void (appIds === null ? query : query.whereIn('apps.id', appIds)));

/** What somebody was told, the newest first, at most so many before one. */
export async function listTold(
  database: Database,
  whose: Whose,
  { before, unreadOnly, limit }: { readonly before?: number | undefined; readonly unreadOnly: boolean; readonly limit: number },
): Promise<Told[]> {
  const rows: ToldRow[] = await ofWhom(database, whose)
    .modify((query) => void (before === undefined ? query : query.where('told.id', '<', before)))
    .modify((query) => void (unreadOnly ? query.whereNull('told.read_at') : query))
    .orderBy('told.id', 'desc')
    .limit(limit)
    .select<ToldRow[]>(
      {
        id: 'told.id',
        reason: 'told.reason',
        readAt: 'told.read_at',
        detail: 'case_events.detail',
        told: 'alerts.told',
        appId: 'apps.id',
        number: 'cases.number',
        what: 'cases.what',
        where: 'cases.where_text',
        state: 'cases.state',
      },
      database.raw(
        "COALESCE(case_events.at, alerts.at) AS at, COALESCE(case_events.kind, alerts.kind) AS kind, COALESCE(case_events.actor, '') AS actor",
      ),
    );
  return rows.map(({ number, what, where, state, detail, told, ...row }) => ({
    ...row,
    detail: detail ?? {},
    case: number === null ? null : { number, what, where, state },
    told: told === null ? null : readToldFact(told),
  }));
}

type ToldRow = Omit<Told, 'case' | 'told' | 'detail'> & {
  readonly detail: Told['detail'] | null;
  readonly told: unknown;
  readonly number: number | null;
  readonly what: string;
  readonly where: string;
  readonly state: CaseState;
};

export async function countUnread(database: Database, whose: Whose): Promise<number> {
  const [row] = await ofWhom(database, whose).whereNull('told.read_at').count({ count: '*' });
  return Number(row?.count);
}

/** Marks what somebody was told as read: some of it, or all up to one. */
export async function markRead(
  database: Database,
  accountId: number,
  which: { readonly ids: readonly number[] } | { readonly upTo: number },
  now: Date,
): Promise<void> {
  const theirs = database('told').where({ account_id: accountId, read_at: null });
  await ('ids' in which ? theirs.whereIn('id', which.ids) : theirs.where('id', '<=', which.upTo)).update({ read_at: now });
}
