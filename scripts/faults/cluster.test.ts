import { setTimeout as pause } from 'node:timers/promises';
import { type AccountRole, changeRole, createAccount, listAccounts } from '@rough-ember/store/accounts';
import { connectionOf, type Database, inTransaction, isDuplicate, openDatabase } from '@rough-ember/store/database';
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

it('a process goes on with another node when its own stands still or is killed, and what was answered is there', async () => {
  // Of its own cluster: a node that was killed stays away.
  const own = await startCluster();
  const [first, ...others] = own.urls as [string, ...string[]];
  const hosts = own.urls.map((url) => new URL(url).host).join(',');
  const process = openDatabase(first.replace(new URL(first).host, hosts), { connections: 4 });
  const witness = openDatabase(others[1] as string, { connections: 1 });
  try {
    await process.raw('CREATE TABLE kept (id INT PRIMARY KEY AUTO_INCREMENT, word VARCHAR(20) UNIQUE)');
    const answered: string[] = [];
    let [word, isOver] = [0, false];
    const writer = (async () => {
      while (!isOver) {
        const own = `word ${word++}`;
        // As a sender does: until it is answered, and what is there already was answered before.
        for (let isKept = false; !isKept && !isOver; ) {
          const problem = await inTransaction(process, (transaction) => transaction('kept').insert({ word: own })).catch(
            (error: unknown) => error,
          );
          isKept = !(problem instanceof Error) || isDuplicate(problem);
          if (!isKept) await pause(50);
        }
        answered.push(own);
      }
    })();
    const goesOn = async () => {
      const before = answered.length;
      await expect.poll(() => answered.length).toBeGreaterThan(before + 20);
    };
    await goesOn();
    own.hold(0, true);
    await goesOn();
    expect(connectionOf(process).port).not.toBe(Number(new URL(first).port));
    own.hold(0, false);
    // Two of three are the most of a cluster, one of two is not: the node must be back before another one goes.
    await expect.poll(async () => (await witness.raw("SHOW STATUS LIKE 'wsrep_cluster_size'"))[0][0].Value).toBe('3');
    const back = openDatabase(first, { connections: 1 });
    await expect.poll(async () => (await back.raw("SHOW STATUS LIKE 'wsrep_local_state_comment'"))[0][0].Value).toBe('Synced');
    await back.destroy();
    await goesOn();
    own.kill(own.urls.findIndex((url) => Number(new URL(url).port) === connectionOf(process).port));
    await goesOn();
    isOver = true;
    await writer;
    const kept = async () => new Set(await witness('kept').pluck('word'));
    await expect
      .poll(async () => {
        const there = await kept();
        return answered.slice(0, -1).filter((one) => !there.has(one));
      })
      .toEqual([]);
  } finally {
    await Promise.all([process.destroy(), witness.destroy()]);
    await own.stop();
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
