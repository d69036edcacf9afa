import { readFileSync } from 'node:fs';
import type { CaseAction } from '@rough-ember/core/cases/case-status';
import { defaultScope, type Scope, wholeScope } from '@rough-ember/core/scope/scope';
import { createAccount } from '@rough-ember/store/accounts';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ApiError } from '../errors.ts';
import { guideFile, startTestServer, type TestServer } from '../testing/test-server.ts';
import { addNote, runCaseActions, undoLast } from './case-actions.ts';
import { loadCaseFile } from './case-file.ts';
import { loadCaseList } from './case-list.ts';

const people = Array.from({ length: 6 }, (_, index) => `person-${index}`);

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
  for (const name of ['ines', 'tom', ...people]) {
    const email = `${name}@larkfield.example`;
    await createAccount(server.database, { email, name, role: 'developer', appIds: null, passwordHash: '' });
  }
});
afterAll(() => server.stop());

const now = new Date();
const send = async (version: string, where: string) => {
  const stack = `Exception in thread "main" java.lang.IllegalStateException: no perch\n\tat com.larkfield.guide.${where}(${where.split('.')[0]}.java:12)\n`;
  await server.send(`/intake/v1/file?version=${version}&build=1`, stack);
  await server.settled();
};
const act = (refs: readonly string[], action: CaseAction, actor = 'ines@larkfield.example') =>
  runCaseActions(server.services, { app: server.app, actor, request: { cases: [...refs], action }, now });
const open = async (ref: string) => {
  const file = await loadCaseFile(server.services, { app: server.app, ref, scope: wholeScope, position: 0, now: new Date() });
  if (!file) throw new Error(`there is no case ${ref}`);
  return file;
};
const status = async (ref: string) => (await open(ref)).item.state;
const refs = async (cases: 'open' | 'closed' | 'muted' | 'any') =>
  (await loadCaseList(server.services, { app: server.app, scope: { ...defaultScope, days: null, cases }, now: new Date() })).cases.map(
    (one) => one.ref,
  );

describe('the state of a case', () => {
  it('closed in a version stays closed for older reports, and is reopened by one of that version or newer', async () => {
    await send('4.3.0', 'Perch.sit');
    expect(await act(['LG-1'], { action: 'close', version: '4.3.1' })).toEqual({ cases: 1, changed: 1 });
    expect([await refs('open'), await refs('closed'), await refs('any')]).toEqual([[], ['LG-1'], ['LG-1']]);
    await send('4.2.9', 'Perch.sit');
    expect(await status('LG-1')).toBe('closed');
    await send('4.10.0', 'Perch.sit');
    const { item, history } = await open('LG-1');
    expect(item).toMatchObject({ state: 'reopened', closedIn: '4.3.1' });
    expect(history.map(({ kind, actor, detail }) => ({ kind, actor, version: detail.version }))).toEqual([
      { kind: 'reopened', actor: '', version: '4.10.0' },
      { kind: 'close', actor: 'ines@larkfield.example', version: '4.3.1' },
    ]);
    expect(await refs('open')).toEqual(['LG-1']);
  });

  it('is found by who looks after it: somebody, nobody, or whoever asks', async () => {
    const listed = async (assignee: Scope['assignee'], self = '') =>
      (await loadCaseList(server.services, { app: server.app, scope: { ...wholeScope, assignee }, self, now: new Date() })).cases.map(
        (one) => one.ref,
      );
    await act(['LG-1'], { action: 'assign', assignee: 'tom@larkfield.example' });
    expect(await listed('tom@larkfield.example')).toEqual(['LG-1']);
    expect(await listed('me', 'tom@larkfield.example')).toEqual(['LG-1']);
    expect(await listed('me', 'ines@larkfield.example')).toEqual([]);
    expect(await listed('nobody')).not.toContain('LG-1');
    expect(await listed('anybody')).toContain('LG-1');
    const ofMine = { action: 'assign', assignee: null } as const;
    const request = { scope: 'assignee=me&last=all&cases=any', action: ofMine };
    const run = (actor: string) => runCaseActions(server.services, { app: server.app, actor, request, now: new Date() });
    expect(await run('ines@larkfield.example')).toEqual({ cases: 0, changed: 0 });
    expect(await run('tom@larkfield.example')).toEqual({ cases: 1, changed: 1 });
  });

  it('is muted until it was reported so often again', async () => {
    await send('4.3.0', 'Feeder.fill');
    await act(['LG-2'], { action: 'mute', mute: { until: 'reports', more: 2 } });
    await send('4.3.0', 'Feeder.fill');
    expect(await status('LG-2')).toBe('muted');
    await send('4.3.0', 'Feeder.fill');
    expect(await status('LG-2')).toBe('open');
  });

  it('is not changed by old reports that are named again', async () => {
    await server.send('/intake/v1/file?version=4.3.1&build=431', guideFile('4.3.1/crashes/night-map.txt') as BodyInit);
    await server.settled();
    const ref = (await refs('open')).find((one) => one !== 'LG-1' && one !== 'LG-2') as string;
    await act([ref], { action: 'close', version: '4.3.1' });
    await server.uploadSymbols(guideFile('4.3.1/mapping.txt'), { version: '4.3.1', build: '431' });
    await server.settled();
    const { item } = await open(ref);
    expect(item).toMatchObject({ where: 'NightMap.tileFor', state: 'closed' });
  });
});

