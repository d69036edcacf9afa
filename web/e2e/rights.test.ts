import { createHash } from 'node:crypto';
import { readdirSync } from 'node:fs';
import { operations } from '@rough-ember/server/api/registry';
import { describe, expect, it } from 'vitest';
import { ownerCookie, signInAsOwner } from './testing/owner.ts';
import { server } from './testing/server.ts';

const pagesFolder = new URL('../src/pages/', import.meta.url);

const filledIn: Readonly<Record<string, string>> = { app: 'larkfield-guide', ref: 'LG-1', name: 'screen', version: '4.3.0' };
/** An address of what stands for its parameters in brackets or braces. */
const fillIn = (route: string) => route.replace(/[[{](\w+)[\]}]/g, (_, name: string) => filledIn[name] ?? '1');

/** Every page of the build, and every operation that takes somebody; what carries its own secret is tried by itself. */
const pages = readdirSync(pagesFolder, { recursive: true, encoding: 'utf8' })
  .filter((name) => name.endsWith('.astro') && !name.includes('[secret]'))
  .map((name) => `/${fillIn(name.replace(/\.astro$/, '').replace(/(^|\/)index$/, ''))}`);
const guarded = operations.filter(({ right }) => right !== 'anybody').map(({ key }) => fillIn(`/api/v1${key.split(' ')[1]}`));
const routes = [...new Set([...pages, ...guarded])];
const open = new Set(['/sign-in', '/404', '/join']);
const ask = (path: string, init: RequestInit = {}) => fetch(server.address + path, { redirect: 'manual', ...init });

describe('without signing in', () => {
  it('knows the routes', () => expect(routes.length).toBeGreaterThan(80));

  it.each(routes.filter((route) => !open.has(route)))('%s answers nobody', async (route) => {
    for (const method of ['GET', 'POST', 'PUT', 'DELETE'] as const) {
      const answer = await ask(route, { method, headers: { origin: server.address } });
      if (route.startsWith('/api/')) expect(answer.status).toBe(401);
      else expect([answer.status, answer.headers.get('location')]).toEqual([302, expect.stringContaining('/sign-in')]);
    }
  });

  it.each([
    ['/intake/v1/batch', 401],
    ['/intake/v1/file?version=1&build=1', 401],
    ['/v1/logs', 401],
    ['/api/v1/apps/larkfield-guide/symbol-files?version=1&build=1', 401],
    ['/api/v1/apps/larkfield-guide/import', 401],
    ['/api/v1/apps/nowhere/import', 401],
  ])('%s takes nothing from nobody', async (path, status) => {
    const post = (headers: Record<string, string>) =>
      ask(path, { method: 'POST', headers: { origin: server.address, 'content-type': 'application/json', ...headers }, body: '{}' });
    expect((await post({})).status).toBe(status);
    expect((await post({ authorization: 'Bearer made_up' })).status).toBe(status);
    // A key only sends to intake, a token only to the API: neither opens the other's door.
    const wrongKind = path.startsWith('/api/') ? server.intakeKey : server.uploadToken;
    expect((await post({ authorization: `Bearer ${wrongKind}` })).status).toBe(status);
  });

  it.each([
    ['more than a body may hold, of no length that was told', 'x'.repeat(100_000), 413, 'too-large'],
    ['no JSON', '{"email":', 400, 'bad-request'],
    ['no body', '', 400, 'bad-request'],
    ['what was not asked for', '{"email":1}', 400, 'bad-request'],
  ])('a body with %s is refused, and why', async (_, body, status, code) => {
    const stream = new ReadableStream({
      start(controller) {
        for (let at = 0; at < body.length; at += 10_000) controller.enqueue(new TextEncoder().encode(body.slice(at, at + 10_000)));
        controller.close();
      },
    });
    const answer = await ask('/api/v1/sign-in', {
      method: 'POST',
      headers: { origin: server.address, 'content-type': 'application/json' },
      ...{ body: stream, duplex: 'half' },
    });
    expect([answer.status, (await answer.json()).error.code]).toEqual([status, code]);
  });

  it.each(['/wall', '/api/v1/wall'])('%s shows nothing to whoever has no link', async (path) => {
    for (const secret of ['made_up', 'x'.repeat(300), '1'])
      for (const method of ['GET', 'POST', 'DELETE'] as const)
        expect((await ask(`${path}/${secret}`, { method, headers: { origin: server.address } })).status).toBe(
          path.startsWith('/api') && method !== 'GET' ? 405 : 404,
        );
  });
});

