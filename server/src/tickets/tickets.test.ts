import { randomUUID } from 'node:crypto';
import { trackerSchema } from '@rough-ember/core/tickets/tracker';
import { type StandIns, startStandIns } from '@rough-ember/demo/stand-ins/stand-ins';
import { trackerSecret } from '@rough-ember/demo/stand-ins/tracker';
import { createAccount } from '@rough-ember/store/accounts';
import { findCaseId } from '@rough-ember/store/cases';
import { takeUnasked } from '@rough-ember/store/tickets';
import { Webhook } from 'standardwebhooks';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { merge, runCaseActions } from '../desk/case-actions.ts';
import { startTestServer, type TestServer } from '../testing/test-server.ts';
import { addTicket, askAgain, dropTicket, loadTickets, loadTicketsOfCase } from './ticket-views.ts';
import { changeTracker, dropTracker, loadTracker } from './tracker-settings.ts';

let server: TestServer;
let standIns: StandIns;
let toldSecret = '';
const ines = 'ines@larkfield.example';
const owner = { by: ines, role: 'owner' } as const;

beforeAll(async () => {
  standIns = await startStandIns();
  server = await startTestServer();
});
afterAll(async () => {
  await server.stop();
  await standIns.stop();
});

const settingsOf = (more: object = {}) => {
  const tickets = `${standIns.address}/tracker/tickets`;
  const change = (state: string) => ({ address: `${tickets}/{{number}}/state`, body: JSON.stringify({ state }) });
  return trackerSchema.parse({
    form: `${standIns.address}/tracker/new?title={{title}}&body={{text}}`,
    page: `${standIns.address}/tracker/pages/{{number}}`,
    make: { address: tickets },
    ask: { address: `${tickets}/{{number}}` },
    close: change('closed'),
    open: change('open'),
    ticketFollowsCase: true,
    caseFollowsTicket: true,
    ...more,
  });
};
const setTracker = (more: object = {}, { secret }: { secret?: string | undefined } = { secret: trackerSecret }) =>
  changeTracker(server.services, server.app, { settings: settingsOf(more), secret, mayReachPrivate: true, renewToldSecret: true }, owner);

beforeEach(async () => {
  standIns.setAway(false);
  toldSecret = (await setTracker()).toldSecret as string;
  standIns.tracker.tell({ address: (await loadTracker(server.services, server.app)).toldAddress, secret: toldSecret });
});

let named = 0;
/** A case that nobody has seen before; gives its reference. */
async function freshCase(message = 'the lid is stuck'): Promise<string> {
  const name = `Lid${String.fromCharCode(65 + named++)}`;
  const type = `com.larkfield.${name}Problem`;
  const report = {
    type: 'report',
    id: randomUUID(),
    kind: 'crash',
    occurredAt: new Date().toISOString(),
    version: '4.3.0',
    build: '1',
    exceptions: [{ type, message, stack: `${type}: ${message}\n\tat com.larkfield.guide.${name}.sit(${name}.java:12)` }],
  };
  await server.sendItems([report]);
  const number = () => server.database('cases').where('what', `${name}Problem`).first('number');
  await expect.poll(number, { timeout: 30_000 }).toBeTruthy();
  return `${server.app.prefix}-${(await number()).number}`;
}
const ticketsOf = async (ref: string) => (await loadTicketsOfCase(server.services, server.app, ref)).tickets;
const settled = (ref: string) =>
  expect.poll(async () => (await ticketsOf(ref)).every(({ work }) => work === null), { timeout: 30_000 }).toBe(true);
const make = async (ref: string) => {
  await addTicket(server.services, server.app, { ref, number: undefined, by: ines });
  await settled(ref);
  return (await ticketsOf(ref)).at(-1);
};
const act = (ref: string, action: object) =>
  runCaseActions(server.services, {
    app: server.app,
    actor: ines,
    request: { cases: [ref], action: action as { action: 'open' } },
    now: new Date(),
  });
