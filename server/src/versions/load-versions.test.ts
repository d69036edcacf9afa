import { randomUUID } from 'node:crypto';
import type { CaseAction } from '@rough-ember/core/cases/case-status';
import { defaultScope } from '@rough-ember/core/scope/scope';
import { createAccount, findAccountByEmail } from '@rough-ember/store/accounts';
import { noteLook } from '@rough-ember/store/looks';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { runCaseActions } from '../desk/case-actions.ts';
import { loadNow } from '../now/load-now.ts';
import { compareSides, loadCrashFree } from '../stability/crash-free.ts';
import { loadSession, loadSessions } from '../stability/sessions.ts';
import { loadStabilitySettings, saveStabilitySettings } from '../stability/settings.ts';
import { startTestServer, type TestServer } from '../testing/test-server.ts';
import { loadRolloutCheck, loadVersionList } from './load-versions.ts';
import { recordFlagChange, recordRollout } from './record-changes.ts';

const by = 'ines@larkfield.example';
const now = () => new Date();
const hourMs = 3_600_000;
/** When the sessions began: two hours ago, or in the small hours at noon of the day before, so that all are of one day of UTC. */
const sinceMidnight = Date.now() % (24 * hourMs);
const began = Date.now() - (sinceMidnight > 3 * hourMs ? 2 * hourMs : sinceMidnight + 12 * hourMs);

let server: TestServer;
let firstCrashed = '';

/** Sessions of a version on a device, of which some crash at one place; each of somebody else. */
function story(
  version: string,
  device: string,
  { sessions, crashed, where }: { sessions: number; crashed: number; where: string },
): object[] {
  return Array.from({ length: sessions }, (_, at) => {
    const id = randomUUID();
    if (at === 0 && version === '4.3.0') firstCrashed = id;
    const startedAt = new Date(began - at * 1_000).toISOString();
    const about = { version, build: '1', device: { model: device }, installationId: randomUUID() };
    const session = { type: 'session', id, sequence: 1, at: startedAt, startedAt, state: 'ended', durationMs: 30_000, ...about };
    const stack = `java.lang.IllegalStateException\n\tat com.larkfield.guide.${where}(${where.split('.')[0]}.java:7)`;
    const report = {
      type: 'report',
      id: randomUUID(),
      kind: 'crash',
      occurredAt: new Date(Date.parse(startedAt) + 20_000).toISOString(),
      sessionId: id,
      exceptions: [{ type: 'java.lang.IllegalStateException', stack }],
      trail: [{ kind: 'screen', at: new Date(Date.parse(startedAt) + 2_000).toISOString(), name: 'hide' }],
      ...about,
    };
    return at < crashed ? [session, report] : [session];
  }).flat();
}

beforeAll(async () => {
  server = await startTestServer();
  const items = [
    ...story('4.2.0', 'Brill 6a', { sessions: 300, crashed: 2, where: 'Perch.sit' }),
    ...story('4.3.0', 'Brill 6a', { sessions: 200, crashed: 2, where: 'Perch.sit' }),
    ...story('4.3.0', 'Tarn Go 3', { sessions: 200, crashed: 30, where: 'Nest.build' }),
  ];
  await server.sendItems(items);
});
afterAll(() => server.stop());

describe('versions', () => {
  it('are told with their rollouts, figures and the cases that began in them', async () => {
    // Before its first session, whatever the hour is: what came on the day before a version did is not counted for it.
    const at = new Date(began - hourMs).toISOString();
    await recordRollout(server.services, server.app, { version: '4.3.0', action: 'step', percent: 20, note: '', commit: 'abc', at, by });
    await recordRollout(server.services, server.app, {
      version: '4.3.0',
      action: 'halt',
      percent: null,
      note: 'it crashes',
      commit: '',
      by,
    });
    const { versions } = await loadVersionList(server.services, server.app, now());
    expect(versions.map((one) => one.version)).toEqual(['4.2.0', '4.3.0']);
    const [older, newer] = versions;
    expect(older).toMatchObject({ counts: { sessions: 300, crashed: 2, persons: 300 }, comparison: null });
    expect(newer).toMatchObject({
      counts: { sessions: 400, crashed: 32 },
      rollout: { percent: 20, halted: true },
      comparison: { than: '4.2.0', reason: 'most-used', sessions: { verdict: 'worse' } },
    });
    expect(newer?.began.map(({ where, people }) => [where, people])).toEqual([['Nest.build', 30]]);
    expect(newer?.shareOfSessions).toBeCloseTo(400 / 700);
  });

  it('may go on or not by the conditions of the app, each with what it was judged by', async () => {
    const { verdict, conditions } = await loadRolloutCheck(server.services, server.app, { version: '4.3.0', now: now() });
    expect(verdict).toBe('stop');
    expect(conditions.find((one) => one.condition === 'new-cases')).toMatchObject({ outcome: 'not-met', cases: [{ people: 30 }] });
    expect(conditions.find((one) => one.condition === 'sessions')).toMatchObject({ outcome: 'too-early', sessions: 400 });
    const settings = await loadStabilitySettings(server.services, server.app);
    const lenient = {
      sessions: 100,
      crashFreePercent: 50,
      startCrashesPerThousand: null,
      newCasePeople: null,
      symbols: true,
      notWorse: false,
    };
    await saveStabilitySettings(server.services, server.app, { ...settings, conditions: lenient }, 'ines@larkfield.example');
    expect((await loadRolloutCheck(server.services, server.app, { version: '4.3.0', now: now() })).verdict).toBe('go');
    await expect(loadRolloutCheck(server.services, server.app, { version: '9.9', now: now() })).rejects.toThrow(
      'Nothing is known of Guide 9.9',
    );
  });
});

