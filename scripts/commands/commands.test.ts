import { spawn } from 'node:child_process';
import { createHash, randomUUID } from 'node:crypto';
import { mkdtempSync, readdirSync, readFileSync, rmSync, truncateSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { askAsOwner } from '../../web/e2e/testing/owner.ts';
import { server } from '../../web/e2e/testing/server.ts';

/** Runs a command the way it is typed, on a data folder, and gives what it said and its exit code. */
function command(
  name: string,
  folder = server.folder,
  more: readonly string[] = [],
): Promise<{ code: number | null; said: string; complained: string }> {
  return new Promise((resolve) => {
    const child = spawn(process.execPath, ['scripts/run.mjs', name, ...more], { env: { ...process.env, EMBER_DATA_DIR: folder } });
    let said = '';
    let complained = '';
    child.stdout.on('data', (chunk: Buffer) => {
      said += chunk;
    });
    child.stderr.on('data', (chunk: Buffer) => {
      complained += chunk;
    });
    child.once('exit', (code) => resolve({ code, said, complained }));
  });
}

describe('rebuild-sessions', () => {
  it('sums every session anew beside the server that is running, and no figure is another one', async () => {
    const figures = async () => {
      // What is left of the month, and of what it allows, goes by the clock.
      const {
        now: _now,
        budget: _budget,
        ...told
      } = await askAsOwner<{ now: string; budget: object }>('/api/v1/apps/larkfield-guide-ios/crash-free?last=all&exact=1');
      return told;
    };
    const before = await figures();
    const { code, said } = await command('rebuild-sessions');
    expect(code).toBe(0);
    const sums = [...said.matchAll(/^(.+): (\d+) sums of persons and days/gm)].map(([, app, count]) => [app, Number(count)] as const);
    expect(sums.map(([app]) => app)).toContain('Larkfield Guide for iOS');
    expect(new Map(sums).get('Larkfield Guide')).toBeGreaterThan(1_000);
    expect(await figures()).toEqual(before);
  });

  it('says what to do where no server ever ran', async () => {
    const nowhere = join(tmpdir(), `ember-${randomUUID()}`);
    expect(await command('rebuild-sessions', nowhere)).toEqual({
      code: 1,
      said: '',
      complained: `EMBER_DATA_DIR=${nowhere} does not exist; start the server first\n`,
    });
  });
});

describe('new-password', () => {
  it('says so where there is no such account', async () => {
    expect(await command('new-password', server.folder, ['nobody@larkfield.example'])).toMatchObject({
      code: 1,
      complained: 'There is no account nobody@larkfield.example.\n',
    });
  });

  it('gives an account a password that opens it, in place of the one before', async () => {
    const { link } = await askAsOwner<{ link: string }>('/api/v1/people', { email: 'perdita@larkfield.example', role: 'viewer' });
    await fetch(link, {
      method: 'POST',
      redirect: 'manual',
      headers: { origin: server.address, 'content-type': 'application/x-www-form-urlencoded' },
      body: new URLSearchParams({ name: 'Perdita', password: 'a long enough secret' }),
    });
    const signIn = async (password: string) =>
      (
        await fetch(`${server.address}/api/v1/sign-in`, {
          method: 'POST',
          headers: { origin: server.address, 'content-type': 'application/json' },
          body: JSON.stringify({ email: 'perdita@larkfield.example', password }),
        })
      ).status;
    expect(await signIn('a long enough secret')).toBe(200);
    const { code, said } = await command('new-password', server.folder, ['perdita@larkfield.example']);
    expect(code).toBe(0);
    expect(await signIn('a long enough secret')).toBe(401);
    expect(await signIn(/with the password (\S+)/.exec(said)?.[1] as string)).toBe(200);
  });
});

describe('the first start', () => {
  it('leaves none of its secrets in a file', () => {
    const kept = readFileSync(join(server.folder, 'first-start.json'), 'utf8');
    expect(Object.keys(JSON.parse(kept)).sort()).toEqual(['demoLoaded', 'email']);
    for (const secret of [server.password, server.uploadToken]) expect(kept).not.toContain(secret);
  });
});

describe('backup and restore', () => {
  it('bring everything to another place while the server goes on', async () => {
    const [backups, elsewhere] = [mkdtempSync(join(tmpdir(), 'ember-backups-')), join(tmpdir(), `ember-${randomUUID()}`)];
    const made = await command('backup', server.folder, [backups]);
    expect(made).toMatchObject({ code: 0, said: expect.stringMatching(/\d+ files and the database, \d+ MB of it new/) });
    expect(await command('backup', server.folder, [backups, '--check'])).toMatchObject({
      code: 0,
      said: expect.stringContaining('is whole'),
    });
    expect(await command('restore', elsewhere, [backups])).toMatchObject({ code: 0, said: expect.stringContaining('npm start goes on') });
    expect(await command('restore', elsewhere, [backups])).toMatchObject({ code: 1, complained: expect.stringContaining('not empty') });
    // What was restored is signed in to with what it had; a new password shows that it is all there.
    expect(await command('new-password', elsewhere, ['ines@larkfield.example'])).toMatchObject({ code: 0 });
    for (const folder of [backups, elsewhere]) rmSync(folder, { recursive: true });
  });

  it('say what they are to be told', async () => {
    expect(await command('backup')).toMatchObject({ code: 2, complained: expect.stringContaining('Say where to') });
    expect(await command('restore')).toMatchObject({ code: 2, complained: expect.stringContaining('Say which') });
    expect(await command('restore', server.folder, [tmpdir()])).toMatchObject({
      code: 1,
      complained: expect.stringContaining('is no backup'),
    });
  });
});

describe('check-symbols', () => {
  it('finds nothing wrong with the files of the demo, and mends an index that was cut off', async () => {
    const whole = await command('check-symbols');
    expect(whole).toMatchObject({
      code: 0,
      said: expect.stringMatching(/^\d+ files with \d+ bytes were read; 0 had faults, 0 of them remain\.\n$/),
    });

    // One of its own, which nothing else that runs meanwhile looks into.
    const bytes = readFileSync(new URL('../../core/samples/native-crash/crasher-arm64.debug', import.meta.url));
    const sent = await fetch(`${server.address}/api/v1/apps/larkfield-guide/symbol-files`, {
      method: 'POST',
      headers: { authorization: `Bearer ${server.uploadToken}` },
      body: bytes,
    });
    expect(sent.status).toBe(202);
    const symbols = join(server.folder, 'symbols');
    const content = createHash('sha256').update(bytes).digest('hex');
    const indexOf = () =>
      readdirSync(symbols, { recursive: true, encoding: 'utf8' }).find((path) => path.includes(`${content}.index`)) ?? null;
    const overview = () => askAsOwner<{ files: { state: string }[] }>('/api/v1/apps/larkfield-guide/symbol-files');
    await expect.poll(async () => (await overview()).files.some(({ state }) => state === 'indexing')).toBe(false);
    await expect.poll(indexOf).not.toBeNull();
    truncateSync(join(symbols, indexOf() as string), 40);
    const cut = await command('check-symbols');
    expect(cut.code).toBe(0);
    expect(cut.said).toContain('its index is damaged');
    expect(cut.said).toContain('it was made again');
    expect(cut.said).toContain('1 had faults, 0 of them remain.');
    // Others may have uploaded something meanwhile.
    expect((await command('check-symbols')).said).toMatch(/^\d+ files with \d+ bytes were read; 0 had faults, 0 of them remain\.$/m);
  });
});
