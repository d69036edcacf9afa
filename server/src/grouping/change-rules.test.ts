import { randomUUID } from 'node:crypto';
import { wholeScope } from '@rough-ember/core/scope/scope';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { split } from '../desk/case-actions.ts';
import { loadCaseList } from '../desk/case-list.ts';
import { startTestServer, type TestServer } from '../testing/test-server.ts';
import { applyChange, loadGrouping, previewRules, restoreRules } from './change-rules.ts';

const actor = 'ines@larkfield.example';
let server: TestServer;
const ids: string[] = [];

const send = async (where: string, caller: string) => {
  const frames = [where, 'Bird.fly', 'Bird.wake', caller].map((name) => `\tat com.larkfield.guide.${name}(Bird.java:12)`);
  const id = randomUUID();
  ids.push(id);
  const report = {
    type: 'report',
    id,
    kind: 'crash',
    occurredAt: new Date().toISOString(),
    version: '4.3.0',
    build: '430',
    exceptions: [{ type: 'java.lang.IllegalStateException', stack: ['java.lang.IllegalStateException: no perch', ...frames].join('\n') }],
  };
  expect((await server.send('/intake/v1/batch', JSON.stringify(report))).status).toBe(202);
};

beforeAll(async () => {
  server = await startTestServer();
  for (const [where, caller] of [
    ['Perch.sit', 'Walk.on'],
    ['Perch.sit', 'Walk.on'],
    ['Perch.sit', 'Watch.begin'],
    ['Feeder.fill', 'Walk.on'],
  ] as const)
    await send(where, caller);
  await server.settled();
});
afterAll(() => server.stop());

const cases = async () => {
  const { cases: found } = await loadCaseList(server.services, { app: server.app, scope: wholeScope, now: new Date() });
  return Object.fromEntries(found.map((one) => [one.ref, one.reports]));
};
const preview = async (rules: string) => {
  const { id } = await previewRules(server.services, server.app, { rules, actor });
  await server.settled();
  return { id, found: (await loadGrouping(server.services, server.app)).preview };
};

describe('the rules of an app', () => {
  it('say in a preview what they would do, and do that when they are applied', async () => {
    expect(await cases()).toEqual({ 'LG-1': 3, 'LG-2': 1 });
    const { id, found } = await preview('join "birds" function *.Bird.*');
    expect(found).toMatchObject({
      merged: [{ title: 'IllegalStateException birds', reports: 4, stays: 1 }],
      split: [],
      moving: 1,
      looked: 4,
    });
    expect(await cases()).toEqual({ 'LG-1': 3, 'LG-2': 1 });
    await applyChange(server.services, server.app, { id });
    await server.settled();
    expect(await cases()).toEqual({ 'LG-1': 4 });
    const { rules, changes } = await loadGrouping(server.services, server.app);
    expect(rules).toBe('join "birds" function *.Bird.*');
    expect(changes[0]).toMatchObject({ state: 'applied', looked: 4, moved: 1 });
  });

  it('count for what comes later, and give every case its number back when they are taken away', async () => {
    await send('Feeder.fill', 'Walk.on');
    await server.settled();
    expect(await cases()).toEqual({ 'LG-1': 5 });
    await restoreRules(server.services, server.app, { rules: '', actor });
    await server.settled();
    expect(await cases()).toEqual({ 'LG-1': 3, 'LG-2': 2 });
  });

  it('leave out what was taken out of its case', async () => {
    await split(server.services, server.app, { ref: 'LG-1', actor, reports: [ids[2] as string] });
    expect(await cases()).toEqual({ 'LG-1': 2, 'LG-2': 2, 'LG-3': 1 });
    const { found } = await preview('# nothing but a remark');
    expect(found).toMatchObject({ merged: [], split: [], unchanged: 3, moving: 0 });
  });

  it('are refused where they cannot be read, were dropped, or never were', async () => {
    await expect(previewRules(server.services, server.app, { rules: 'hide all', actor })).rejects.toThrow('Line 1: "hide" is no rule');
    const { id } = await preview('skip function *.Bird.*');
    await preview('skip function *.Perch.*');
    await expect(applyChange(server.services, server.app, { id })).rejects.toThrow('Preview these rules again');
    await expect(applyChange(server.services, server.app, { id: 9_999 })).rejects.toThrow('There is no change 9999');
    await expect(restoreRules(server.services, server.app, { rules: 'skip function *.Perch.*', actor })).rejects.toThrow('never in force');
  });
});

describe('the algorithm of an app', () => {
  const inForce = async () => (await loadGrouping(server.services, server.app)).rules;
  const apply = async (rules: string) => {
    const { id, found } = await preview(rules);
    await applyChange(server.services, server.app, { id });
    await server.settled();
    return found;
  };

  it('is changed as its rules are: seen first, applied, and gone back from', async () => {
    // Classes of lambdas were functions once; now they are left out, and those below them count.
    await send('Owl$$Lambda$7.run', 'Night.begin');
    await send('Hawk$$Lambda$2.run', 'Night.begin');
    await server.settled();
    expect(await cases()).toMatchObject({ 'LG-4': 2 });
    expect(await apply('algorithm 1')).toMatchObject({ merged: [], split: [{ number: 4, into: [{ reports: 1 }, { reports: 1 }] }] });
    expect(await inForce()).toBe('algorithm 1');
    expect(await cases()).toMatchObject({ 'LG-4': 1, 'LG-5': 1 });
    const { found } = await preview('');
    expect(found).toMatchObject({ merged: [{ reports: 2, stays: 4 }], split: [] });
    expect(await cases()).toMatchObject({ 'LG-4': 1, 'LG-5': 1 });
  });

  it('stays when the rules are taken away', async () => {
    await apply('skip function *.Nothing.*\nalgorithm 1');
    await restoreRules(server.services, server.app, { rules: 'algorithm 1', actor });
    await server.settled();
    expect(await inForce()).toBe('algorithm 1');
    await expect(restoreRules(server.services, server.app, { rules: 'algorithm 2', actor })).rejects.toThrow('never in force');
  });
});
