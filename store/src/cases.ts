import type { CaseState, CaseStatus } from '@rough-ember/core/cases/case-status';
import type { Grouping } from '@rough-ember/core/grouping/group-report';
import type { ReportKind } from '@rough-ember/core/report/report-kinds';
import type { CaseScope } from '@rough-ember/core/scope/scope';
import { hashKey } from './case-keys.ts';
import type { Database } from './database.ts';
import { uuidText } from './uuid.ts';

/** What is kept of a case itself; what its reports add up to is counted elsewhere. */
export interface CaseHead {
  readonly id: number;
  readonly number: number;
  readonly kind: ReportKind;
  readonly state: CaseState;
  readonly closedIn: CaseStatus['closedIn'];
  readonly mute: CaseStatus['mute'];
  readonly assignee: CaseStatus['assignee'];
  readonly what: string;
  readonly where: string;
  readonly message: string | null;
  readonly culprit: Grouping['culprit'];
  readonly provisional: boolean;
}

const headColumns = {
  id: 'id',
  number: 'number',
  kind: 'kind',
  state: 'state',
  closedIn: 'closed_in',
  mute: 'mute',
  assignee: 'assignee',
  what: 'what',
  where: 'where_text',
  message: 'message',
  culprit: 'culprit',
  provisional: 'provisional',
} as const;

const statesOf: Readonly<Record<Exclude<CaseScope, 'any'>, readonly CaseState[]>> = {
  open: ['open', 'reopened'],
  closed: ['closed'],
  muted: ['muted'],
};

/**
 * The cases of an app that a scope lists, with the state of each, by id: in some states, and looked after by somebody, by their mail address,
 * or by nobody (null).
 */
export async function listCaseStates(
  database: Database,
  appId: number,
  { cases, assignee }: { readonly cases: CaseScope; readonly assignee?: string | null | undefined },
): Promise<Map<number, CaseState>> {
  const query = database('cases').where({ app_id: appId, deleted_at: null });
  if (cases !== 'any') query.whereIn('state', statesOf[cases]);
  if (assignee !== undefined) query.where({ assignee });
  const rows: { id: number; state: CaseState }[] = await query.select('id', 'state');
  return new Map(rows.map((row) => [row.id, row.state]));
}

/** Cases by id, in the order of the ids; those that are gone are left out. */
export async function loadCaseHeads(database: Database, ids: readonly number[]): Promise<CaseHead[]> {
  const rows: (Omit<CaseHead, 'provisional'> & { provisional: number })[] = await database('cases')
    .whereIn('id', ids)
    .whereNull('deleted_at')
    .select(headColumns);
  const byId = new Map(rows.map((row) => [row.id, { ...row, provisional: row.provisional === 1 }]));
  return ids.flatMap((id) => byId.get(id) ?? []);
}

/** The id of a case by its number; a number that was merged away leads to where its reports went. */
export async function findCaseId(database: Database, appId: number, number: number): Promise<number | null> {
  const found: { id: number; mergedInto: number | null } | undefined = await database('cases')
    .where({ app_id: appId, number, deleted_at: null })
    .first({ id: 'id', mergedInto: 'merged_into' });
  if (found) return followMerges(database, found);
  const redirect = await database('case_redirects').where({ app_id: appId, number }).first({ caseId: 'case_id' });
  return redirect?.caseId ?? null;
}

const longestChain = 50;

/** Where some cases lead to: those that were merged into others, or emptied into them. Those that are gone are left out. */
export async function whereCasesLead(database: Database, ids: readonly number[]): Promise<Map<number, number>> {
  const rows: { id: number; mergedInto: number | null }[] = await database('cases')
    .whereIn('id', ids)
    .whereNull('deleted_at')
    .select({ id: 'id', mergedInto: 'merged_into' });
  const leads = new Map<number, number>();
  for (const row of rows) leads.set(row.id, await followMerges(database, row));
  return leads;
}

async function followMerges(database: Database, found: { id: number; mergedInto: number | null }): Promise<number> {
  let { id, mergedInto } = found;
  for (let steps = 0; mergedInto !== null && steps < longestChain; steps++) {
    const next: { mergedInto: number | null } | undefined = await database('cases')
      .where({ id: mergedInto })
      .first({ mergedInto: 'merged_into' });
    if (!next) return id;
    id = mergedInto;
    mergedInto = next.mergedInto;
  }
  return id;
}

/** The case that reports with a grouping key are placed in, or null. */
export async function findCaseByGroupingKey(
  database: Database,
  appId: number,
  key: string,
): Promise<{ number: number; what: string; where: string } | null> {
  const found = await database('case_keys')
    .join('cases', 'cases.id', 'case_keys.case_id')
    .where({ 'case_keys.app_id': appId, key_hash: hashKey(key) })
    .first({ number: 'number', what: 'what', where: 'where_text' });
  return found ?? null;
}

/** Reports of a case that came the same way, with the newest of them. */
export interface CaseVariant {
  readonly reports: number;
  readonly reportId: string;
  readonly lastAt: Date;
}

/** The ways the reports of a case came, the commonest first. */
export async function listVariants(database: Database, caseId: number, limit = 12): Promise<CaseVariant[]> {
  const rows: { reports: number; row: number }[] = await database('reports')
    .where({ case_id: caseId })
    .whereNotNull('variant_key')
    .groupBy('variant_key')
    .orderBy('reports', 'desc')
    .limit(limit)
    .select(database.raw('COUNT(*) AS reports'), database.raw('MAX(id) AS `row`'));
  const newest: { id: number; reportId: Buffer; lastAt: Date }[] = await database('reports')
    .whereIn(
      'id',
      rows.map((one) => one.row),
    )
    .select({ id: 'id', reportId: 'report_id', lastAt: 'occurred_at' });
  const byRow = new Map(newest.map((one) => [one.id, one]));
  return rows.flatMap(({ reports, row }) => {
    const found = byRow.get(row);
    return found ? [{ reports: Number(reports), reportId: uuidText(found.reportId), lastAt: found.lastAt }] : [];
  });
}
