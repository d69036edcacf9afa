import { randomUUID } from 'node:crypto';
import type { Grouping } from '@rough-ember/core/grouping/group-report';
import { type Report, reportSchema } from '@rough-ember/core/report/report';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { App } from './apps.ts';
import { findCaseId } from './cases.ts';
import type { Database } from './database.ts';
import { postponeJob, queueJobs, takeJobs } from './jobs.ts';
import { listMigrations, migrate } from './migrate.ts';
import { saveProcessedReports } from './processing.ts';
import { loadReports, type StoredReport } from './reports.ts';
import { markSymbolFileReady, storeSymbolFile } from './symbol-file-states.ts';
import { findSymbolFiles, listSymbolDemand } from './symbol-files.ts';
import { freshDatabase, makeApp } from './testing/fresh-database.ts';
import { storeReports } from './testing/store-reports.ts';

let database: Database;
let remove: () => Promise<void>;
let app: App;
const now = new Date();

beforeAll(async () => {
  ({ database, remove } = await freshDatabase());
});
afterAll(() => remove());

const makeReport = (more: Partial<Report> = {}): Report =>
  reportSchema.parse({
    id: randomUUID(),
    kind: 'crash',
    occurredAt: now.toISOString(),
    version: '4.3.0',
    build: '430',
    installationId: randomUUID(),
    ...more,
  });

const makeGrouping = (key: string, provisional = false): Grouping => ({
  key,
  variant: `${key} variant`,
  what: 'NullPointerException',
  where: provisional ? 'a.b(SourceFile:1)' : 'NightMap.tileFor',
  message: null,
  culprit: null,
  provisional,
  explanation: { exception: 0, basis: 'our-frames', kept: [], skipped: [] },
});

/** Stores a report and processes it as if it had grouped so; gives its row. */
async function arrive(grouping: Grouping, report = makeReport()): Promise<number> {
  await storeReports(database, { appId: app.id, reports: [report], receivedAt: now });
  const [job] = (await takeJobs(database, 100)).filter((one) => one.appId === app.id);
  if (!job) throw new Error('no job was queued');
  await processAgain(job.subjectId, grouping, job.id);
  return job.subjectId;
}

async function processAgain(row: number, grouping: Grouping, jobId = 0): Promise<void> {
  const stored = (await loadReports(database, [row])).get(row);
  if (!stored) throw new Error('no such report');
  const needs = [{ kind: 'mapping' as const, symbolId: null, name: null, found: !grouping.provisional }];
  await saveProcessedReports(database, [
    {
      row,
      appId: app.id,
      jobId,
      report: stored.report,
      readable: '{}',
      explanation: JSON.stringify(grouping.explanation),
      needs,
      grouping,
      terms: Buffer.alloc(0),
    },
  ]);
}

/** The cases that have reports, those with most first. */
const cases = async (): Promise<{ number: number; where: string; reports: number }[]> =>
  database('cases')
    .join('reports', 'reports.case_id', 'cases.id')
    .where('cases.app_id', app.id)
    .groupBy('cases.id')
    .orderBy(database.raw('COUNT(*)') as never, 'desc')
    .select('number', { where: 'where_text' }, database.raw('COUNT(*) AS reports'));

describe('the schema', () => {
  it('is made once, also when two processes start at the same time', async () => {
    const other = await freshDatabase({ migrated: false });
    const ran = await Promise.all([migrate(other.database), migrate(other.database)]);
    expect(ran.flat().sort()).toEqual(listMigrations().map((migration) => migration.name));
    expect(await migrate(other.database)).toEqual([]);
    await other.remove();
  });
});

describe('reports', () => {
  beforeAll(async () => {
    app = await makeApp(database);
  });

  it('are stored once, whatever the batch and the spelling of their id', async () => {
    const report = makeReport();
    const store = (reports: Report[]) => storeReports(database, { appId: app.id, reports, receivedAt: now });
    expect([...(await store([report, report]))]).toEqual([report.id]);
    expect((await store([{ ...report, id: report.id.toUpperCase() }])).size).toBe(0);
    expect((await takeJobs(database, 100)).filter((job) => job.appId === app.id)).toHaveLength(1);
  });

  it('of two apps may have the same id', async () => {
    const other = await makeApp(database);
    const report = makeReport();
    for (const appId of [app.id, other.id])
      expect((await storeReports(database, { appId, reports: [report], receivedAt: now })).size).toBe(1);
  });

  it('count a person by user id over installations', async () => {
    app = await makeApp(database);
    for (const personId of ['ines', 'ines', null]) await arrive(makeGrouping('same'), makeReport({ personId }));
    const people = await database('reports').where({ app_id: app.id }).distinct('person_key');
    expect(people).toHaveLength(2);
  });
});

