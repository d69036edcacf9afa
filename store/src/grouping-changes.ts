import type { Grouping } from '@rough-ember/core/grouping/group-report';
import type { Report } from '@rough-ember/core/report/report';
import type { Knex } from 'knex';
import { type KeyedReport, keysOf, lockApp, placeInCases } from './case-keys.ts';
import { type Database, inTransaction } from './database.ts';
import { queueJobs } from './jobs.ts';
import { bodiesAtOnceBytes, partsOfSize, sizedRow } from './parts-of-size.ts';

/** New rules for an app's cases: looked at in a preview, applied, or left. */
export interface GroupingChange {
  readonly id: number;
  readonly appId: number;
  readonly rules: string;
  readonly state: 'previewing' | 'previewed' | 'applying' | 'applied' | 'dropped';
  readonly askedBy: string;
  readonly askedAt: Date;
  /** Reports that were looked at, of how many, and how many of them went to another case. */
  readonly looked: number;
  readonly total: number;
  readonly moved: number;
}

const columns = {
  id: 'id',
  appId: 'app_id',
  rules: 'rules',
  state: 'state',
  askedBy: 'asked_by',
  askedAt: 'asked_at',
  looked: 'looked',
  total: 'total',
  moved: 'moved',
} as const;

/** Reports that a preview looks at, the newest; a history of a million would take longer than anybody waits. */
export const mostPreviewed = 50_000;
const reportsInRun = 300;

/** The text of the rules in force; empty when the app has none. */
export async function readRules(database: Database, appId: number): Promise<string> {
  const row = await database('apps')
    .join('grouping_changes', 'grouping_changes.id', 'apps.grouping_change_id')
    .where('apps.id', appId)
    .first('rules');
  return row?.rules ?? '';
}

/** The latest changes of an app's rules, the newest first. */
export async function listGroupingChanges(database: Database, appId: number, limit = 20): Promise<GroupingChange[]> {
  return database('grouping_changes').where({ app_id: appId }).orderBy('id', 'desc').limit(limit).select(columns);
}

export async function findGroupingChange(database: Database, appId: number, id: number): Promise<GroupingChange | null> {
  return (await database('grouping_changes').where({ app_id: appId, id }).first(columns)) ?? null;
}

/** Begins to preview rules on the app's history; a preview that is still under way is dropped. */
export async function startPreview(
  database: Database,
  { appId, rules, askedBy }: { appId: number; rules: string; askedBy: string },
): Promise<number> {
  return inTransaction(database, async (transaction) => {
    await lockApp(transaction, appId);
    await transaction('grouping_changes')
      .where({ app_id: appId })
      .whereIn('state', ['previewing', 'previewed'])
      .update({ state: 'dropped' });
    const total = Math.min(mostPreviewed, await countGrouped(transaction, appId));
    const [id] = await transaction('grouping_changes').insert({ app_id: appId, rules, state: 'previewing', asked_by: askedBy, total });
    await queueJobs(transaction, { kind: 'change-grouping', appId, priority: 'arrived' }, [id as number]);
    return id as number;
  });
}

async function countGrouped(transaction: Database, appId: number): Promise<number> {
  const [row] = await transaction('reports').where({ app_id: appId }).whereNotNull('case_id').count({ count: '*' });
  return Number(row?.count);
}

/** What a preview found: reports of a case that would have a key. */
export interface PreviewedGroup {
  readonly caseId: number;
  readonly number: number;
  /** Hexadecimal. */
  readonly key: string;
  /** Title of the case that would be made of the key. */
  readonly title: string;
  readonly reports: number;
  /** The case that the key leads to already, or null. */
  readonly leadsTo: number | null;
}

/** Forgets what previews found that were applied or dropped since. */
export async function prunePreviews(database: Database): Promise<number> {
  const over = database('grouping_changes').whereIn('state', ['applied', 'dropped']).select('id');
  return database('previewed_groups').whereIn('change_id', over).delete();
}

