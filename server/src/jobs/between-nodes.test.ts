import { randomUUID } from 'node:crypto';
import { followMergedCases, mergeCases } from '@rough-ember/store/merge-cases';
import { queueOvertakenNeeds } from '@rough-ember/store/overtaken-needs';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { guideFile, startTestServer, type TestServer } from '../testing/test-server.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.stop());

const crash = (version: string, build: string) => ({
  ...{ type: 'report', id: randomUUID(), kind: 'crash', occurredAt: new Date().toISOString(), version, build },
  exceptions: [{ type: 'java.lang.Error', frames: [{ runtime: 'jvm', class: 'a.a', method: 'a', file: 'SourceFile', line: 3 }] }],
});

it('a report that was saved on one node while its file became ready on another is read again, and no other', async () => {
  await server.sendItems([crash('4.3.1', '431'), crash('4.3.1', '431'), crash('9.9.9', '999')]);
  expect(await queueOvertakenNeeds(server.database)).toBe(0);
  await server.uploadSymbols(guideFile('4.3.1/mapping.txt'), { version: '4.3.1', build: '431', name: 'mapping.txt' });
  await server.settled();
  const missed = async () => Number((await server.database('report_needs').where({ found: false }).count({ n: '*' }))[0]?.n);
  expect(await missed()).toBe(1);
  // As two nodes leave it: the need says that there is none, the file is there, and nobody was sent round.
  await server.database('report_needs').where({ version: '4.3.1' }).update({ found: false });
  expect(await queueOvertakenNeeds(server.database)).toBe(2);
  await server.settled();
  expect(await missed()).toBe(1);
  expect(await queueOvertakenNeeds(server.database)).toBe(0);
});

it('a report that was placed on one node in a case that was merged on another goes along, however often that was', async () => {
  const crashIn = (place: string) => ({ ...crash('5.0.0', '500'), exceptions: [{ type: `com.larkfield.${place}`, frames: [] }] });
  await server.sendItems(['Perch', 'Nest', 'Owl'].map(crashIn));
  const cases: { id: number; what: string }[] = await server
    .database('cases')
    .whereIn('what', ['Perch', 'Nest', 'Owl'])
    .orderBy('id')
    .select('id', 'what');
  const [perch = 0, nest = 0, owl = 0] = cases.map(({ id }) => id);
  const merge = (from: number, into: number) => mergeCases(server.database, { appId: server.app.id, into, from: [from], actor: 'ines' });
  const placed: { id: number } = await server.database('reports').where({ case_id: perch }).first('id');
  await merge(perch, nest);
  await merge(nest, owl);
  expect(await followMergedCases(server.database)).toBe(0);
  await server.database('reports').where({ id: placed.id }).update({ case_id: perch });
  expect(await followMergedCases(server.database)).toBe(2);
  expect(await server.database('reports').where({ case_id: owl }).count({ n: '*' })).toEqual([{ n: 3 }]);
  expect(await followMergedCases(server.database)).toBe(0);
});
