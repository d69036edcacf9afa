import type { App } from '@rough-ember/store/apps';
import type { Database } from '@rough-ember/store/database';
import { freshDatabase, makeApp } from '@rough-ember/store/testing/fresh-database';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { dropView, loadViews, saveView, viewSchema } from './views.ts';

let database: Database;
let remove: () => Promise<void>;
let app: App;
let noted: number[];
beforeAll(async () => {
  ({ database, remove } = await freshDatabase());
  app = await makeApp(database);
  noted = [];
});
afterAll(() => remove());

const services = () => ({ database, changes: { note: (appId: number) => noted.push(appId) } as never });
const save = (person: string, view: object) =>
  saveView(services(), app, { ...viewSchema.parse({ name: 'Night', scope: '', ...view }), person });
const namesOf = async (person: string) => (await loadViews({ database }, app, person)).map((one) => one.name);

describe('a view', () => {
  it('is a scope under a name, of one person or of the team, told to who looks on', async () => {
    await save('ines', { name: 'Mine', scope: 'kind=hang&last=7d&filter=country%20%3D%20NO' });
    await save('ines', { name: 'Ours', scope: 'version=4.2.0%2B', forTeam: true });
    expect(await namesOf('ines')).toEqual(['Mine', 'Ours']);
    expect(await namesOf('tomas')).toEqual(['Ours']);
    expect(noted).toEqual([app.id, app.id]);
    const [mine] = await loadViews({ database }, app, 'ines');
    expect(Object.fromEntries(new URLSearchParams(mine?.address))).toEqual({ kind: 'hang', last: '7d', filter: 'country = NO' });
    expect(mine).toMatchObject({ madeBy: 'ines', forTeam: false });
  });

  it('of what is no scope is refused, and why', async () => {
    await expect(save('ines', { scope: 'last=3d' })).rejects.toMatchObject({
      code: 'bad-request',
      message: expect.stringContaining('last=3d is not known'),
    });
    await expect(save('ines', { scope: 'filter=country%20%3D' })).rejects.toMatchObject({ code: 'bad-request' });
    expect(viewSchema.safeParse({ name: ' ', scope: '' }).error?.issues[0]?.message).toBe('give it a name');
  });

  it('is dropped by who made it, and one of the team by anybody', async () => {
    const [own, ours] = [await save('ines', { name: 'Own' }), await save('ines', { name: 'Of all', forTeam: true })];
    await expect(dropView(services(), app, { ...own, person: 'tomas' })).rejects.toMatchObject({ code: 'not-found' });
    await dropView(services(), app, { ...ours, person: 'tomas' });
    await dropView(services(), app, { ...own, person: 'ines' });
    await expect(dropView(services(), app, { ...own, person: 'ines' })).rejects.toMatchObject({ code: 'not-found' });
    expect(await namesOf('ines')).toEqual(['Mine', 'Ours']);
  });

  it('belongs to its app', async () => {
    const other = await makeApp(database);
    const { id } = await save('ines', { name: 'Here', forTeam: true });
    expect(await loadViews({ database }, other, 'ines')).toEqual([]);
    await expect(dropView(services(), other, { id, person: 'ines' })).rejects.toMatchObject({ code: 'not-found' });
  });

  it('is one of so many', async () => {
    const there = (await loadViews({ database }, app, 'ines')).length;
    await database('views').insert(
      Array.from({ length: 200 - there }, (_, at) => ({
        app_id: app.id,
        name: `View ${at}`,
        address: '',
        made_by: 'ines',
        for_team: false,
      })),
    );
    await expect(save('ines', {})).rejects.toMatchObject({
      code: 'bad-request',
      message: `${app.name} has as many views as there can be. Drop one first.`,
    });
  });
});
