import { execFileSync } from 'node:child_process';
import { randomBytes, randomUUID } from 'node:crypto';
import { closeSync, mkdtempSync, openSync, rmSync, statfsSync, unlinkSync, writeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import mysql from 'mysql2/promise';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { databaseOf } from '../testing/started-product.ts';
import { type StartedApp, startApp } from './started-app.ts';

const folder = mkdtempSync(join(tmpdir(), 'ember-full-'));

/** A disk of its own in memory; whoever may not mount one has nothing to fill without harm to others. */
const isMounted = ((): boolean => {
  try {
    execFileSync('mount', ['-t', 'tmpfs', '-o', 'size=900m', 'tmpfs', folder], { stdio: 'ignore' });
    return true;
  } catch {
    console.warn('A full disk could not be tried: this user may not mount one.');
    return false;
  }
})();

let app: StartedApp;
beforeAll(async () => {
  if (isMounted) app = await startApp(folder, 'full');
});
afterAll(async () => {
  await app?.server.stop();
  if (isMounted) execFileSync('umount', [folder]);
  rmSync(folder, { recursive: true, force: true });
});

const freeBytes = (): number => {
  const { bavail, bsize } = statfsSync(folder);
  return bavail * bsize;
};

/** Takes the disk up to the last so many bytes. */
function fill(leave: number): () => void {
  const ballast = join(folder, 'ballast');
  const file = openSync(ballast, 'w');
  while (freeBytes() > leave) writeSync(file, Buffer.alloc(Math.min(1_000_000, freeBytes() - leave + 4_096), 1));
  closeSync(file);
  return () => unlinkSync(ballast);
}

const reports = (): { ids: string[]; body: string } => {
  const ids = Array.from({ length: 20 }, () => randomUUID());
  const line = (id: string) =>
    JSON.stringify({
      type: 'report',
      id,
      kind: 'crash',
      occurredAt: new Date().toISOString(),
      version: '1.0',
      build: '1',
      sections: [{ name: 'log', text: randomBytes(20_000).toString('base64') }],
      exceptions: [{ type: 'java.lang.Error' }],
    });
  return { ids, body: ids.map(line).join('\n') };
};

it.skipIf(!isMounted)('a disk that is full is told as such, loses nothing, and needs no hand once there is room', async () => {
  const accepted: string[] = [];
  const first = reports();
  expect((await app.send(first.body)).status).toBe(202);
  accepted.push(...first.ids);
  const makeRoom = fill(3_000_000);
  let refusal = null;
  let unsure = first;
  for (let turn = 0; turn < 400 && refusal === null; turn++) {
    unsure = reports();
    const answer = await app.send(unsure.body);
    if (answer.status === 202) accepted.push(...unsure.ids);
    else refusal = answer;
  }
  expect(refusal?.status).toBe(503);
  // Where the database itself ends for want of room, it is away, and comes back by itself.
  expect(refusal?.text).toMatch(/disk|database does not answer|cannot be reached/);
  const ready = async () => (await fetch(`${app.server.address}/readyz`)).json();
  expect((await fetch(`${app.server.address}/healthz`)).status).toBe(200);
  if (refusal?.text.includes('disk')) expect(await ready()).toMatchObject({ status: 'not ready', disk: 'full' });

  makeRoom();
  await expect.poll(async () => (await ready()).status).toBe('ready');
  await expect.poll(async () => (await app.send(unsure.body)).status).toBe(202);
  accepted.push(...unsure.ids);
  const database = await mysql.createConnection(databaseOf(folder));
  const ask = async () =>
    (await database.query('SELECT LOWER(HEX(report_id)) AS id, state FROM reports'))[0] as { id: string; state: string }[];
  await expect.poll(async () => (await ask()).filter(({ state }) => state !== 'processed')).toEqual([]);
  const stored = new Set((await ask()).map(({ id }) => id));
  await database.end();
  expect(accepted.filter((id) => !stored.has(id.replaceAll('-', '')))).toEqual([]);
});