describe('signed in', () => {
  it('a write from a page of another server is refused', async () => {
    const cookie = await signInAsOwner();
    const make = (headers: Record<string, string>) =>
      ask('/api/v1/apps/larkfield-guide/intake-keys', {
        method: 'POST',
        headers: { cookie, 'content-type': 'application/json', ...headers },
        body: '{"name":"x"}',
      });
    expect((await make({ origin: 'https://elsewhere.example' })).status).toBe(403);
    expect((await make({})).status).toBe(403);
    const upload = await ask('/api/v1/apps/larkfield-guide/symbol-files?version=1&build=1', {
      method: 'POST',
      headers: { cookie, origin: 'https://elsewhere.example' },
      body: 'a.B -> c:\n',
    });
    expect(upload.status).toBe(403);
  });

  it('a wrong sign-in says so on the page, and keeps the address', async () => {
    const answer = await ask('/sign-in?next=/apps/larkfield-guide/symbols', {
      method: 'POST',
      headers: { origin: server.address, 'content-type': 'application/x-www-form-urlencoded' },
      body: new URLSearchParams({ email: 'someone@larkfield.example', password: 'wrong' }),
    });
    const page = await answer.text();
    expect(answer.status).toBe(401);
    expect(page).toContain('do not belong together');
    expect(page).toContain('value="someone@larkfield.example"');
  });

  it.each(['text/plain', 'application/json', 'multipart/form-data'])('a sign-in of type %s is refused, not a failure', async (type) => {
    const answer = await ask('/sign-in', { method: 'POST', headers: { origin: server.address, 'content-type': type }, body: 'x' });
    expect(answer.status).toBe(401);
  });

  it('the form of another site signs nobody in', async () => {
    const answer = await ask('/sign-in', {
      method: 'POST',
      headers: { origin: 'https://elsewhere.example', 'content-type': 'application/x-www-form-urlencoded' },
      body: new URLSearchParams({ email: server.email, password: server.password }),
    });
    expect([answer.status, answer.headers.get('set-cookie')]).toEqual([403, null]);
  });

  it('the cookie cannot be read by scripts', async () => {
    const answer = await ask('/api/v1/sign-in', {
      method: 'POST',
      headers: { 'content-type': 'application/json', origin: server.address },
      body: JSON.stringify({ email: server.email, password: server.password }),
    });
    expect(answer.headers.get('set-cookie')).toMatch(/HttpOnly.*SameSite=Lax|SameSite=Lax.*HttpOnly/);
  });

  it('a sign-in leads only to pages of this server', async () => {
    const cookie = await signInAsOwner();
    for (const next of ['//elsewhere.example', 'https://elsewhere.example', '/\\elsewhere.example']) {
      const answer = await ask(`/sign-in?next=${encodeURIComponent(next)}`, { headers: { cookie } });
      expect(answer.headers.get('location')).toBe('/');
    }
  });

  it.each([
    ['/api/v1/apps/nowhere/cases', 404],
    ['/api/v1/apps/larkfield-guide/cases/LG-99999', 404],
    ['/api/v1/apps/larkfield-guide/cases/nonsense', 404],
    ['/api/v1/apps/larkfield-guide/cases?last=soon', 400],
    ['/api/v1/apps/larkfield-guide/cases?kind=boom', 400],
    ['/api/v1/apps/larkfield-guide/cases?cases=old', 400],
    ['/api/v1/apps/larkfield-guide/cases?order=loudest', 400],
    ['/api/v1/apps/larkfield-guide/cases/LG-1?report=minus', 400],
    ['/api/v1/apps/larkfield-guide/symbol-files/99999', 404],
    ['/apps/larkfield-guide/cases?last=soon', 400],
    ['/apps/larkfield-guide/cases/LG-99999', 404],
    ['/nowhere', 404],
  ])('%s is answered with %i and a reason', async (path, status) => {
    const answer = await ask(path, { headers: { cookie: await ownerCookie() } });
    expect(answer.status).toBe(status);
    if (path.startsWith('/api/'))
      expect((await answer.json()).error).toMatchObject({ message: expect.any(String), remedy: expect.any(String) });
  });

  it('pages run no script they did not come with, and say so', async () => {
    const answer = await ask('/apps/larkfield-guide/cases', { headers: { cookie: await ownerCookie() } });
    const policy = answer.headers.get('content-security-policy');
    expect(policy).toContain("script-src 'self' 'sha256-");
    expect(policy).not.toMatch(/script-src[^;]*unsafe/);
    expect(answer.headers.get('x-content-type-options')).toBe('nosniff');
  });
});