describe('the list', () => {
  it('has the order that is asked for', async () => {
    const first = async (order: 'reports' | 'people' | 'newest' | 'latest') => {
      const { cases } = await loadCaseList(server.services, { app: server.app, scope: wholeScope, order, now: new Date() });
      return cases.map((one) => one.ref);
    };
    const [byReports, byPeople, newest, latest] = await Promise.all([first('reports'), first('people'), first('newest'), first('latest')]);
    expect(newest).toEqual(['LG-3', 'LG-2', 'LG-1']);
    expect([...byReports].sort()).toEqual([...newest].sort());
    expect([...byPeople].sort()).toEqual([...newest].sort());
    // The last report that was sent is of the case of the night map.
    expect(latest.length).toBe(3);
    expect(byReports.at(-1)).toBe('LG-3');
    const scope: Scope = { ...wholeScope, days: 30 };
    const { cases } = await loadCaseList(server.services, { app: server.app, scope, order: 'news', now: new Date() });
    // LG-1 came back; the others are of today.
    expect(cases.map(({ ref, news }) => `${ref} ${news}`)).toEqual([...cases.slice(0, -1).map(({ ref }) => `${ref} new`), 'LG-1 reopened']);
  });
});

describe('what is done to a case', () => {
  it('can be taken back, the last thing first, and only once', async () => {
    await act(['LG-1'], { action: 'assign', assignee: 'tom@larkfield.example' });
    await act(['LG-1'], { action: 'close', version: '5.0.0' });
    const [close, assign] = (await open('LG-1')).history;
    expect([close?.mayUndo, assign?.mayUndo]).toEqual([true, false]);
    const undo = (event: number) => undoLast(server.services, server.app, { ref: 'LG-1', actor: 'tom@larkfield.example', event });
    await expect(undo(assign?.id as number)).rejects.toThrow(ApiError);
    await undo(close?.id as number);
    expect((await open('LG-1')).item).toMatchObject({ state: 'reopened', closedIn: '4.3.1', assignee: 'tom@larkfield.example' });
    await expect(undo(close?.id as number)).rejects.toThrow('Something else happened');
    await undo(assign?.id as number);
    expect((await open('LG-1')).item.assignee).toBeNull();
  });

  it('by two people at once is all there afterwards', async () => {
    const actors = people.map((name) => `${name}@larkfield.example`);
    await Promise.all(actors.map((actor) => act(['LG-2'], { action: 'assign', assignee: actor }, actor)));
    const { history, item } = await open('LG-2');
    const assigned = history.filter((event) => event.kind === 'assign');
    expect(new Set(assigned.map((event) => event.actor))).toEqual(new Set(actors));
    expect(item.assignee).toBe(assigned[0]?.detail.assignee);
  });

  it('is done to all of a scope, and counts only what it changes', async () => {
    const request = { scope: 'last=all&cases=any', action: { action: 'assign' as const, assignee: 'tom@larkfield.example' } };
    const run = () => runCaseActions(server.services, { app: server.app, actor: 'ines@larkfield.example', request, now: new Date() });
    expect(await run()).toEqual({ cases: 3, changed: 3 });
    expect(await run()).toEqual({ cases: 3, changed: 0 });
  });

  it('is refused for a case that is not there, and for a scope that makes no sense', async () => {
    await expect(act(['LG-99'], { action: 'open' })).rejects.toThrow('There is no case LG-99');
    await expect(act(['LG-1'], { action: 'assign', assignee: 'nobody@larkfield.example' })).rejects.toThrow('is no developer or owner');
    const request = { scope: 'last=soon', action: { action: 'open' as const } };
    await expect(runCaseActions(server.services, { app: server.app, actor: 'x', request, now })).rejects.toThrow('last=soon');
  });

  it('goes with its reports when they move to another case', async () => {
    const build = { version: '4.3.0', build: '430' };
    const crash = readFileSync(new URL('../../../demo/larkfield-guide/builds/4.3.0/crashes/species.txt', import.meta.url));
    await server.send(`/intake/v1/file?version=4.3.0&build=430`, crash as unknown as BodyInit);
    await server.settled();
    const provisional = (await refs('open')).find((ref) => !['LG-1', 'LG-2'].includes(ref)) as string;
    await addNote(server.services, server.app, { ref: provisional, actor: 'ines@larkfield.example', text: 'looks like the new list' });
    await server.uploadSymbols(guideFile('4.3.0/mapping.txt'), build);
    await server.settled();
    expect((await open(provisional)).history.map((event) => event.detail.text)).toContain('looks like the new list');
  });
});