const stateOf = async (ref: string) => {
  const id = await findCaseId(server.database, server.app.id, Number(ref.split('-')[1]));
  return server.database('cases').where({ id }).first({ state: 'state', closedIn: 'closed_in' });
};
const booked = (number: string | null | undefined) => standIns.tracker.list().find((one) => one.number === number);

describe('a ticket of a case', () => {
  it('is made with what the case is, once however many ask', async () => {
    const ref = await freshCase('no "lid"\n{{secret}}');
    const asked = await Promise.allSettled(
      [1, 2, 3].map(() => addTicket(server.services, server.app, { ref, number: undefined, by: ines })),
    );
    expect(asked.filter(({ status }) => status === 'fulfilled').length).toBeGreaterThanOrEqual(1);
    await settled(ref);
    const tickets = await ticketsOf(ref);
    expect(tickets).toHaveLength(1);
    const ticket = booked(tickets[0]?.number);
    expect(ticket?.title).toContain(`${ref}: `);
    expect(ticket?.body).toContain('.sit(');
    expect(ticket?.body).not.toContain(trackerSecret);
    expect(tickets[0]).toMatchObject({ page: `${standIns.address}/tracker/pages/${ticket?.number}`, isDone: false, madeBy: ines });
    const { tickets: all } = await loadTickets(server.services, server.app, new Date());
    expect(all.find((one) => one.number === ticket?.number)).toMatchObject({ ref, caseState: 'open' });
  });

  it('waits for a tracker that is away, and is asked for again by whoever does not want to wait', async () => {
    const ref = await freshCase();
    standIns.setAway(true);
    await addTicket(server.services, server.app, { ref, number: undefined, by: ines });
    await expect.poll(async () => (await ticketsOf(ref))[0]?.problem, { timeout: 30_000 }).toContain('503');
    expect((await ticketsOf(ref))[0]).toMatchObject({ number: null, work: 'make' });
    standIns.setAway(false);
    await askAgain(server.services, server.app, (await ticketsOf(ref))[0]?.id as number);
    await settled(ref);
    expect((await ticketsOf(ref))[0]).toMatchObject({ problem: null, number: expect.stringMatching(/^BOX-\d+$/) });
  });

  it('is given up with a reason where the answer names no number, and never made twice by itself', async () => {
    const ref = await freshCase();
    const before = standIns.tracker.list().length;
    await setTracker({ make: { address: `${standIns.address}/tracker/tickets`, number: '/ticket/key' } });
    await addTicket(server.services, server.app, { ref, number: undefined, by: ines });
    await settled(ref);
    expect((await ticketsOf(ref))[0]).toMatchObject({ number: null, work: null, problem: expect.stringContaining('/ticket/key') });
    await setTracker();
    await askAgain(server.services, server.app, (await ticketsOf(ref))[0]?.id as number);
    await settled(ref);
    // The tracker knew by the key that it had made it.
    expect(standIns.tracker.list().length).toBe(before + 1);
    expect((await ticketsOf(ref))[0]?.number).toBe(`BOX-${before + 1}`);
  });

  it('closes with its case and opens with it, and closes it with a note of who did', async () => {
    const ref = await freshCase();
    const ticket = await make(ref);
    await act(ref, { action: 'close', version: '4.3.1' });
    await expect.poll(() => booked(ticket?.number)?.state, { timeout: 30_000 }).toBe('closed');
    await settled(ref);
    await act(ref, { action: 'open' });
    await expect.poll(() => booked(ticket?.number)?.state, { timeout: 30_000 }).toBe('open');
    await settled(ref);
    await standIns.tracker.change(ticket?.number as string, 'closed');
    expect(await stateOf(ref)).toMatchObject({ state: 'closed', closedIn: expect.stringMatching(/^\d+\.\d+\.\d+$/) });
    const id = await findCaseId(server.database, server.app.id, Number(ref.split('-')[1]));
    expect(await server.database('case_events').where({ case_id: id, kind: 'close' }).pluck('actor')).toContain(`ticket ${ticket?.number}`);
    // What it told is no reason to ask it for the same.
    expect((await ticketsOf(ref))[0]).toMatchObject({ isDone: true, work: null, state: 'closed' });
  });

  it('is left alone by what neither closes its case nor opens it', async () => {
    const { toldSecret: secret } = await setTracker({ caseFollowsTicket: false });
    standIns.tracker.tell({ address: (await loadTracker(server.services, server.app)).toldAddress, secret: secret as string });
    const ref = await freshCase();
    const ticket = await make(ref);
    await standIns.tracker.change(ticket?.number as string, 'closed');
    await createAccount(server.database, { email: ines, name: 'Ines', role: 'developer', appIds: null, passwordHash: '' });
    await act(ref, { action: 'assign', assignee: ines });
    await act(ref, { action: 'mute', mute: { until: 'further notice' } });
    expect((await ticketsOf(ref))[0]).toMatchObject({ isDone: true, work: null });
    expect(booked(ticket?.number)?.state).toBe('closed');
  });

  it('is asked for again and again without an end to it', async () => {
    const ref = await freshCase();
    const ticket = await make(ref);
    await server
      .database('tickets')
      .where({ id: ticket?.id })
      .update({ attempts: 65_535, run_after: new Date(0) });
    expect((await takeUnasked(server.database, 500, 600)).map(({ id }) => id)).toContain(ticket?.id);
  });

  it('follows nothing where the app does not say so', async () => {
    await setTracker({ ticketFollowsCase: false, caseFollowsTicket: false });
    standIns.tracker.tell({ address: 'http://127.0.0.1:9/', secret: toldSecret });
    const ref = await freshCase();
    const ticket = await make(ref);
    await act(ref, { action: 'close', version: '4.3.1' });
    expect((await ticketsOf(ref))[0]?.work).toBeNull();
    await act(ref, { action: 'open' });
    await standIns.tracker.change(ticket?.number as string, 'closed').catch(() => {});
    await askAgain(server.services, server.app, ticket?.id as number);
    expect((await ticketsOf(ref))[0]).toMatchObject({ isDone: true, state: 'closed' });
    expect(await stateOf(ref)).toMatchObject({ state: 'open' });
  });

  it('is tied by its number, once, and untied', async () => {
    const [one, other] = [await freshCase(), await freshCase()];
    const ticket = await make(one);
    await addTicket(server.services, server.app, { ref: other, number: ticket?.number as string, by: ines });
    await expect(addTicket(server.services, server.app, { ref: other, number: ticket?.number as string, by: ines })).rejects.toThrow(
      'already',
    );
    // Both of its cases are closed by what becomes of it.
    await standIns.tracker.change(ticket?.number as string, 'closed');
    expect([await stateOf(one), await stateOf(other)].map(({ state }) => state)).toEqual(['closed', 'closed']);
    await dropTicket(server.services, server.app, (await ticketsOf(other))[0]?.id as number);
    expect(await ticketsOf(other)).toEqual([]);
  });

  it('goes along when its case is merged', async () => {
    const [one, into] = [await freshCase(), await freshCase()];
    const ticket = await make(one);
    await merge(server.services, server.app, { actor: ines, into, cases: [one] });
    expect((await ticketsOf(into)).map(({ number }) => number)).toEqual([ticket?.number]);
    await act(into, { action: 'close', version: '4.3.1' });
    await expect.poll(() => booked(ticket?.number)?.state, { timeout: 30_000 }).toBe('closed');
  });

  it('can be written into the form of the tracker, whatever an app sent', async () => {
    const { form, makes } = await loadTicketsOfCase(server.services, server.app, await freshCase('a&b=c#d\n"><script>'));
    expect(makes).toBe(true);
    const { origin, searchParams, hash } = new URL(form as string);
    expect([origin, hash]).toEqual([standIns.address, '']);
    expect([...searchParams.keys()]).toEqual(['title', 'body']);
    expect(searchParams.get('body')).toContain('a&b=c#d');
  });
});

