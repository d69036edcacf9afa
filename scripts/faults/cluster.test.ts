import { type AccountRole, changeRole, createAccount, listAccounts } from '@rough-ember/store/accounts';
import { type Database, openDatabase } from '@rough-ember/store/database';
import { listMigrations, migrate } from '@rough-ember/store/migrate';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type Cluster, startCluster } from '../testing/cluster.ts';

let cluster: Cluster;
let nodes: Database[];
beforeAll(async () => {
  cluster = await startCluster();
  nodes = cluster.urls.map((url) => openDatabase(url));
});
afterAll(async () => {
  for (const node of nodes ?? []) await node.destroy();
  await cluster?.stop();
});

const on = (node: number): Database => nodes[node] as Database;

it('processes on three nodes of a cluster migrate once, and all of them start', async () => {
  const ran = await Promise.all(nodes.map((node) => migrate(node)));
  expect(ran.flat()).toEqual(listMigrations().map(({ name }) => name));
  for (const node of nodes) expect(await node('migrations').pluck('name')).toHaveLength(listMigrations().length);
});

it('the last owner stays, whoever is taken away from any node at the same moment', async () => {
  for (let round = 0; round < 12; round++) {
    await on(0)('accounts').delete();
    for (const name of ['ines', 'tom', 'maud'])
      await createAccount(on(0), { email: `${name}@larkfield.example`, name, role: 'owner', appIds: null, passwordHash: 'x' });
    for (const node of [1, 2]) await expect.poll(async () => (await listAccounts(on(node))).length).toBe(3);
    const accounts = await listAccounts(on(2));
    const asked: (AccountRole | null)[] = ['viewer', null, 'developer'];
    await Promise.all(accounts.map(({ id }, at) => changeRole(on(at), id, asked[at] as AccountRole | null)));
    const owners = async (node: number) => (await listAccounts(on(node))).filter(({ role }) => role === 'owner').length;
    for (const node of [0, 1, 2]) await expect.poll(() => owners(node)).toBe(1);
  }
});

it('a migration whose node is killed goes on from another node, and is whole', async () => {
  const more = Array.from({ length: 30 }, (_, at) => ({
    name: `900-${String(at).padStart(2, '0')}`,
    sql: `CREATE TABLE IF NOT EXISTS killed_${at} (id INT PRIMARY KEY)`,
  }));
  const all = [...listMigrations(), ...more];
  const broken = migrate(on(0), all).catch(() => 'killed');
  await expect
    .poll(async () => Number((await on(1)('migrations').where('name', 'like', '900-%').count({ count: '*' }))[0]?.count))
    .toBeGreaterThan(2);
  cluster.kill(0);
  await migrate(on(1), all);
  expect(await broken).toBeDefined();
  for (const node of [1, 2]) {
    // A node applies what another one wrote a moment after that one was answered.
    const recorded = async () => (await on(node)('migrations').where('name', 'like', '900-%').pluck('name')).sort();
    await expect.poll(recorded).toEqual(more.map(({ name }) => name));
    expect(await on(node)('killed_29').select('id')).toEqual([]);
  }
});