/** The groups that a preview found, those with most reports first. */
export async function listPreviewedGroups(database: Database, change: Pick<GroupingChange, 'id' | 'appId'>): Promise<PreviewedGroup[]> {
  const rows: (Omit<PreviewedGroup, 'key'> & { hash: Buffer })[] = await database('previewed_groups')
    .join('cases', 'cases.id', 'previewed_groups.case_id')
    .leftJoin('case_keys', (join) =>
      join.on('case_keys.key_hash', 'previewed_groups.key_hash').andOn('case_keys.app_id', database.raw('?', [change.appId])),
    )
    .where({ change_id: change.id })
    .orderBy('reports', 'desc')
    .select({
      caseId: 'previewed_groups.case_id',
      number: 'cases.number',
      hash: 'previewed_groups.key_hash',
      title: 'title',
      reports: 'reports',
      leadsTo: 'case_keys.case_id',
    });
  return rows.map(({ hash, ...row }) => ({ ...row, key: hash.toString('hex') }));
}

/**
 * Puts rules in force and sends all reports round. `claims` says which case a new key belongs to, so that the larger part of a
 * case keeps its number, notes and state. Null when the change is not there to be applied.
 */
export async function startApplying(
  database: Database,
  { appId, changeId, claims }: { appId: number; changeId: number; claims: ReadonlyMap<string, number> },
): Promise<GroupingChange | null> {
  return inTransaction(database, async (transaction) => {
    await lockApp(transaction, appId);
    const change: GroupingChange | undefined = await transaction('grouping_changes').where({ app_id: appId, id: changeId }).first(columns);
    if (change?.state !== 'previewed') return null;
    const keys = [...claims].map(([key, caseId]) => ({ app_id: appId, key_hash: Buffer.from(key, 'hex'), case_id: caseId }));
    if (keys.length > 0) await transaction('case_keys').insert(keys).onConflict().ignore();
    await putInForce(transaction, appId, changeId);
    return change;
  });
}

/** Puts rules that were in force before in force again; their keys still lead to the cases they made. */
export async function startRestoring(
  database: Database,
  { appId, rules, askedBy }: { appId: number; rules: string; askedBy: string },
): Promise<number> {
  return inTransaction(database, async (transaction) => {
    await lockApp(transaction, appId);
    const [id] = await transaction('grouping_changes').insert({ app_id: appId, rules, state: 'applying', asked_by: askedBy });
    await putInForce(transaction, appId, id as number);
    return id as number;
  });
}

async function putInForce(transaction: Knex.Transaction, appId: number, changeId: number): Promise<void> {
  // A change that is still being applied would go on with its own rules.
  await transaction('grouping_changes').where({ app_id: appId, state: 'applying' }).whereNot({ id: changeId }).update({ state: 'applied' });
  const total = await countGrouped(transaction, appId);
  await transaction('grouping_changes').where({ id: changeId }).update({ state: 'applying', next_row: 0, looked: 0, moved: 0, total });
  await transaction('apps').where({ id: appId }).update({ grouping_change_id: changeId });
  await queueJobs(transaction, { kind: 'change-grouping', appId, priority: 'arrived' }, [changeId]);
}

/** A report as grouping needs it again. */
export interface GroupedReport {
  readonly row: number;
  readonly caseId: number;
  readonly report: Pick<Report, 'kind' | 'version'> & { readonly excluded: boolean };
  readonly body: string;
  readonly readable: string;
}

/** Reports that a change is tried on at once. */
export interface GroupingRun {
  readonly change: GroupingChange;
  readonly reports: readonly GroupedReport[];
  /** The row that the next run begins below. */
  readonly nextRow: number;
  readonly isLast: boolean;
}

/** A change that is under way with its next run of reports, the newest first; null when there is nothing to do. */
export async function nextRun(database: Database, changeId: number): Promise<GroupingRun | null> {
  const change: (GroupingChange & { nextRow: number }) | undefined = await database('grouping_changes')
    .where({ id: changeId })
    .whereIn('state', ['previewing', 'applying'])
    .first({ ...columns, nextRow: 'next_row' });
  if (!change) return null;
  const query = database('reports')
    .join('report_bodies', 'report_bodies.report_row', 'reports.id')
    .where('reports.app_id', change.appId)
    .whereNotNull('case_id')
    .whereNotNull('readable')
    .orderBy('reports.id', 'desc')
    .limit(reportsInRun)
    .select(sizedRow(database));
  if (change.nextRow > 0) query.where('reports.id', '<', change.nextRow);
  const sized: { row: number; bytes: number }[] = await query;
  // Those that are left over are of the next run.
  const [chosen = []] = partsOfSize(sized, ({ bytes }) => bytes, bodiesAtOnceBytes);
  const isLast = sized.length < reportsInRun && chosen.length === sized.length;
  return { change, reports: await readGrouped(database, chosen), nextRow: chosen.at(-1)?.row ?? 0, isLast };
}

