import { randomUUID } from 'node:crypto';
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