describe('what a tracker tells', () => {
  const told = async (body: string, { secret = toldSecret, at = new Date() } = {}) => {
    const id = randomUUID();
    const answer = await fetch((await loadTracker(server.services, server.app)).toldAddress, {
      method: 'POST',
      headers: {
        'webhook-id': id,
        'webhook-timestamp': String(Math.floor(at.getTime() / 1_000)),
        'webhook-signature': new Webhook(secret).sign(id, at, body),
      },
      body,
    });
    return { status: answer.status, body: (await answer.json()) as { error?: { code: string; message: string }; tickets?: number } };
  };

  it('must be signed, and lately', async () => {
    const body = JSON.stringify({ data: { number: 'BOX-1', state: 'closed' } });
    const other = `whsec_${Buffer.alloc(32, 7).toString('base64')}`;
    expect((await told(body, { secret: other })).body.error?.code).toBe('bad-signature');
    expect((await told(body, { at: new Date(Date.now() - 600_000) })).body.error?.code).toBe('bad-signature');
    const before = toldSecret;
    toldSecret = (await setTracker()).toldSecret as string;
    expect((await told(body, { secret: before })).status).toBe(401);
    expect((await told(body)).status).toBe(200);
  });

  it.each([
    ['no JSON', 'closed', 'no JSON'],
    ['nothing of a ticket', '{"data": {}}', 'no number at /data/number'],
    ['no state', '{"data": {"number": "BOX-1"}}', 'no state at /data/state'],
    ['a state that is none', '{"data": {"number": "BOX-1", "state": {"name": "closed"}}}', 'no state at /data/state'],
  ])('is refused with a reason when it is %s', async (_, body, reason) => {
    const { status, body: answer } = await told(body);
    expect(status).toBe(400);
    expect(answer.error?.message).toContain(reason);
  });

  it('is nothing to this server when no case is tied to it', async () => {
    expect((await told('{"data": {"number": "BOX-4711", "state": "closed"}}')).body).toEqual({ tickets: 0 });
  });

  it('is asked by nobody where no app of the name has a tracker', async () => {
    await dropTracker(server.services, server.app);
    expect((await told('{}')).status).toBe(404);
  });
});