async function readGrouped(database: Database, chosen: readonly { readonly row: number }[]): Promise<GroupedReport[]> {
  const rows: (Omit<GroupedReport, 'report'> & { kind: Report['kind']; version: string; excluded: number })[] = await database('reports')
    .join('report_bodies', 'report_bodies.report_row', 'reports.id')
    .whereIn(
      'reports.id',
      chosen.map(({ row }) => row),
    )
    .whereNotNull('case_id')
    .whereNotNull('readable')
    .orderBy('reports.id', 'desc')
    .select({
      row: 'reports.id',
      caseId: 'case_id',
      kind: 'kind',
      version: 'version',
      excluded: 'excluded',
      body: 'body',
      readable: 'readable',
    });
  return rows.map(({ kind, version, excluded, ...rest }) => ({ ...rest, report: { kind, version, excluded: excluded === 1 } }));
}

/** Keeps what a run found, and queues the next one or ends the change. The groupings are those of the reports, in order. */
export async function saveRun(
  database: Database,
  { change, reports, nextRow, isLast: isEnd }: GroupingRun,
  groupings: readonly Grouping[],
  jobId: number,
): Promise<void> {
  const isPreview = change.state === 'previewing';
  const looked = change.looked + reports.length;
  const isLast = isEnd || (isPreview && looked >= mostPreviewed);
  await inTransaction(database, async (transaction) => {
    const current = await transaction('grouping_changes').where({ id: change.id }).forUpdate().first('state');
    await transaction('jobs').where({ id: jobId }).delete();
    if (current?.state !== change.state) return;
    const keyed = reports.map(({ row, report }, at) => ({ row, appId: change.appId, report, grouping: groupings[at] as Grouping }));
    const placed = isPreview ? [] : [...(await placeInCases(transaction, keyed)).values()];
    const moved = placed.filter(({ before, caseId }) => before !== caseId).length;
    if (isPreview) await addToPreview(transaction, change.id, reports, keyed);
    await transaction('grouping_changes')
      .where({ id: change.id })
      .update({
        looked,
        moved: change.moved + moved,
        next_row: nextRow,
        ...(isLast ? { state: isPreview ? 'previewed' : 'applied' } : {}),
      });
    if (!isLast) await queueJobs(transaction, { kind: 'change-grouping', appId: change.appId, priority: 'arrived' }, [change.id]);
  });
}

async function addToPreview(
  transaction: Knex.Transaction,
  changeId: number,
  reports: readonly GroupedReport[],
  keyed: readonly KeyedReport[],
): Promise<void> {
  const keys = keyed.map(keysOf);
  // What was taken out of a case stays out of it, whatever its key.
  const takenOut: Buffer[] = await transaction('case_keys')
    .where({ app_id: keyed[0]?.appId ?? 0 })
    .whereIn(
      'key_hash',
      keys.map((one) => one.variant),
    )
    .pluck('key_hash');
  const variants = new Set(takenOut.map((hash) => hash.toString('hex')));
  const groups = new Map<string, { case_id: number; key_hash: Buffer; title: string; reports: number }>();
  for (const [at, { caseId }] of reports.entries()) {
    const one = keyed[at] as KeyedReport;
    const { key: shared, variant } = keys[at] as (typeof keys)[number];
    const key = variants.has(variant.toString('hex')) ? variant : shared;
    const name = `${caseId} ${key.toString('hex')}`;
    const known = groups.get(name);
    if (known) known.reports++;
    else
      groups.set(name, { case_id: caseId, key_hash: key, title: `${one.grouping.what} ${one.grouping.where}`.slice(0, 600), reports: 1 });
  }
  const rows = [...groups.values()].map((group) => ({ change_id: changeId, ...group }));
  if (rows.length > 0)
    await transaction('previewed_groups')
      .insert(rows)
      .onConflict()
      .merge({ reports: transaction.raw('previewed_groups.reports + VALUES(reports)') as never });
}
