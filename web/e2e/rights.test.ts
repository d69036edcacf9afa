import { readdirSync } from 'node:fs';
import { describe, expect, inject, it } from 'vitest';

const server = inject('server');
const pagesFolder = new URL('../src/pages/', import.meta.url);

/** Every route of the build, with its parameters filled in. */
const routes = readdirSync(pagesFolder, { recursive: true, encoding: 'utf8' })
  .filter((name) => /\.(astro|ts)$/.test(name))
  .map((name) => `/${name.replace(/\.(astro|ts)$/, '').replace(/(^|\/)index$/, '')}`)
  .map((route) => route.replace('[app]', 'larkfield-guide').replace('[ref]', 'LG-1').replace('[id]', '1'));
const open = new Set(['/sign-in', '/404', '/api/v1/sign-in']);
const ask = (path: string, init: RequestInit = {}) => fetch(server.address + path, { redirect: 'manual', ...init });

async function signedIn(): Promise<string> {
  const answer = await ask('/api/v1/sign-in', {
    method: 'POST',
    headers: { 'content-type': 'application/json', origin: server.address },
    body: JSON.stringify({ email: server.email, password: server.password }),
  });
  return (answer.headers.get('set-cookie') as string).split(';')[0] as string;
}

describe('without signing in', () => {
  it('knows the routes', () => expect(routes.length).toBeGreaterThan(14));

  it.each(routes.filter((route) => !open.has(route)))('%s answers nobody', async (route) => {
    for (const method of ['GET', 'POST', 'DELETE'] as const) {
      const answer = await ask(route, { method, headers: { origin: server.address } });
      if (route.startsWith('/api/')) expect(answer.status).toBe(401);
      else expect([answer.status, answer.headers.get('location')]).toEqual([302, expect.stringContaining('/sign-in')]);
    }
  });

  it('a token of uploads reads nothing but its own files', async () => {
    const headers = { authorization: `Bearer ${server.uploadToken}` };
    for (const route of routes.filter((one) => one.startsWith('/api/') && !open.has(one))) {
      const { status } = await ask(route, { headers });
      expect([route, status]).toEqual([
        route,
        route.endsWith('/symbol-files/1') ? 200 : expect.toSatisfy((value: number) => [401, 404, 405].includes(value)),
      ]);
    }
  });
});

describe('signed in', () => {
  it('a write from a page of another server is refused', async () => {
    const cookie = await signedIn();
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
    const cookie = await signedIn();
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
    ['/api/v1/apps/larkfield-guide/cases/LG-1?report=minus', 400],
    ['/api/v1/apps/larkfield-guide/symbol-files/99999', 404],
    ['/apps/larkfield-guide/cases?last=soon', 400],
    ['/apps/larkfield-guide/cases/LG-99999', 404],
    ['/nowhere', 404],
  ])('%s is answered with %i and a reason', async (path, status) => {
    const answer = await ask(path, { headers: { cookie: await cookieOnce() } });
    expect(answer.status).toBe(status);
    if (path.startsWith('/api/'))
      expect((await answer.json()).error).toMatchObject({ message: expect.any(String), remedy: expect.any(String) });
  });

  it('pages run no script they did not come with, and say so', async () => {
    const answer = await ask('/apps/larkfield-guide/cases', { headers: { cookie: await cookieOnce() } });
    const policy = answer.headers.get('content-security-policy');
    expect(policy).toContain("script-src 'self' 'sha256-");
    expect(policy).not.toMatch(/script-src[^;]*unsafe/);
    expect(answer.headers.get('x-content-type-options')).toBe('nosniff');
  });
});

let kept: Promise<string> | undefined;
const cookieOnce = () => {
  kept ??= signedIn();
  return kept;
};