describe('cases', () => {
  beforeAll(async () => {
    app = await makeApp(database);
  });

  it('are numbered without gaps, also when many processes make them at once', async () => {
    const reports = Array.from({ length: 24 }, () => makeReport());
    await storeReports(database, { appId: app.id, reports, receivedAt: now });
    const jobs = (await takeJobs(database, 100)).filter((job) => job.appId === app.id);
    // Eight causes, three reports each, all at the same moment.
    await Promise.all(jobs.map((job, index) => processAgain(job.subjectId, makeGrouping(`cause ${index % 8}`), job.id)));
    const made = await cases();
    expect(made.map((one) => one.number).sort()).toEqual([1, 2, 3, 4, 5, 6, 7, 8]);
    expect(made.every((one) => one.reports === 3)).toBe(true);
  });

  it('are the same ones when many processes place reports by the dozen', async () => {
    app = await makeApp(database);
    const reports = Array.from({ length: 96 }, () => makeReport());
    await storeReports(database, { appId: app.id, reports, receivedAt: now });
    const jobs = (await takeJobs(database, 200)).filter((job) => job.appId === app.id);
    const stored = await loadReports(
      database,
      jobs.map((job) => job.subjectId),
    );
    const processed = jobs.map(({ id: jobId, subjectId: row }, at) => ({
      ...{ row, jobId, appId: app.id, readable: '{}', explanation: '{}', needs: [], terms: Buffer.alloc(0) },
      report: (stored.get(row) as StoredReport).report,
      grouping: makeGrouping(`cause ${(7 * at) % 16}`),
    }));
    // Each meets causes that others meet, too, and at the same moment.
    const dozens = Array.from({ length: 8 }, (_, first) => processed.filter((_, at) => Math.floor(at / 3) % 8 === first));
    await Promise.all(dozens.map((dozen) => saveProcessedReports(database, dozen)));
    const made = await cases();
    expect(made.map((one) => one.number).sort((a, b) => a - b)).toEqual(Array.from({ length: 16 }, (_, at) => at + 1));
    expect(made.every((one) => one.reports === 6)).toBe(true);
    expect((await takeJobs(database, 200)).filter((job) => job.appId === app.id)).toEqual([]);
    expect(await database('jobs').where({ app_id: app.id })).toEqual([]);
  });

  it('that one report leaves while another one comes are no ghosts', async () => {
    app = await makeApp(database);
    const leaving = await arrive(makeGrouping('left'));
    await storeReports(database, { appId: app.id, reports: [makeReport()], receivedAt: now });
    const [job] = (await takeJobs(database, 100)).filter((one) => one.appId === app.id);
    const coming = job?.subjectId as number;
    const stored = await loadReports(database, [leaving, coming]);
    const save = { appId: app.id, readable: '{}', explanation: '{}', needs: [], terms: Buffer.alloc(0) };
    await saveProcessedReports(
      database,
      [
        { row: leaving, jobId: 0, grouping: makeGrouping('elsewhere') },
        { row: coming, jobId: job?.id as number, grouping: makeGrouping('left') },
      ].map((one) => ({ ...save, ...one, report: (stored.get(one.row) as StoredReport).report })),
    );
    expect((await cases()).map((one) => one.reports)).toEqual([1, 1]);
    expect(await database('cases').where({ app_id: app.id }).whereNotNull('merged_into')).toEqual([]);
  });

  it('keep their number when their names become readable', async () => {
    app = await makeApp(database);
    const row = await arrive(makeGrouping('raw', true));
    await processAgain(row, makeGrouping('readable'));
    expect(await cases()).toEqual([{ number: 1, where: 'NightMap.tileFor', reports: 1 }]);
  });

  it('leave no ghost when their reports belong to a case that exists', async () => {
    app = await makeApp(database);
    await arrive(makeGrouping('readable'));
    const rows = [await arrive(makeGrouping('raw', true)), await arrive(makeGrouping('raw', true))];
    expect((await cases()).map((one) => one.reports).sort()).toEqual([1, 2]);
    await processAgain(rows[0] as number, makeGrouping('readable'));
    expect((await cases()).map((one) => [one.number, one.reports])).toEqual([
      [1, 2],
      [2, 1],
    ]);
    await processAgain(rows[1] as number, makeGrouping('readable'));
    expect(await cases()).toEqual([{ number: 1, where: 'NightMap.tileFor', reports: 3 }]);
    expect(await findCaseId(database, app.id, 2)).toBe(await findCaseId(database, app.id, 1));
  });

  it('leave no ghost either when all their reports move at the same moment', async () => {
    app = await makeApp(database);
    await arrive(makeGrouping('readable'));
    const rows: number[] = [];
    for (let count = 0; count < 12; count++) rows.push(await arrive(makeGrouping('raw', true)));
    await Promise.all(rows.map((row) => processAgain(row, makeGrouping('readable'))));
    expect(await cases()).toEqual([{ number: 1, where: 'NightMap.tileFor', reports: 13 }]);
    expect(await database('cases').where({ app_id: app.id }).whereNull('merged_into')).toHaveLength(1);
    expect(await findCaseId(database, app.id, 2)).toBe(await findCaseId(database, app.id, 1));
  });
});