describe('people and their roles', () => {
  const api = async (path: string, { cookie = '', method = 'GET', body }: { cookie?: string; method?: string; body?: object }) => {
    const answer = await ask(path, {
      method,
      headers: { cookie, origin: server.address, ...(body ? { 'content-type': 'application/json' } : {}) },
      ...(body ? { body: JSON.stringify(body) } : {}),
    });
    return {
      status: answer.status,
      cookie: (answer.headers.get('set-cookie') ?? '').split(';')[0] as string,
      body: await answer.json().catch(() => null),
    };
  };
  const cookieOf = async (email: string, password: string) =>
    (await api('/api/v1/sign-in', { method: 'POST', body: { email, password } })).cookie;

  /** Invites somebody and joins as them by the link. */
  async function join(email: string, role: string): Promise<string> {
    const { body } = await api('/api/v1/people', { cookie: await ownerCookie(), method: 'POST', body: { email, role } });
    const answer = await fetch(body.link, {
      method: 'POST',
      redirect: 'manual',
      headers: { origin: server.address, 'content-type': 'application/x-www-form-urlencoded' },
      body: new URLSearchParams({ name: email.split('@')[0] as string, password: 'a long enough secret' }),
    });
    expect(answer.status).toBe(303);
    expect((await fetch(body.link)).status).toBe(410);
    return (answer.headers.get('set-cookie') as string).split(';')[0] as string;
  }

  it('whoever sees some apps cannot tell the others from those that do not exist, by any route', async () => {
    const { body } = await api('/api/v1/people', {
      cookie: await ownerCookie(),
      method: 'POST',
      body: { email: 'lena@larkfield.example', role: 'developer', apps: ['trails'] },
    });
    const joined = await fetch(body.link, {
      method: 'POST',
      redirect: 'manual',
      headers: { origin: server.address, 'content-type': 'application/x-www-form-urlencoded' },
      body: new URLSearchParams({ name: 'Lena', password: 'a long enough secret' }),
    });
    const cookie = (joined.headers.get('set-cookie') as string).split(';')[0] as string;
    const home = await ask('/', { headers: { cookie } });
    expect(home.headers.get('location')).toBe('/apps/trails/cases');
    expect((await api('/api/v1/apps/trails/cases', { cookie })).status).toBe(200);
    const page = await (await ask('/apps/trails/now', { headers: { cookie } })).text();
    expect(page).not.toContain('Larkfield Guide');
    const ofApp = [...routes.filter((route) => route.includes('larkfield-guide')), '/api/v1/apps/larkfield-guide/import'];
    for (const route of ofApp)
      for (const method of ['GET', 'POST', 'PUT', 'DELETE'] as const) {
        const answers = ['larkfield-guide', 'nowhere-at-all'].map(async (slug) => {
          const answer = await ask(route.replace('larkfield-guide', slug), {
            method,
            headers: { cookie, origin: server.address, 'content-type': 'application/json' },
            ...(method === 'GET' ? {} : { body: '{}' }),
          });
          return `${answer.status} ${(await answer.text()).replaceAll(slug, 'it').replace(/"requestId":"[^"]*"/, '')}`;
        });
        const [hidden, missing] = await Promise.all(answers);
        expect([method, route, hidden]).toEqual([method, route, missing]);
        expect(hidden).toMatch(/^4/);
      }
  });

  it('every page comes with one policy, which knows each inline script of it', async () => {
    const cookie = await ownerCookie();
    const policies = new Set<string>();
    for (const page of pages) {
      const answer = await ask(page, { headers: { cookie } });
      if (!answer.headers.get('content-type')?.startsWith('text/html')) continue;
      const html = await answer.text();
      // What cannot be shown is told by a page without any script.
      if (!html.includes('<script')) continue;
      const policy = answer.headers.get('content-security-policy') ?? '';
      policies.add(policy);
      for (const [, script] of html.matchAll(/<script(?![^>]*\ssrc=)[^>]*>([\s\S]*?)<\/script>/g))
        expect(policy, page).toContain(
          createHash('sha256')
            .update(script as string)
            .digest('base64'),
        );
    }
    expect(policies.size).toBe(1);
    expect([...policies][0]).not.toContain("script-src 'self' 'unsafe-inline'");
  });

  it('a viewer reads and changes nothing; a developer changes, but makes no apps and sees no people', async () => {
    const viewer = await join('wren@larkfield.example', 'viewer');
    const developer = await join('finch@larkfield.example', 'developer');
    const writes: [string, string, object?][] = [
      ['POST', '/api/v1/apps/larkfield-guide/intake-keys', { name: 'x' }],
      ['PUT', '/api/v1/apps/larkfield-guide/intake-keys/999', { name: 'x', rules: {} }],
      ['DELETE', '/api/v1/apps/larkfield-guide/intake-keys/999'],
      ['POST', '/api/v1/apps/larkfield-guide/tokens', { name: 'x', scope: 'read' }],
      ['DELETE', '/api/v1/apps/larkfield-guide/tokens/999'],
      ['PUT', '/api/v1/apps/larkfield-guide/scrub-rules', {}],
    ];
    expect((await api('/api/v1/apps/larkfield-guide/cases', { cookie: viewer })).status).toBe(200);
    for (const [method, path, body] of writes) {
      const refused = await api(path, { cookie: viewer, method, ...(body ? { body } : {}) });
      expect([method, path, refused.status]).toEqual([method, path, 403]);
      const allowed = await api(path, { cookie: developer, method, ...(body ? { body } : {}) });
      expect([method, path, [200, 201, 404].includes(allowed.status)]).toEqual([method, path, true]);
    }
    for (const cookie of [viewer, developer])
      for (const [method, path] of [
        ['GET', '/api/v1/people'],
        ['POST', '/api/v1/people'],
        ['POST', '/api/v1/apps'],
        ['PUT', '/api/v1/people/1'],
        ['DELETE', '/api/v1/people/1'],
        ['DELETE', '/api/v1/invitations/1'],
      ] as const)
        expect([
          path,
          (await api(path, { cookie, method, ...(method === 'GET' || method === 'DELETE' ? {} : { body: {} }) })).status,
        ]).toEqual([path, 403]);
    const page = await ask('/people', { headers: { cookie: viewer } });
    expect(page.status).toBe(403);
  });

  it('whoever changes the password stays signed in here and nowhere else; signing out everywhere ends this too', async () => {
    const first = await join('tern@larkfield.example', 'viewer');
    const second = await cookieOf('tern@larkfield.example', 'a long enough secret');
    const change = (password: string) =>
      api('/api/v1/account/password', { cookie: first, method: 'POST', body: { password, newPassword: 'another long secret' } });
    expect((await change('wrong')).status).toBe(403);
    expect((await change('a long enough secret')).status).toBe(200);
    expect((await api('/api/v1/apps/larkfield-guide/cases', { cookie: second })).status).toBe(401);
    expect((await api('/api/v1/apps/larkfield-guide/cases', { cookie: first })).status).toBe(200);
    expect((await api('/api/v1/account/sign-ins', { cookie: first, method: 'DELETE' })).body).toEqual({ ended: 1 });
    expect((await api('/api/v1/apps/larkfield-guide/cases', { cookie: first })).status).toBe(401);
  });

  it('the last owner stays', async () => {
    const people = await api('/api/v1/people', { cookie: await ownerCookie() });
    const owner = people.body.accounts.find((one: { role: string }) => one.role === 'owner');
    const change = await api(`/api/v1/people/${owner.id}`, { cookie: await ownerCookie(), method: 'PUT', body: { role: 'viewer' } });
    expect([change.status, change.body.error.code]).toEqual([409, 'last-owner']);
  });

  it('guessing is slowed down for one address', async () => {
    const attempts = [];
    for (let attempt = 0; attempt < 12; attempt++)
      attempts.push(
        (await api('/api/v1/sign-in', { method: 'POST', body: { email: 'gull@larkfield.example', password: `guess ${attempt}` } })).status,
      );
    expect(attempts.slice(0, 5)).toEqual([401, 401, 401, 401, 401]);
    expect(attempts.at(-1)).toBe(429);
  });

  it('a token reads or writes as its scope says, in its app alone', async () => {
    const make = async (scope: string) =>
      (await api('/api/v1/apps/larkfield-guide/tokens', { cookie: await ownerCookie(), method: 'POST', body: { name: scope, scope } })).body
        .token as string;
    const read = await make('read');
    const write = await make('write');
    const scrub = (token: string, method: string) =>
      ask('/api/v1/apps/larkfield-guide/scrub-rules', {
        method,
        headers: { authorization: `Bearer ${token}`, 'content-type': 'application/json' },
        ...(method === 'PUT' ? { body: '{}' } : {}),
      });
    expect((await scrub(read, 'GET')).status).toBe(200);
    expect((await scrub(read, 'PUT')).status).toBe(403);
    expect((await scrub(write, 'PUT')).status).toBe(200);
    const answers = await Promise.all(
      ['/api/v1/apps/larkfield-guide/cases', '/api/v1/people', '/api/v1/apps/nowhere/cases'].map((path) =>
        ask(path, { headers: { authorization: `Bearer ${write}` } }),
      ),
    );
    expect(answers.map((answer) => answer.status)).toEqual([200, 403, 403]);
    expect((await ask('/api/v1/apps/larkfield-guide/cases', { headers: { authorization: 'Bearer read_made-up' } })).status).toBe(401);
  });
});
