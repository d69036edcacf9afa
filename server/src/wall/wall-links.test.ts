import type { Account } from '@rough-ember/store/accounts';
import type { App } from '@rough-ember/store/apps';
import type { Database } from '@rough-ember/store/database';
import { freshDatabase, makeApp } from '@rough-ember/store/testing/fresh-database';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { endWallLink, loadWallLinks, makeWallLink, requireWallLink, wallLinkSchema } from './wall-links.ts';

let database: Database;
let remove: () => Promise<void>;
let apps: App[];
beforeAll(async () => {
  ({ database, remove } = await freshDatabase());
  apps = [await makeApp(database), await makeApp(database)];
});
afterAll(() => remove());

const owner: Account = { id: 1, email: 'ines@larkfield.example', name: 'Ines', role: 'owner', appIds: null, zone: null };

const make = (more: object = {}, maker = owner) =>
  makeWallLink(database, {
    ...wallLinkSchema.parse({ name: 'Hall', ...more }),
    maker,
    publicUrl: 'https://ember.example',
  });
const secretOf = (link: string) => link.slice('https://ember.example/wall/'.length);
const use = (secret: string, now = new Date()) => requireWallLink(database, secret, now);

describe('a link of a wall', () => {
  it('opens the apps it was made for, and those of tomorrow where it was made for all', async () => {
    const [one, all] = [await make({ apps: [apps[1]?.slug] }), await make({ name: 'Kitchen' })];
    expect(await use(secretOf(one))).toMatchObject({ name: 'Hall', appIds: [apps[1]?.id] });
    expect(await use(secretOf(all))).toMatchObject({ name: 'Kitchen', appIds: null });
    expect((await loadWallLinks(database, owner)).slice(-2)).toMatchObject([
      { name: 'Hall', apps: [apps[1]?.slug], madeBy: 'ines@larkfield.example' },
      { name: 'Kitchen', apps: null },
    ]);
  });

  it('is kept as a hash alone', async () => {
    const link = await make();
    expect(JSON.stringify([await database('wall_links'), await loadWallLinks(database, owner)])).not.toContain(secretOf(link));
  });

  it('is noted when it is used, about once a minute', async () => {
    const secret = secretOf(await make());
    const lastUsed = async () => (await loadWallLinks(database, owner)).at(-1)?.lastUsedAt;
    expect(await lastUsed()).toBeNull();
    const first = new Date('2026-11-20T10:00:00.000Z');
    await use(secret, first);
    await use(secret, new Date(first.getTime() + 59_000));
    expect(await lastUsed()).toBe(first.toISOString());
    const later = new Date(first.getTime() + 61_000);
    await use(secret, later);
    expect(await lastUsed()).toBe(later.toISOString());
  });

  it('opens nothing once it is revoked, which it can be once', async () => {
    const secret = secretOf(await make());
    const { id } = await use(secret);
    await endWallLink(database, id, owner);
    await expect(use(secret)).rejects.toMatchObject({ code: 'not-found' });
    await expect(endWallLink(database, id, owner)).rejects.toMatchObject({ code: 'not-found' });
    expect((await loadWallLinks(database, owner)).map((one) => one.id)).not.toContain(id);
  });

  it.each(['', 'wall_guess', 'x'.repeat(100_000)])('is none of the texts that nobody made: %#', async (secret) => {
    await expect(use(secret)).rejects.toMatchObject({ code: 'not-found' });
  });

  it('of somebody who sees some apps shows no others, and those of others are not theirs to know or end', async () => {
    const [seen, unseen] = apps as [App, App];
    const limited: Account = { ...owner, id: 2, email: 'tom@larkfield.example', role: 'developer', appIds: [seen.id] };
    const open = await use(secretOf(await make({ name: 'All of mine' }, limited)));
    expect(open.appIds).toEqual([seen.id]);
    await expect(make({ apps: [unseen.slug] }, limited)).rejects.toMatchObject({ message: `apps: there is no app "${unseen.slug}".` });
    const both = await use(secretOf(await make({ name: 'Both', apps: [seen.slug, unseen.slug] })));
    expect((await loadWallLinks(database, limited)).map(({ apps: shown }) => shown)).not.toContainEqual(null);
    expect((await loadWallLinks(database, limited)).map(({ id }) => id)).not.toContain(both.id);
    await expect(endWallLink(database, both.id, limited)).rejects.toMatchObject({ code: 'not-found' });
    await endWallLink(database, open.id, limited);
  });

  it('names apps that are there, at least one', async () => {
    await expect(make({ apps: ['nowhere'] })).rejects.toMatchObject({ code: 'bad-request', message: 'apps: there is no app "nowhere".' });
    await expect(make({ apps: [] })).rejects.toMatchObject({ code: 'bad-request' });
    expect(wallLinkSchema.safeParse({ name: ' ' }).error?.issues[0]?.message).toBe('give it a name, such as where the screen hangs');
  });
});
