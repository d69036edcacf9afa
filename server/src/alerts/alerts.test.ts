import { randomUUID } from 'node:crypto';
import type { AlertRule } from '@rough-ember/core/alerts/alert-rule';
import { type StandIns, startStandIns } from '@rough-ember/demo/stand-ins/stand-ins';
import { receiverSecrets } from '@rough-ember/demo/stand-ins/web-receivers';
import { createAccount } from '@rough-ember/store/accounts';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { merge, runCaseActions, split } from '../desk/case-actions.ts';
import { guideFile, startTestServer, type TestServer } from '../testing/test-server.ts';
import { alterChannel, channelSchema, makeChannel } from './channel-changes.ts';
import { addRule, loadAlerts, loadMessages, loadRules } from './rule-views.ts';
import { tryRule } from './try-rule.ts';

let server: TestServer;
let standIns: StandIns;
let hook = 0;
const ines = 'ines@larkfield.example';
const tom = 'tom@larkfield.example';

beforeAll(async () => {
  standIns = await startStandIns();
  server = await startTestServer({ EMBER_SMTP_URL: standIns.smtpUrl, EMBER_MAIL_FROM: 'Rough Ember <ember@larkfield.example>' });
  for (const email of [ines, tom])
    await createAccount(server.database, { email, name: email.split('@')[0] as string, role: 'developer', appIds: null, passwordHash: '' });
  hook = (await channel('webhook', { address: `${standIns.address}/webhook` }, receiverSecrets.webhook)).id;
});
afterAll(async () => {
  await server.stop();
  await standIns.stop();
});
beforeEach(async () => {
  for (const { id } of (await rules()).rules) await server.database('alert_rules').where({ id }).delete();
});

const rules = () => loadRules(server.services, server.app, new Date());
const channel = (kind: 'webhook' | 'room' | 'matrix' | 'text-message' | 'mail', settings: object, secret?: string) =>
  makeChannel(
    server.services,
    server.app,
    {
      name: `${kind} ${randomUUID()}`,
      kind,
      settings: { ...settings },
      mayReachPrivate: true,
      ...(secret === undefined ? {} : { secret }),
    },
    { by: ines, role: 'owner' },
  );
const rule = (given: Partial<AlertRule> & Pick<AlertRule, 'what'>) =>
  addRule(
    server.services,
    server.app,
    {
      where: 'kind=crash',
      whom: { people: 'nobody', channels: [hook] },
      pace: { when: 'at-once', everyMinutes: 1, workingDays: false },
      until: null,
      paused: false,
      ...given,
    },
    ines,
  );

/** A crash of its own kind by name; the same name is the same case. */
const crash = (name: string, more: object = {}) => ({
  type: 'report',
  id: randomUUID(),
  kind: 'crash',
  occurredAt: new Date().toISOString(),
  version: '4.3.0',
  build: '1',
  installationId: randomUUID(),
  exceptions: [
    { type: `com.larkfield.${name}Problem`, stack: `com.larkfield.${name}Problem\n\tat com.larkfield.guide.${name}.sit(${name}.java:12)` },
  ],
  ...more,
});
let named = 0;
const letters = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ';
/** A name that no case has yet. */
const fresh = (): string => {
  named++;
  return `Bird${letters[Math.floor(named / 26) % 26]}${letters[named % 26]}x`;
};
const send = (...items: object[]) => server.sendItems(items);
const received = (name: string) => standIns.list().filter((one) => one.text.includes(name) || one.subject.includes(name));
/** Waits until what was found is told, or would have been. */
const told = async () => {
  await expect.poll(async () => Number((await server.database('alert_facts').count({ n: '*' }))[0]?.n)).toBe(0);
  await server
    .database('deliveries')
    .where({ is_done: false })
    .update({ due_at: server.database.raw('UTC_TIMESTAMP(3)') });
  await expect.poll(async () => Number((await server.database('deliveries').where({ is_done: false }).count({ n: '*' }))[0]?.n)).toBe(0);
  await expect.poll(async () => Number((await server.database('messages').where({ state: 'waiting' }).count({ n: '*' }))[0]?.n)).toBe(0);
};
const refOf = async (name: string): Promise<string> => {
  const row = await server.database('cases').where('where_text', 'like', `%${name}%`).orderBy('id').first('number');
  return `LG-${row.number}`;
};
const act = async (name: string, action: object) =>
  runCaseActions(server.services, {
    app: server.app,
    actor: ines,
    request: { cases: [await refOf(name)], action: action as never },
    now: new Date(),
  });