describe('the queue', () => {
  it('gives each job to one of many takers', async () => {
    app = await makeApp(database);
    await queueJobs(
      database,
      { kind: 'process-report', appId: app.id, priority: 'arrived' },
      Array.from({ length: 200 }, (_, index) => 1_000_000 + index),
    );
    const taken = await Promise.all(Array.from({ length: 8 }, () => takeJobs(database, 25)));
    const ids = taken.flat().map((job) => job.id);
    expect(new Set(ids).size).toBe(ids.length);
    const rest = [];
    for (let more = await takeJobs(database, 50); more.length > 0; more = await takeJobs(database, 50)) rest.push(...more);
    expect(new Set([...ids, ...rest.map((job) => job.id)]).size).toBe(200);
  });

  it('takes new reports before the old ones that a late file sends round again', async () => {
    await database('jobs').delete();
    await queueJobs(database, { kind: 'process-report', appId: app.id, priority: 'again' }, [1]);
    await queueJobs(database, { kind: 'process-report', appId: app.id, priority: 'arrived' }, [2]);
    await queueJobs(database, { kind: 'index-symbol-file', appId: app.id, priority: 'symbols' }, [3]);
    expect((await takeJobs(database, 3)).map((job) => job.subjectId).sort()).toEqual([1, 2, 3]);
    await database('jobs').update({ run_after: database.raw('UTC_TIMESTAMP(3)') });
    expect((await takeJobs(database, 1))[0]?.subjectId).toBe(3);
    expect((await takeJobs(database, 1))[0]?.subjectId).toBe(2);
  });

  it('gives a job again after its lease, and a postponed one after its pause', async () => {
    await database('jobs').delete();
    await queueJobs(database, { kind: 'process-report', appId: app.id, priority: 'arrived' }, [7]);
    const [job] = await takeJobs(database, 1);
    expect(await takeJobs(database, 1)).toEqual([]);
    await database('jobs').update({ run_after: database.raw('UTC_TIMESTAMP(3) - INTERVAL 1 SECOND') });
    const [again] = await takeJobs(database, 1);
    expect(again).toMatchObject({ id: job?.id, attempts: 2 });
    if (again) await postponeJob(database, again);
    expect(await takeJobs(database, 1)).toEqual([]);
    await database('jobs').delete();
  });
});