describe('crash-free', () => {
  const query = () => ({
    app: server.app,
    scope: { ...defaultScope, days: 7 as const },
    now: now(),
    count: { hangs: false, kills: false },
    exact: 'at-once' as const,
  });

  it('is told in all, by version, with what was changed meanwhile', async () => {
    await recordFlagChange(server.services, server.app, { flag: 'night-map', variant: 'on', percent: 10, note: '', by });
    const { total, byVersion, marks, error } = await loadCrashFree(server.services, query());
    expect(total).toMatchObject({ sessions: 700, crashed: 34, persons: 700, personsCrashed: 34 });
    expect(byVersion.map((one) => [one.version, one.counts.sessions])).toEqual([
      ['4.2.0', 300],
      ['4.3.0', 400],
    ]);
    const changes = marks.filter((one) => one.kind !== 'case');
    expect(changes.map(({ what, how }) => `${what} ${how}`)).toEqual(['4.3.0 to 20 %', '4.3.0 halted', 'flag night-map on for 10 %']);
    expect(marks.map((one) => one.at)).toEqual(marks.map((one) => one.at).sort());
    expect(error).toBe(0);
  });

  it('is marked by its cases: when they began, were closed, and came back', async () => {
    const { services, app } = server;
    const ofCases = async () => (await loadCrashFree(services, query())).marks.filter((one) => one.kind === 'case');
    const begun = await ofCases();
    expect(begun.map((one) => one.how)).toEqual(['began', 'began']);
    const ref = begun[0]?.ref as string;
    const act = (action: CaseAction) => runCaseActions(services, { app, actor: by, request: { cases: [ref], action }, now: now() });
    await act({ action: 'close', version: '4.9.0' });
    expect((await ofCases()).filter((one) => one.ref === ref).map((one) => one.how)).toEqual(['began', 'closed in 4.9.0']);
    await act({ action: 'open' });
  });

  it('of two sides tells which case makes the difference', async () => {
    const version = { field: 'version', key: '' } as const;
    const { comparison, cases, left, right } = await compareSides(server.services, query(), version, ['4.2.0', '4.3.0']);
    expect([left.sessions, right.sessions, comparison.verdict]).toEqual([300, 400, 'worse']);
    expect(cases[0]).toMatchObject({ where: 'Nest.build', left: 0, right: 75 });
    const device = { field: 'device.model', key: '' } as const;
    const others = await compareSides(server.services, query(), device, [null, 'Tarn Go 3']);
    expect([others.left.sessions, others.right.sessions]).toEqual([500, 200]);
  });

  it('leads to sessions, and each to what happened in it', async () => {
    const scope = { ...defaultScope, days: 7 as const, versions: { match: 'only' as const, version: '4.3.0' } };
    const { sessions } = await loadSessions(server.services, { app: server.app, scope, end: 'crashed', now: now() });
    expect(sessions.length).toBe(32);
    expect(sessions.every((one) => one.version === '4.3.0' && one.state === 'crashed' && one.crashedAfterMs === 20_000)).toBe(true);
    const file = await loadSession(server.services, server.app, firstCrashed, now());
    expect(file.moments.map((one) => one.type)).toEqual(['start', 'event', 'report', 'end']);
    await expect(loadSession(server.services, server.app, 'nonsense', now())).rejects.toThrow('There is no session nonsense');
  });
});

describe('now', () => {
  it('tells what changed since somebody looked, which stays told while they come and go', async () => {
    await createAccount(server.database, { email: by, name: 'Ines', role: 'owner', appIds: null, passwordHash: 'x' });
    const account = await findAccountByEmail(server.database, by);
    const look = (at: Date) => noteLook(server.database, { accountId: account?.id ?? 0, appId: server.app.id, now: at });
    const [monday, later, tuesday] = [new Date('2026-11-23T08:00:00Z'), new Date('2026-11-23T08:20:00Z'), new Date('2026-11-24T08:00:00Z')];
    expect(await look(monday)).toBeNull();
    expect(await look(later)).toBeNull();
    expect(await look(tuesday)).toEqual(later);
    expect(await look(new Date(tuesday.getTime() + 60_000))).toEqual(later);

    const news = await loadNow(server.services, server.app, { since: new Date(began - hourMs), now: now() });
    expect(news.newest).toMatchObject({ version: '4.3.0', comparison: { sessions: { verdict: 'worse' } } });
    expect(news.started.map((one) => one.where).sort()).toEqual(['Nest.build', 'Perch.sit']);
    expect(news.week.counts.sessions).toBe(700);
    const quiet = await loadNow(server.services, server.app, { since: now(), now: now() });
    expect(quiet.started).toEqual([]);
  });
});