describe('a case that begins', () => {
  it('is told the first time and not the second', async () => {
    await rule({ what: { kind: 'case-begins' } });
    const name = fresh();
    await send(crash(name));
    await told();
    expect(received(name)).toMatchObject([{ way: 'webhook', remark: 'its signature holds' }]);
    expect(received(name)[0]?.subject).toMatch(new RegExp(`^\\[Guide\\] New: LG-\\d+ .*${name}.*, 1 person, 4\\.3\\.0$`));
    await send(crash(name));
    await told();
    expect(received(name)).toHaveLength(1);
  });

  it('is one message when there are many at once', async () => {
    await rule({ what: { kind: 'case-begins' } });
    const before = standIns.list().length;
    const names = Array.from({ length: 40 }, fresh);
    await send(...names.map((name) => crash(name)));
    await told();
    const came = standIns.list().slice(before);
    expect((await loadAlerts(server.services, server.app, {})).alerts).toHaveLength(40);
    // What comes within the moment that is gathered, and what comes behind it.
    expect(came.length).toBeLessThanOrEqual(2);
    expect(came[0]?.subject).toMatch(/^\[Guide\] \d+ new cases$/);
  });

  it('is told where it lies in the scope of the rule alone', async () => {
    await rule({ what: { kind: 'case-begins' }, where: 'kind=crash&filter=flags.night-map%20%3D%20%22on%22' });
    const [without, within] = [fresh(), fresh()];
    await send(crash(without), crash(within, { flags: { 'night-map': 'on' } }));
    await told();
    expect(received(without)).toEqual([]);
    expect(received(within)).toHaveLength(1);
  });

  it('is not told any more when somebody has dealt with it before the message', async () => {
    await rule({ what: { kind: 'case-begins' }, pace: { when: 'daily', everyMinutes: 1, workingDays: false } });
    const name = fresh();
    await send(crash(name));
    await expect.poll(async () => (await loadAlerts(server.services, server.app, {})).alerts.length).toBe(1);
    await act(name, { action: 'close', version: '4.3.1' });
    await told();
    expect(received(name)).toEqual([]);
  });

  it('that was merged is told under the name of the other', async () => {
    const other = fresh();
    await send(crash(other));
    await rule({ what: { kind: 'case-begins' }, pace: { when: 'daily', everyMinutes: 1, workingDays: false } });
    const name = fresh();
    await send(crash(name));
    await expect.poll(async () => (await loadAlerts(server.services, server.app, {})).alerts.length).toBe(1);
    await merge(server.services, server.app, { actor: ines, into: await refOf(other), cases: [await refOf(name)] });
    await told();
    expect(received(`${await refOf(other)} `)).toHaveLength(1);
  });
});

describe('a case that comes back', () => {
  it('is told, and nothing of it while it is muted', async () => {
    await rule({ what: { kind: 'case-returns' } });
    const name = fresh();
    await send(crash(name));
    await told();
    expect(received(name)).toEqual([]);
    await act(name, { action: 'close', version: '4.3.1' });
    await send(crash(name));
    await told();
    expect(received(name)).toEqual([]);
    await send(crash(name, { version: '4.3.1' }));
    await told();
    expect(received(name)).toHaveLength(1);
    expect(received(name)[0]?.subject).toMatch(/Came back: .*, 4\.3\.1, known since 4\.3\.0$/);
    await rule({ what: { kind: 'report' } });
    await act(name, { action: 'mute', mute: { until: 'further notice' } });
    await send(crash(name));
    await told();
    expect(received(name)).toHaveLength(1);
  });
});