describe('the tracker of an app', () => {
  it('keeps its secret while it leads where it led, and no longer', async () => {
    await setTracker({}, {});
    expect((await loadTracker(server.services, server.app)).hasSecret).toBe(true);
    await setTracker({ make: { address: `${standIns.address}/elsewhere` } }, {});
    expect((await loadTracker(server.services, server.app)).hasSecret).toBe(false);
  });

  it('is set by owners alone where it lies in the network of the server', async () => {
    const given = { settings: settingsOf(), mayReachPrivate: false, renewToldSecret: false };
    await expect(changeTracker(server.services, server.app, given, { by: ines, role: 'developer' })).rejects.toThrow('Only an owner');
    await dropTracker(server.services, server.app);
    const made = { by: ines, role: 'developer' } as const;
    await expect(changeTracker(server.services, server.app, { ...given, mayReachPrivate: true }, made)).rejects.toThrow('Only an owner');
    await changeTracker(server.services, server.app, given, made);
    const ref = await freshCase();
    await addTicket(server.services, server.app, { ref, number: undefined, by: ines });
    await expect.poll(async () => (await ticketsOf(ref))[0]?.problem, { timeout: 30_000 }).toContain('network of this server');
  });

  it('is refused when a body would be no JSON', async () => {
    await expect(setTracker({ make: { address: `${standIns.address}/x`, body: '{"title": {{title}}}' } })).rejects.toThrow('must be JSON');
  });
});
