import { randomUUID } from 'node:crypto';
import type { Scope } from '@rough-ember/core/scope/scope';
import { wholeScope } from '@rough-ember/core/scope/scope';
import { listCaseEvents } from '@rough-ember/store/case-events';
import { deleteReports } from '@rough-ember/store/delete-reports';
import fc from 'fast-check';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { merge, split, undoLast } from '../desk/case-actions.ts';
import { loadCaseFile } from '../desk/case-file.ts';
import { loadCaseList } from '../desk/case-list.ts';
import { applyChange, previewRules, restoreRules } from '../grouping/change-rules.ts';
import { guideFile, startTestServer, type TestServer } from '../testing/test-server.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.stop());

const actor = 'ines@larkfield.example';
const scope: Scope = { ...wholeScope, cases: 'any' };

/** What the database itself says, case by case. */
async function counted(): Promise<Map<string, { reports: number; people: number }>> {
  const rows: { number: number; reports: number; people: number }[] = await server
    .database('reports')
    .join('cases', 'cases.id', 'reports.case_id')
    .where('reports.app_id', server.app.id)
    .groupBy('number')
    .select('number', server.database.raw('COUNT(*) AS reports, COUNT(DISTINCT person_key) AS people'));
  return new Map(rows.map(({ number, reports, people }) => [`LG-${number}`, { reports: Number(reports), people: Number(people) }]));
}

async function agree(): Promise<string[]> {
  const now = new Date();
  const truth = await counted();
  const list = await loadCaseList(server.services, { app: server.app, scope, now });
  expect(new Map(list.cases.map(({ ref, reports, people }) => [ref, { reports, people }]))).toEqual(truth);
  expect(list.totals.reports).toBe([...truth.values()].reduce((sum, one) => sum + one.reports, 0));
  for (const { ref } of list.cases) {
    const file = await loadCaseFile(server.services, { app: server.app, ref, scope, position: 0, now });
    expect({ reports: file?.item.reports, people: file?.item.people }).toEqual(truth.get(ref));
    expect(file?.movedFrom).toBeNull();
    const versions = await server.services.reports.ask('fieldValues', server.app.id, scope, now.getTime(), {
      field: 'version',
      key: '',
      caseId: await caseIdOf(ref),
    });
    expect(versions.values.reduce((sum, one) => sum + one.reports, versions.without)).toBe(truth.get(ref)?.reports);
  }
  return list.cases.map((one) => one.ref);
}

const caseIdOf = async (ref: string): Promise<number> =>
  (
    await server
      .database('cases')
      .where({ app_id: server.app.id, number: Number(ref.slice(3)) })
      .first('id')
  ).id;

const places = ['Perch.sit', 'Feeder.fill', 'Nest.build'];
const callers = ['Walk.on', 'Watch.begin'];

async function send(place: number, caller: number, person: number): Promise<void> {
  const frame = (name: string) => `\tat com.larkfield.guide.${name}(${name.split('.')[0]}.java:12)`;
  const stack = [
    'java.lang.IllegalStateException: no perch',
    frame(places[place] as string),
    frame('Bird.fly'),
    frame('Bird.wake'),
    frame(callers[caller] as string),
  ];
  const report = {
    type: 'report',
    id: randomUUID(),
    kind: 'crash',
    occurredAt: new Date().toISOString(),
    version: '4.3.0',
    build: '430',
    personId: `person-${person}`,
    exceptions: [{ type: 'java.lang.IllegalStateException', stack: stack.join('\n') }],
  };
  const { body } = await server.send('/intake/v1/batch', JSON.stringify(report));
  expect(body.items[0]?.outcome).toBe('accepted');
}

const rules = ['', 'skip function *.Bird.*', 'join "birds" function *.Bird.*', 'outside function *.Perch.*\napart attribute tenant'];

type Step =
  | { readonly do: 'send'; readonly place: number; readonly caller: number; readonly person: number }
  | { readonly do: 'merge' | 'split' | 'undo' | 'delete'; readonly pick: number }
  | { readonly do: 'rules'; readonly pick: number; readonly restored: boolean };

const anyStep: fc.Arbitrary<Step> = fc.oneof(
  { weight: 4, arbitrary: fc.record({ do: fc.constant('send' as const), place: fc.nat(2), caller: fc.nat(1), person: fc.nat(3) }) },
  {
    weight: 4,
    arbitrary: fc.record({ do: fc.constantFrom('merge' as const, 'split' as const, 'undo' as const, 'delete' as const), pick: fc.nat(9) }),
  },
  { weight: 1, arbitrary: fc.record({ do: fc.constant('rules' as const), pick: fc.nat(rules.length - 1), restored: fc.boolean() }) },
);

async function take(step: Step): Promise<void> {
  const { services, app, database } = server;
  if (step.do === 'send') {
    await send(step.place, step.caller, step.person);
    return server.settled();
  }
  if (step.do === 'rules') {
    const id = (await previewRules(services, app, { rules: rules[step.pick] as string, actor })).id;
    await server.settled();
    await applyChange(services, app, { id });
    await server.settled();
    if (step.restored) await restoreRules(services, app, { actor, rules: '' });
    return server.settled();
  }
  const refs = [...(await counted()).keys()].sort();
  const ref = refs[step.pick % refs.length];
  if (ref === undefined) return;
  const caseId = await caseIdOf(ref);
  if (step.do === 'merge' && refs.length > 1) await merge(services, app, { actor, into: ref, cases: refs.slice(0, 2) });
  if (step.do === 'split') {
    const one = await database('reports').where({ case_id: caseId }).orderBy('id').first('report_id');
    // A case whose reports all came the same way cannot be split, and says so.
    await split(services, app, { ref, actor, reports: [uuidOf(one.report_id)] }).catch((error: Error) =>
      expect(error.message).toContain('nothing can be taken out'),
    );
  }
  if (step.do === 'undo') {
    const last = (await listCaseEvents(database, caseId)).find((event) => event.mayUndo);
    if (last) await undoLast(services, app, { ref, actor, event: last.id });
  }
  if (step.do === 'delete') {
    const one = await database('reports').where({ case_id: caseId }).orderBy('id').first('id');
    await database.transaction((transaction) => deleteReports(transaction, app.id, [one.id]));
    services.jobs.wake();
  }
}

const uuidOf = (bytes: Buffer): string => bytes.toString('hex').replace(/^(.{8})(.{4})(.{4})(.{4})(.{12})$/, '$1-$2-$3-$4-$5');

it('counts on the desk, on the case, in the breakdown and by the database agree, whatever was done', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(anyStep, { minLength: 8, maxLength: 14 }), async (steps) => {
      for (const step of steps) {
        await take(step);
        await agree();
      }
    }),
    { numRuns: 12 },
  );
});

it('and when symbols come late', async () => {
  for (const screen of ['night-map', 'species', 'tides'])
    await server.send('/intake/v1/file?version=4.3.1&build=431', guideFile(`4.3.1/crashes/${screen}.txt`) as BodyInit);
  await server.settled();
  const before = await agree();
  await server.uploadSymbols(guideFile('4.3.1/mapping.txt'), { version: '4.3.1', build: '431' });
  await server.settled();
  expect((await agree()).length).toBe(before.length);
});