describe('a case that changes its name or its reports', () => {
  it('is told once, though late symbols rename it and lead its reports elsewhere', async () => {
    await rule({ what: { kind: 'case-begins' }, where: '' });
    const before = (await loadAlerts(server.services, server.app, {})).alerts.length;
    for (const { version, build } of [
      { version: '4.3.0', build: '430' },
      { version: '4.3.1', build: '431' },
    ])
      await server.send(`/intake/v1/file?version=${version}&build=${build}`, guideFile(`${version}/crashes/night-map.txt`) as BodyInit);
    await server.settled();
    await told();
    const begun = async () => (await loadAlerts(server.services, server.app, {})).alerts.length - before;
    expect(await begun()).toBe(2);
    for (const { version, build } of [
      { version: '4.3.0', build: '430' },
      { version: '4.3.1', build: '431' },
    ])
      await server.uploadSymbols(guideFile(`${version}/mapping.txt`), { version, build });
    await server.settled();
    await told();
    expect(await begun()).toBe(2);
    // Both lead to the one case that is left.
    const [one, other] = (await loadAlerts(server.services, server.app, {})).alerts;
    expect(one?.path).toBe(other?.path);
    expect(one?.headline).toContain('NightMap.tileFor');
  });

  it('is not told when somebody takes reports out of it', async () => {
    const name = fresh();
    const of = (message: string) => ({
      ...crash(name),
      exceptions: [
        {
          type: `com.larkfield.${name}Problem`,
          message,
          stack: `com.larkfield.${name}Problem: ${message}\n\tat com.larkfield.guide.${name}.sit(${name}.java:12)`,
        },
      ],
    });
    const [first, second] = [of('the perch is wet'), of('a lid does not close')];
    await send(first, second);
    await rule({ what: { kind: 'case-begins' } });
    await rule({ what: { kind: 'case-returns' } });
    await split(server.services, server.app, { ref: await refOf(name), actor: ines, reports: [second.id] });
    await told();
    expect(received(name)).toEqual([]);
  });

  it('is told when its mute has run out', async () => {
    await rule({ what: { kind: 'case-returns' } });
    const name = fresh();
    await send(crash(name));
    await act(name, { action: 'mute', mute: { until: 'reports', more: 2 } });
    await send(crash(name));
    await told();
    expect(received(name)).toEqual([]);
    await send(crash(name));
    await told();
    expect(received(name)).toHaveLength(1);
  });
});

describe('reports of a few', () => {
  it('are told every one, gathered where they come fast', async () => {
    const { id } = await rule({ what: { kind: 'report' }, where: 'kind=crash,error&filter=flags.beta%20%3D%20%22on%22' });
    const name = fresh();
    const ofBeta = () => crash(name, { flags: { beta: 'on' } });
    await send(ofBeta(), crash(name), ofBeta());
    await told();
    await send(ofBeta());
    await told();
    expect((await loadAlerts(server.services, server.app, { rule: id })).alerts).toHaveLength(3);
    expect(received(name).length).toBeGreaterThanOrEqual(2);
  });

  it('are counted, and the bound is told once', async () => {
    await send(...Array.from({ length: 6 }, () => crash(fresh(), { version: '7.7.7' })));
    const { id } = await rule({
      what: { kind: 'count', of: 'people', atLeast: 5, days: 1 },
      where: 'kind=crash&version=7.7.7',
    });
    const alerts = () => loadAlerts(server.services, server.app, { rule: id });
    await expect.poll(async () => (await alerts()).alerts.length).toBe(1);
    await told();
    expect(standIns.list().at(-1)?.subject).toBe('[Guide] 6 people since yesterday: crashes');
    await server.database('alert_rules').where({ id }).update({ next_look_at: new Date() });
    await expect
      .poll(async () => (await server.database('alert_rules').where({ id }).first('next_look_at')).next_look_at > new Date())
      .toBe(true);
    expect((await alerts()).alerts).toHaveLength(1);
  });
});

