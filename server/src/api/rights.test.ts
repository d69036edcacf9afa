import { createAccount, findAccountByEmail } from '@rough-ember/store/accounts';
import { createApp } from '@rough-ember/store/apps';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { issueToken } from '../accounts/issue-credentials.ts';
import { startSignIn } from '../accounts/sign-in.ts';
import type { Right } from '../operation/operation.ts';
import { startTestServer, type TestServer } from '../testing/test-server.ts';
import { operations } from './registry.ts';
import { answerApi } from './router.ts';
import { Visit } from './visit.ts';

const visitors = [
  'nobody',
  'viewer',
  'developer',
  'owner',
  'developer of another app',
  'read token',
  'write token',
  'upload token',
  'write token of another app',
] as const;
type Visitor = (typeof visitors)[number];

/** Who may do what, written down once more: who is not named is refused. */
const admitted: Readonly<Record<Right, readonly Visitor[]>> = {
  anybody: visitors,
  person: ['viewer', 'developer', 'owner', 'developer of another app'],
  read: ['viewer', 'developer', 'owner', 'developer of another app', 'read token', 'write token', 'write token of another app'],
  upload: [
    'viewer',
    'developer',
    'owner',
    'developer of another app',
    'read token',
    'write token',
    'upload token',
    'write token of another app',
  ],
  change: ['developer', 'owner', 'developer of another app', 'write token', 'write token of another app'],
  developer: ['developer', 'owner', 'developer of another app'],
  owner: ['owner'],
};

/** What whoever may only look may ask for by something else than GET: it changes nothing, or only what is theirs. */
const harmless = [
  'POST /sign-in',
  'POST /sign-out',
  'POST /join',
  'PUT /account/desk-columns',
  'PUT /account/zone',
  'POST /account/password',
  'POST /account/told/read',
  'PUT /account/alerts',
  'POST /apps/{app}/alert-rules/try',
  'POST /apps/{app}/alert-sample',
  'DELETE /account/sign-ins',
  'POST /apps/{app}/case-of-key',
  'POST /apps/{app}/retention/preview',
  'POST /apps/{app}/scrub-preview',
  'POST /apps/{app}/scrub-trial',
  'POST /apps/{app}/looks',
  'PUT /apps/{app}/cases/{ref}/follow',
];

let server: TestServer;
const headersOf = new Map<Visitor, () => Promise<Record<string, string>>>();

beforeAll(async () => {
  server = await startTestServer();
  const { database } = server;
  const other = await createApp(database, { slug: 'other', name: 'Other', prefix: 'OT', platforms: ['iOS'], ourPackages: [] });
  const otherId = other?.id as number;
  const person = async (visitor: Visitor, role: 'viewer' | 'developer' | 'owner', appIds: number[] | null) => {
    const email = `${headersOf.size}@larkfield.example`;
    await createAccount(database, { email, name: visitor, role, appIds, passwordHash: '' });
    const account = await findAccountByEmail(database, email);
    // Some operations end sign-ins, so each request has one of its own.
    headersOf.set(visitor, async () => ({ cookie: `ember_sign_in=${await startSignIn(database, account?.id as number)}` }));
  };
  const token = async (visitor: Visitor, appId: number, scope: 'read' | 'write' | 'upload') => {
    const secret = await issueToken(database, { appId, name: visitor, scope });
    headersOf.set(visitor, async () => ({ authorization: `Bearer ${secret}` }));
  };
  headersOf.set('nobody', async () => ({}));
  await person('viewer', 'viewer', null);
  await person('developer', 'developer', null);
  await person('owner', 'owner', null);
  await person('developer of another app', 'developer', [otherId]);
  await token('read token', server.app.id, 'read');
  await token('write token', server.app.id, 'write');
  await token('upload token', server.app.id, 'upload');
  await token('write token of another app', otherId, 'write');
});
afterAll(() => server.stop());

async function ask(key: string, visitor: Visitor, slug = 'guide'): Promise<{ status: number; text: string }> {
  const [method, path] = key.split(' ') as [string, string];
  const address = path
    .replace('{app}', slug)
    .replace('{version}', '1.0')
    .replace(/\{\w+\}/, '99999');
  const headers = { origin: server.address, host: new URL(server.address).host, ...(await headersOf.get(visitor)?.()) };
  const request = new Request(`${server.address}/api/v1${address}`, { method, headers, ...(method === 'GET' ? {} : { body: '{}' }) });
  const visit = new Visit(server.services, request, { requestId: 'test', remoteAddress: '127.0.0.1' });
  const answer = await answerApi(visit, request);
  if (answer.headers.get('content-type')?.startsWith('text/event-stream')) {
    await answer.body?.cancel();
    return { status: answer.status, text: '' };
  }
  return { status: answer.status, text: await answer.text() };
}

describe('who may do what', () => {
  it.each(operations.map(({ key, right }) => [key, right] as const))('%s takes the right %s', async (key, right) => {
    for (const visitor of visitors) {
      const { status, text } = await ask(key, visitor);
      const isRefused = status === 401 || (status === 403 && text.includes('not-allowed'));
      const seesApp = !key.includes('{app}') || !visitor.endsWith('another app');
      if (!admitted[right].includes(visitor)) expect([visitor, status]).toEqual([visitor, visitor === 'nobody' ? 401 : 403]);
      else if (seesApp) expect([visitor, isRefused, status < 500]).toEqual([visitor, false, true]);
      else {
        // Whoever does not see an app learns nothing of whether there is one.
        const missing = await ask(key, visitor, 'nowhere');
        expect([visitor, status, text]).toEqual([visitor, missing.status, missing.text.replaceAll('nowhere', 'guide')]);
        expect(status).toBe(visitor.includes('token') ? 403 : 404);
      }
    }
  });

  it('whatever changes something takes more than the right to look', () => {
    const changing = operations.filter(({ key, right }) => !key.startsWith('GET') && !['change', 'developer', 'owner'].includes(right));
    expect(changing.map(({ key }) => key).sort()).toEqual([...harmless].sort());
  });

  it('a method that no operation has, and an address without one, are told apart for whoever is somebody', async () => {
    expect((await ask('PUT /apps/{app}/cases', 'viewer')).status).toBe(405);
    expect((await ask('GET /apps/{app}/nothing', 'viewer')).status).toBe(404);
    expect((await ask('GET /apps/{app}/nothing', 'nobody')).status).toBe(401);
  });

  it('a write from a page of another server is refused, whoever makes it', async () => {
    const headers = { origin: 'https://elsewhere.example', host: 'ember.example', ...(await headersOf.get('owner')?.()) };
    const request = new Request(`${server.address}/api/v1/sign-out`, { method: 'POST', headers });
    const visit = new Visit(server.services, request, { requestId: 'test', remoteAddress: '127.0.0.1' });
    expect((await answerApi(visit, request)).status).toBe(403);
  });
});
