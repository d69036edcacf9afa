import { randomUUID } from 'node:crypto';
import { addRolloutStep } from '@rough-ember/store/rollouts';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { loadStabilitySettings, saveStabilitySettings } from '../stability/settings.ts';
import { guideFile, startTestServer, type TestServer } from '../testing/test-server.ts';
import { loadFirstHour } from './first-hour.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.stop());

const undone = () => loadFirstHour(server.services, server.app);

it('what is worth doing next comes with the first report, and goes step by step', async () => {
  expect(await undone()).toEqual([]);
  await server.send('/intake/v1/file?version=4.3.1&build=431', guideFile('4.3.1/crashes/night-map.txt') as BodyInit);
  await server.settled();
  expect(await undone()).toEqual(expect.arrayContaining(['symbols', 'sessions', 'rollouts', 'target', 'people']));
  await server.uploadSymbols(guideFile('4.3.1/mapping.txt'), { version: '4.3.1', build: '431' });
  await server.settled();
  expect(await undone()).not.toContain('symbols');
  const at = new Date().toISOString();
  await server.sendItems([{ type: 'session', id: randomUUID(), sequence: 0, at, startedAt: at, version: '4.3.1', build: '431' }]);
  await server.services.sessions.ask('lookNow', server.app.id);
  expect(await undone()).not.toContain('sessions');
  await addRolloutStep(server.database, server.app.id, {
    version: '4.3.1',
    action: 'step',
    percent: 50,
    at,
    by: 'ines',
    commit: '',
    note: '',
  });
  const settings = await loadStabilitySettings(server.services, server.app);
  await saveStabilitySettings(server.services, server.app, { ...settings, targetPercent: 99.5 }, 'ines@larkfield.example');
  const left = await undone();
  for (const step of ['rollouts', 'target']) expect(left).not.toContain(step);
});