describe('whom it tells', () => {
  it('people by mail, in one thread a case, with a way out of it', async () => {
    await rule({ what: { kind: 'case-begins' }, whom: { people: [tom], channels: [] } });
    const name = fresh();
    await send(crash(name));
    await told();
    const [mail] = received(name);
    expect(mail).toMatchObject({ way: 'mail', to: tom });
    expect(mail?.html).toContain('Mute for a day');
    expect(mail?.text).toContain('/account#alerts');
    expect(mail?.remark).toMatch(/^in the thread <lg-\d+@larkfield\.example>$/);
    expect(received(name)).toHaveLength(1);
  });

  it('no more once one press of a mail program has stopped it, which nobody else can', async () => {
    await rule({ what: { kind: 'case-begins' }, whom: { people: [tom], channels: [] } });
    const name = fresh();
    await send(crash(name));
    await told();
    const stopsAt = received(name)[0]?.stopsAt as string;
    const press = (address: string, method = 'POST') =>
      fetch(address, { method, redirect: 'manual', ...(method === 'POST' ? { body: 'List-Unsubscribe=One-Click' } : {}) });
    const wants = async () => (await server.database('accounts').where({ email: tom }).first('wants_mail')).wants_mail;
    // A program that only looks at the address, and somebody who makes one up, stop nothing.
    expect((await press(stopsAt, 'GET')).status).toBe(303);
    expect((await press(`${stopsAt.slice(0, -4)}AAAA`)).status).toBe(404);
    expect(await wants()).toBe(1);
    expect((await press(stopsAt)).status).toBe(200);
    expect(await wants()).toBe(0);
    const next = fresh();
    await send(crash(next));
    await told();
    expect(received(next)).toEqual([]);
    await server.database('accounts').where({ email: tom }).update({ wants_mail: true });
  });

  it('whoever looks after a case, and everybody where nobody does', async () => {
    await rule({ what: { kind: 'report' }, whom: { people: 'looking-after', channels: [] } });
    const name = fresh();
    await send(crash(name));
    await told();
    expect(new Set(received(name).map((one) => one.to))).toEqual(new Set([ines, tom]));
    await act(name, { action: 'assign', assignee: tom });
    const before = received(name).length;
    await send(crash(name));
    await told();
    expect(
      received(name)
        .slice(before)
        .map((one) => one.to),
    ).toEqual([tom]);
  });

  const secrets = {
    room: () => `${standIns.address}/rooms/birds`,
    matrix: () => receiverSecrets.matrix as string,
    'text-message': () => receiverSecrets.textMessage as string,
    mail: () => undefined,
  } satisfies Record<string, () => string | undefined>;
  it.each([
    ['room', { body: '{"text": "{{text}}"}' }],
    ['matrix', {}],
    ['text-message', { to: ['+4791234567'] }],
    ['mail', { to: ['team@larkfield.example'] }],
  ] as const)('by %s', async (kind, settings) => {
    const where =
      kind === 'matrix'
        ? { homeServer: standIns.address, room: '!birds:larkfield.example' }
        : kind === 'text-message'
          ? { gateway: `${standIns.address}/text-messages` }
          : {};
    const { id } = await channel(kind, { ...settings, ...where }, secrets[kind]());
    await rule({ what: { kind: 'case-begins' }, whom: { people: 'nobody', channels: [id] } });
    const name = fresh();
    await send(crash(name));
    await told();
    expect(received(name)).toMatchObject([{ way: kind }]);
  });
});