describe('symbol files', () => {
  const file = (more: object = {}) => ({
    appId: app.id,
    kind: 'mapping' as const,
    version: '4.3.0',
    build: '430',
    sha256: Buffer.alloc(32, 1),
    sizeBytes: 10,
    fileName: 'mapping.txt',
    uploadedBy: 'ci',
    ...more,
  });
  const parts = [{ kind: 'mapping' as const, symbolId: null, name: null, summary: { classes: 1 } }];

  it('are recorded once for the same bytes and build', async () => {
    app = await makeApp(database);
    const both = await Promise.all([storeSymbolFile(database, file()), storeSymbolFile(database, file())]);
    expect(both.map((one) => one.isNew).sort()).toEqual([false, true]);
    expect(both[0]?.file.id).toBe(both[1]?.file.id);
    expect((await storeSymbolFile(database, file({ build: '431' }))).isNew).toBe(true);
  });

  it('send round the reports that lacked them, and only those', async () => {
    app = await makeApp(database);
    await database('jobs').delete();
    const lacking = await arrive(makeGrouping('raw', true));
    await arrive(makeGrouping('raw of another build', true), makeReport({ build: '431' }));
    await arrive(makeGrouping('has it'));
    const { file: stored } = await storeSymbolFile(database, file());
    expect(await markSymbolFileReady(database, stored, parts, 0)).toBe(1);
    const again = (await takeJobs(database, 10)).filter((job) => job.kind === 'process-report');
    expect(again.map((job) => job.subjectId)).toEqual([lacking]);
    expect((await listSymbolDemand(database, app.id)).map(({ build, found, reports }) => ({ build, found, reports }))).toEqual([
      { build: '430', found: false, reports: 1 },
      { build: '430', found: true, reports: 1 },
      { build: '431', found: false, reports: 1 },
    ]);
  });

  it('that come while a report is being processed without them are not missed', async () => {
    app = await makeApp(database);
    await database('jobs').delete();
    const { file: stored } = await storeSymbolFile(database, file());
    await markSymbolFileReady(database, stored, parts, 0);
    await database('jobs').delete();
    // Processing looked for the mapping before it was there, and saves after.
    const late = await arrive(makeGrouping('raw', true));
    expect((await takeJobs(database, 10)).map((job) => job.subjectId)).toEqual([late]);
  });

  it('of another build are never found', async () => {
    const wanted = { appId: app.id, version: '4.3.0', build: '430', symbolIds: [] };
    expect(await findSymbolFiles(database, wanted)).toMatchObject([{ sha256: Buffer.alloc(32, 1), isOfBuild: true }]);
    for (const other of [{ build: '431' }, { version: '4.3.1' }, { appId: app.id + 1 }])
      expect(await findSymbolFiles(database, { ...wanted, ...other })).toEqual([]);
  });

  it('are found by their ids in any build and any spelling, each part of a universal binary by its own', async () => {
    app = await makeApp(database);
    const { file: stored } = await storeSymbolFile(database, file({ kind: 'code', version: '', build: '', sha256: Buffer.alloc(32, 7) }));
    const ids = ['6f1c3a5b7d9e4f10a2b4c6d8e0f21436', '00112233445566778899aabbccddeeff'];
    const slices = ids.map((symbolId) => ({ kind: 'code' as const, symbolId, name: 'LarkSong', summary: {} }));
    await markSymbolFileReady(database, stored, slices, 0);
    const wanted = { appId: app.id, version: '4.3.0', build: '430' };
    const found = async (symbolId: string) =>
      (await findSymbolFiles(database, { ...wanted, symbolIds: [symbolId] })).map(({ part, isOfBuild }) => ({ part, isOfBuild }));
    expect(await found('00112233-4455-6677-8899-AABBCCDDEEFF')).toEqual([{ part: 1, isOfBuild: false }]);
    expect(await found('5B3A1C6F9E7D104FA2B4C6D8E0F214361')).toEqual([{ part: 0, isOfBuild: false }]);
    expect(await found('ff112233445566778899aabbccddeeff')).toEqual([]);
    expect(await findSymbolFiles(database, { ...wanted, symbolIds: [] })).toEqual([]);
  });

  it('that become ready at the same time do not lock each other out', async () => {
    app = await makeApp(database);
    const stored = await Promise.all(
      Array.from({ length: 12 }, (_, at) => storeSymbolFile(database, file({ kind: 'code', sha256: Buffer.alloc(32, 20 + at) }))),
    );
    await Promise.all(
      stored.map(({ file: one }, at) =>
        markSymbolFileReady(database, one, [{ kind: 'code', symbolId: `${at}`.padStart(32, 'a'), name: 'libsong.so', summary: {} }], 0),
      ),
    );
    const found = await findSymbolFiles(database, { appId: app.id, version: '4.3.0', build: '430', symbolIds: [] });
    expect(found).toHaveLength(12);
  });
});
