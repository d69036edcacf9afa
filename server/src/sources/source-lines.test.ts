import { changeAppSetting } from '@rough-ember/store/app-settings';
import { readDeskSettings } from '@rough-ember/store/apps';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { startTestServer, type TestServer } from '../testing/test-server.ts';
import { readSourceLines } from './source-lines.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer({ EMBER_SOURCES_DIR: 'demo/larkfield-guide' });
});
afterAll(() => server.stop());

const place = { file: 'NightMap.java', function: 'com.larkfield.guide.map.NightMap.tileFor', line: 14, version: '4.3.0' };
const use = async (...sources: { folder: string; revision: string | null }[]) =>
  changeAppSetting(server.database, {
    appId: server.app.id,
    setting: 'desk',
    by: 'ines@larkfield.example',
    value: { ...(await readDeskSettings(server.database, server.app.id)), sources },
  });
const read = (more: Partial<typeof place> = {}) => readSourceLines(server.services, server.app, { ...place, ...more });

it('the lines around a frame are those of its version', async () => {
  await use({ folder: 'sources/{version}', revision: null });
  const { found } = await read();
  expect(found?.path).toBe('com/larkfield/guide/map/NightMap.java');
  expect(found?.lines[14 - (found?.firstLine ?? 0)]).toContain('Require.present');
});

it('why there are none is said in a sentence', async () => {
  await use();
  expect((await read()).problem).toBe('Guide names no source folder; its desk settings can.');
  await use({ folder: 'sources/{version}', revision: null });
  expect((await read({ version: '9.9' })).problem).toContain('There is no folder "sources/9.9"');
  expect((await read({ file: 'Perch.java' })).problem).toBe('The sources of 4.3.0 hold no file Perch.java.');
  expect((await read({ line: 5_000 })).problem).toContain('it is not the file that was built');
});

it('are looked for in one place after the other, and one that is away hides no other', async () => {
  await use({ folder: 'nowhere', revision: null }, { folder: 'builds', revision: null }, { folder: 'sources/{version}', revision: null });
  expect((await read()).found?.path).toBe('com/larkfield/guide/map/NightMap.java');
});