describe('a channel that is away', () => {
  it('is told later, once, and the page says so meanwhile', async () => {
    await rule({ what: { kind: 'case-begins' } });
    standIns.setAway(true);
    const name = fresh();
    await send(crash(name));
    const waiting = async () => (await loadMessages(server.services, server.app)).find((one) => one.subject.includes(name));
    await expect.poll(async () => (await waiting())?.attempts ?? 0).toBeGreaterThan(0);
    await expect.poll(async () => (await rules()).channels.find((one) => one.id === hook)?.failingSince).not.toBeNull();
    expect((await rules()).channels.find((one) => one.id === hook)?.problem).toContain('503');
    standIns.setAway(false);
    await server.database('messages').where({ state: 'waiting' }).update({ run_after: new Date() });
    await told();
    expect(received(name)).toHaveLength(1);
    expect((await rules()).channels.find((one) => one.id === hook)?.problem).toBeNull();
  });

  it('may not lead into the network of the server, whatever its name says', async () => {
    const { id } = await makeChannel(
      server.services,
      server.app,
      {
        name: 'inside',
        kind: 'webhook',
        settings: { address: `${standIns.address.replace('127.0.0.1', 'localhost')}/webhook` },
        mayReachPrivate: false,
      },
      { by: ines, role: 'developer' },
    );
    await rule({ what: { kind: 'case-begins' }, whom: { people: 'nobody', channels: [id] } });
    const name = fresh();
    await send(crash(name));
    const message = async () => (await loadMessages(server.services, server.app)).find((one) => one.subject.includes(name));
    await expect.poll(async () => (await message())?.answer ?? '').toContain('leads into the network of this server');
    expect(received(name)).toEqual([]);
    await expect(
      makeChannel(
        server.services,
        server.app,
        { name: 'x', kind: 'webhook', settings: { address: 'https://a.example' }, mayReachPrivate: true },
        { by: tom, role: 'developer' },
      ),
    ).rejects.toMatchObject({ code: 'not-allowed' });
    await server.database('messages').where({ state: 'waiting' }).delete();
  });

  it('is changed by an owner alone where it leads inside, and its secret goes nowhere else than where it led', async () => {
    const inside = { name: 'hook', kind: 'webhook' as const, settings: { address: `${standIns.address}/elsewhere` } };
    const change = (given: object, role: 'owner' | 'developer', id = hook) =>
      alterChannel(server.services, server.app, { id, given: channelSchema.parse(given), role });
    await expect(change({ ...inside, mayReachPrivate: true }, 'developer')).rejects.toMatchObject({ code: 'not-allowed' });
    const token = await channel('matrix', { homeServer: standIns.address, room: '!birds:larkfield.example' }, receiverSecrets.matrix);
    const moved = { name: 'moved', kind: 'matrix', settings: { homeServer: 'https://evil.example', room: '!birds:larkfield.example' } };
    await expect(change(moved, 'developer', token.id)).rejects.toMatchObject({ message: expect.stringContaining('secret:') });
    const renamed = { ...moved, name: 'renamed', settings: { homeServer: standIns.address, room: '!birds:larkfield.example' } };
    expect(await change({ ...renamed, mayReachPrivate: true }, 'owner', token.id)).toEqual({ id: token.id, secret: null });
  });
});

it('a paused rule silences no other that asks the same', async () => {
  await send(...Array.from({ length: 3 }, () => crash(fresh(), { version: '8.8.8' })));
  const of = { what: { kind: 'count', of: 'people', atLeast: 3, days: 1 } as const, where: 'kind=crash&version=8.8.8' };
  await rule({ ...of, paused: true });
  const { id } = await rule(of);
  await server.database('alert_rules').update({ next_look_at: new Date() });
  await expect.poll(async () => (await loadAlerts(server.services, server.app, { rule: id })).alerts.length).toBe(1);
});

it('is tried on history before it is kept', async () => {
  const tried = await tryRule(
    server.services,
    server.app,
    {
      what: { kind: 'case-begins' },
      where: 'kind=crash',
      whom: { people: 'everybody', channels: [] },
      pace: { when: 'daily', everyMinutes: 15, workingDays: false },
      until: null,
      paused: false,
    },
    new Date(),
  );
  const cases = Number((await server.database('cases').whereNull('merged_into').count({ n: '*' }))[0]?.n);
  expect(tried).toMatchObject({ days: 30, alerts: cases, messages: 1, problem: null });
  expect(tried.newest[0]?.headline).toMatch(/^LG-\d+ /);
});
