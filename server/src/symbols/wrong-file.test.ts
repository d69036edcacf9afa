import { defaultScope } from '@rough-ember/core/scope/scope';
import { guideBuilds } from '@rough-ember/demo/guide-builds';
import { inTransaction } from '@rough-ember/store/database';
import { otherBuildsOfContent, putBackSymbolFile } from '@rough-ember/store/replaced-symbol-files';
import { deleteSymbolFile } from '@rough-ember/store/symbol-file-states';
import { findSymbolFile, listSymbolFiles } from '@rough-ember/store/symbol-files';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { loadCaseFile } from '../desk/case-file.ts';
import { loadCaseList } from '../desk/case-list.ts';
import { guideFile, startTestServer, type TestServer } from '../testing/test-server.ts';
import { loadSymbolOverview } from './symbol-overview.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.stop());

const scope = { ...defaultScope, days: null };
const build = { version: '4.3.0', build: '430' };
const titles = async () =>
  (await loadCaseList(server.services, { app: server.app, scope, now: new Date() })).cases.map(({ where }) => where).sort();
const overview = () => loadSymbolOverview(server.database, server.app);
const files = async () =>
  (await listSymbolFiles(server.database, server.app.id)).map(({ id, state, replacedBy }) => ({ id, state, replacedBy }));
const upload = async (from: string, to = build) => {
  const { body } = await server.uploadSymbols(guideFile(`${from}/mapping.txt`), to);
  await server.settled();
  return (body as { id: number }).id;
};
const right = [
  'FieldNotes.tidy',
  'NightMap.tileFor',
  'SightingStore.write',
  'SpeciesIndex.build',
  'TideClient.connect',
  'TrackImport.point',
];

describe('a mapping of another build', () => {
  let wrong: number;
  let own: number;

  it('is told by its frames, on Symbols and on the case, with how sure that is', async () => {
    for (const screen of guideBuilds.find(({ version }) => version === '4.3.0')?.screens ?? [])
      await server.send('/intake/v1/file?version=4.3.0&build=430', guideFile(`4.3.0/crashes/${screen}.txt`) as BodyInit);
    await server.settled();
    wrong = await upload('4.1.0');
    const { needs } = await overview();
    expect(needs).toMatchObject([
      { kind: 'mapping', covered: true, misfit: expect.stringMatching(/almost surely of another build \((?:over )?99/) },
    ]);
    expect(needs[0]?.frames.uncovered).toBeGreaterThan(10);
    const { cases } = await loadCaseList(server.services, { app: server.app, scope, now: new Date() });
    const views = await Promise.all(
      cases.map(({ ref }) => loadCaseFile(server.services, { app: server.app, ref, scope, position: 0, now: new Date() })),
    );
    expect(views.some((view) => view?.report.unfitting.some(({ misfit }) => /of another build/.test(misfit)))).toBe(true);
    expect(await titles()).not.toEqual(right);
  });

  it('gives its place to the right one, which names the reports again; it is kept, marked as replaced', async () => {
    own = await upload('4.3.0');
    expect(await files()).toEqual([
      { id: own, state: 'ready', replacedBy: null },
      { id: wrong, state: 'replaced', replacedBy: own },
    ]);
    expect(await titles()).toEqual(right);
    const { needs, files: views } = await overview();
    expect(needs).toMatchObject([{ covered: true, misfit: null, frames: { uncovered: 0 } }]);
    expect(views.find(({ id }) => id === wrong)).toMatchObject({ state: 'replaced', replacedBy: own, unused: false });
  });

  it('can be put back, by hand or by being sent again, and gives way once more', async () => {
    const file = await findSymbolFile(server.database, wrong);
    if (!file) throw new Error('it is gone');
    await inTransaction(server.database, (transaction) => putBackSymbolFile(transaction, file));
    server.services.jobs.wake();
    await server.settled();
    expect(await files()).toMatchObject([
      { id: own, state: 'replaced', replacedBy: wrong },
      { id: wrong, state: 'ready' },
    ]);
    expect(await titles()).not.toEqual(right);
    // The same bytes as those that were replaced: nothing new is stored, and they are used again.
    expect(await upload('4.3.0')).toBe(own);
    expect(await titles()).toEqual(right);
  });

  it('comes back when the file that replaced it is deleted', async () => {
    const file = await findSymbolFile(server.database, own);
    if (!file) throw new Error('it is gone');
    await deleteSymbolFile(server.database, file);
    server.services.jobs.wake();
    await server.settled();
    expect(await files()).toEqual([{ id: wrong, state: 'ready', replacedBy: null }]);
    await upload('4.3.0');
    expect(await titles()).toEqual(right);
  });

  it('is told at once when its bytes are those of another build', async () => {
    const same = await upload('4.3.0', { version: '4.3.1', build: '431' });
    const file = await findSymbolFile(server.database, same);
    expect(file && (await otherBuildsOfContent(server.database, file))).toEqual([build]);
    expect((await overview()).files.find(({ id }) => id === same)?.alsoOf).toEqual([build]);
  });

  it('whichever of two is indexed last, the one that was uploaded later is used', async () => {
    const to = { version: '5.0.0', build: '500' };
    const ids = await Promise.all(
      ['4.1.0', '4.2.0', '4.3.1'].map(
        async (from) => (await server.uploadSymbols(guideFile(`${from}/mapping.txt`), to)).body as { id: number },
      ),
    );
    await server.settled();
    const later = Math.max(...ids.map(({ id }) => id));
    const ofBuild = (await listSymbolFiles(server.database, server.app.id)).filter(({ version }) => version === '5.0.0');
    expect(ofBuild.map(({ id, state }) => [id, state])).toEqual(ofBuild.map(({ id }) => [id, id === later ? 'ready' : 'replaced']));
  });

  it('of several, one that was replaced already can be deleted, and one is in use all the time', async () => {
    const ofBuild = async () => (await listSymbolFiles(server.database, server.app.id)).filter(({ version }) => version === '5.0.0');
    const [current, middle, oldest] = await ofBuild();
    if (!current || !middle || !oldest) throw new Error('three were sent');
    await deleteSymbolFile(server.database, middle);
    expect((await ofBuild()).map(({ id, state }) => [id, state])).toEqual([
      [current.id, 'ready'],
      [oldest.id, 'replaced'],
    ]);
    await deleteSymbolFile(server.database, current);
    await server.settled();
    expect((await ofBuild()).map(({ id, state, replacedBy }) => [id, state, replacedBy])).toEqual([[oldest.id, 'ready', null]]);
  });
});
