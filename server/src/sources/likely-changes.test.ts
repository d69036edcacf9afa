import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buildGuideHistory } from '@rough-ember/demo/guide-history';
import { changeAppSetting } from '@rough-ember/store/app-settings';
import { readDeskSettings } from '@rough-ember/store/apps';
import { findCaseId } from '@rough-ember/store/cases';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { newsOfAlerts } from '../alerts/news-of-alerts.ts';
import { startTestServer, type TestServer } from '../testing/test-server.ts';
import { recordRollout } from '../versions/record-changes.ts';
import { loadLikelyChanges } from './likely-changes.ts';

let server: TestServer;
const root = mkdtempSync(join(tmpdir(), 'ember-sources-'));

beforeAll(async () => {
  expect(buildGuideHistory(join(root, 'guide'), { '4.1.0': 84, '4.2.0': 47, '4.3.0': 19, '4.3.1': 5 })).toBe(true);
  server = await startTestServer({ EMBER_SOURCES_DIR: root });
  await use({ folder: 'guide', revision: 'v{version}' });
  await recordRollout(server.services, server.app, {
    version: '4.3.0',
    action: 'step',
    percent: 5,
    note: '',
    commit: '',
    by: 'tom@larkfield.example',
  });
  const frames =
    '\tat com.larkfield.guide.map.NightMap.tileFor(NightMap.java:14)\n\tat com.larkfield.guide.map.MapScreen.draw(MapScreen.java:9)\n';
  await send('4.2.0', 'java.lang.IllegalStateException\n\tat com.larkfield.guide.settings.Settings.read(Settings.java:9)\n');
  await send('4.3.0', `java.lang.NullPointerException\n${frames}`);
  await send('4.3.1', `java.lang.NullPointerException\n${frames}`);
});
afterAll(async () => {
  await server.stop();
  rmSync(root, { recursive: true });
});

const send = async (version: string, stack: string) => {
  expect((await server.send(`/intake/v1/file?version=${version}&build=1`, stack)).status).toBe(202);
  await server.settled();
};
const use = async (...sources: { folder: string; revision: string | null }[]) =>
  changeAppSetting(server.database, {
    appId: server.app.id,
    setting: 'desk',
    by: 'ines@larkfield.example',
    value: { ...(await readDeskSettings(server.database, server.app.id)), sources },
  });
const changesOf = async (number: number) =>
  loadLikelyChanges(server.services, server.app, (await findCaseId(server.database, server.app.id, number)) as number);

it('are the commits between the last version without a case and the first with it that touched its frames', async () => {
  const { found, problem } = await changesOf(2);
  expect(problem).toBeNull();
  expect(found).toMatchObject({ from: '4.2.0', to: '4.3.0', commits: 8, path: 'com/larkfield/guide/map/NightMap.java' });
  expect(found?.changes[0]).toMatchObject({
    subject: 'Trust the cache to hold what the day map has drawn',
    authorEmail: 'tom@larkfield.example',
  });
  expect(found?.changes[0]?.reason).toMatch(/^changed the very line of NightMap\.tileFor, \d+ days before 4\.3\.0 came out$/);
  expect(found?.changes[1]).toMatchObject({ subject: 'Draw the map in dark colours at night' });
  expect(found?.lastChange).toMatchObject({ subject: 'Trust the cache to hold what the day map has drawn' });
  expect(found?.owners).toEqual(['wren@larkfield.example']);
});

it('are kept, and found again when what they rest on is another', async () => {
  const madeAt = async () => (await server.database('likely_changes').orderBy('case_id').first('found', 'made_at'))?.made_at;
  const before = await madeAt();
  await changesOf(2);
  expect(await madeAt()).toEqual(before);
  await use({ folder: 'guide', revision: 'v4.3.1' });
  expect((await changesOf(2)).found?.commits).toBe(0);
  await use({ folder: 'guide', revision: 'v{version}' });
  expect((await changesOf(2)).found?.commits).toBe(8);
});

it('say of the first version who changed the line last, and in a sentence why nothing can be said', async () => {
  const first = await changesOf(1);
  expect(first.found).toMatchObject({ from: null, commits: 0, changes: [] });
  expect(first.found?.lastChange?.subject).toBe('Read the settings at the start');
  await use({ folder: 'guide', revision: 'release-{version}' });
  expect((await changesOf(2)).problem).toContain('The checkout has no commit "release-4.3.0"');
  await use({ folder: 'guide', revision: '--output=/tmp/x' });
  expect((await changesOf(2)).problem).toContain('no name of a revision');
  await use({ folder: '../elsewhere', revision: 'v{version}' });
  expect((await changesOf(2)).problem).toContain('lies outside of EMBER_SOURCES_DIR');
  await use({ folder: 'guide', revision: null });
  expect(await changesOf(2)).toEqual({ found: null, problem: null });
});

it('are looked for in the checkout that holds the file, whichever that is', async () => {
  await use(
    { folder: 'guide', revision: 'release-{version}' },
    { folder: 'guide', revision: null },
    { folder: 'guide', revision: 'v{version}' },
  );
  expect((await changesOf(2)).found).toMatchObject({ commits: 8, path: 'com/larkfield/guide/map/NightMap.java' });
});

it('stand in what a message tells of the case', async () => {
  const id = (await findCaseId(server.database, server.app.id, 2)) as number;
  const alert = {
    id: 1,
    ruleId: 1,
    appId: server.app.id,
    kind: 'case-begins',
    fact: '',
    caseId: id,
    reportRow: null,
    told: null,
    at: new Date(),
  } as const;
  const [news] = await newsOfAlerts({ ...server.services, publicUrl: server.address }, server.app, [alert], 60_000);
  expect(news?.case).toMatchObject({ firstVersion: '4.3.0', likelyChange: expect.stringContaining('Trust the cache') });
  expect(news?.case?.frames[0]).toContain('NightMap');
});
