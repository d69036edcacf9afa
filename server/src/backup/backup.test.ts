import { randomUUID } from 'node:crypto';
import { mkdtempSync, readdirSync, readFileSync, rmSync, statSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { lastBackups } from '@rough-ember/store/backups';
import type { Database } from '@rough-ember/store/database';
import { freshDatabase } from '@rough-ember/store/testing/fresh-database';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { issueToken } from '../accounts/issue-credentials.ts';
import { readSettings } from '../settings.ts';
import { startServer } from '../start-server.ts';
import { guideFile, startTestServer, type TestServer } from '../testing/test-server.ts';
import { checkBackup, contentPath, listBackups, pruneBackups, readManifest } from './backup-folder.ts';
import { makeBackup } from './make-backup.ts';
import { findBackup, restoreBackup } from './restore-backup.ts';
import { backUpWhenDue } from './start-backups.ts';

let server: TestServer;
let token: string;
const folder = mkdtempSync(join(tmpdir(), 'ember-backups-'));
const dataFolder = () => server.services.settings.dataFolder;
const backUp = (name: string) => makeBackup({ database: server.database, dataFolder: dataFolder() }, { folder, name });

const at = (daysAgo: number) => new Date(Date.now() - daysAgo * 86_400_000 - 60_000).toISOString();
/** A session, and for every fourth a crash in it that a mapping makes readable. */
function items(count: number): object[] {
  return Array.from({ length: count }, (_, index) => {
    const when = { at: at(index % 9), startedAt: at(index % 9) };
    const about = { version: '4.3.1', build: '431', installationId: randomUUID() };
    const session = { type: 'session', id: randomUUID(), sequence: 1, state: 'ended', durationMs: 9_000, ...when, ...about };
    const frames = [{ runtime: 'jvm', class: 'a.a', method: 'a', file: 'SourceFile', line: 1 + (index % 3) }];
    const exceptions = [{ type: 'java.lang.IllegalStateException', message: `no perch ${index}`, frames }];
    const report = { type: 'report', id: randomUUID(), kind: 'crash', occurredAt: when.at, sessionId: session.id, exceptions, ...about };
    return index % 4 === 0 ? [session, report] : [session];
  }).flat();
}

/** What the screens say, without the moment at which they were asked. */
async function figuresOf(address: string): Promise<unknown> {
  const ask = async (path: string) => {
    const answer = await fetch(`${address}/api/v1/apps/guide/${path}`, { headers: { authorization: `Bearer ${token}` } });
    const { now: _now, budget: _budget, ...told } = await answer.json();
    return told;
  };
  return { crashFree: await ask('crash-free?last=all&exact=1'), cases: await ask('cases?last=all'), first: await ask('cases/LG-1') };
}

const emptyPlaces: (() => Promise<void>)[] = [];
/** An empty database and data folder, as on a new machine. */
async function emptyPlace(): Promise<{ database: Database; dataFolder: string }> {
  const { database, remove } = await freshDatabase({ migrated: false });
  const dataFolder = mkdtempSync(join(tmpdir(), 'ember-restored-'));
  emptyPlaces.push(async () => {
    await remove();
    rmSync(dataFolder, { recursive: true });
  });
  return { database, dataFolder };
}

beforeAll(async () => {
  server = await startTestServer();
  token = await issueToken(server.database, { appId: server.app.id, name: 'reader', scope: 'read' });
  await server.uploadSymbols(guideFile('4.3.1/mapping.txt'), { version: '4.3.1', build: '431', name: 'mapping.txt' });
  await server.sendItems(items(80));
});
afterAll(async () => {
  await server.stop();
  for (const remove of emptyPlaces) await remove();
  rmSync(folder, { recursive: true });
});

describe('a backup', () => {
  it('restored into an empty place elsewhere gives the same figures, cases and files', async () => {
    const before = await figuresOf(server.address);
    const { manifest } = await backUp('2026-11-20T00-00-00');
    expect(manifest.files.map(({ path }) => /\.(original|index)/.exec(path)?.[1]).sort()).toEqual(['index', 'original']);
    const place = await emptyPlace();
    await restoreBackup(place, await findBackup(folder));
    const settings = readSettings({ PORT: '0', EMBER_DATA_DIR: place.dataFolder, EMBER_LOG_LEVEL: 'silent' });
    const restored = await startServer(settings, place.database);
    try {
      expect(await figuresOf(restored.address)).toEqual(before);
      for (const { path } of manifest.files)
        expect(readFileSync(join(place.dataFolder, path))).toEqual(readFileSync(join(dataFolder(), path)));
      expect(readFileSync(join(place.dataFolder, 'secret.key'))).toEqual(readFileSync(join(dataFolder(), 'secret.key')));
      // What is sent afterwards is counted: the triggers that tell of changes are there.
      const sent = await fetch(`${restored.address}/intake/v1/batch`, {
        method: 'POST',
        headers: { authorization: `Bearer ${server.intakeKey}` },
        body: items(4)
          .map((item) => JSON.stringify(item))
          .join('\n'),
      });
      expect(sent.status).toBe(202);
      await restored.services.sessions.ask('lookNow', server.app.id);
      expect(await figuresOf(restored.address)).not.toEqual(before);
    } finally {
      await restored.stop();
    }
  });

  it('has the database of one moment, whatever is sent meanwhile', async () => {
    const sending = { isOver: false };
    const sender = (async () => {
      for (let part = 0; part < 200 && !sending.isOver; part++) await server.sendItems(items(8));
    })();
    await backUp('2026-11-20T01-00-00');
    sending.isOver = true;
    await sender;
    const place = await emptyPlace();
    await restoreBackup(place, await findBackup(join(folder, '2026-11-20T01-00-00')));
    // A batch is one transaction of eight sessions, two of them with a crash.
    const count = async (table: string) => Number(((await place.database(table).count({ n: '*' })) as [{ n: number }])[0].n);
    expect([(await count('sessions')) % 8, (await count('reports')) % 2]).toEqual([0, 0]);
    const [[{ orphans }]] = await place.database.raw(
      'SELECT COUNT(*) AS orphans FROM reports LEFT JOIN report_bodies ON report_row = reports.id WHERE report_row IS NULL',
    );
    expect(Number(orphans)).toBe(0);
  });

  it('copies no file again that a backup of the folder has', async () => {
    const contents = () => readdirSync(join(folder, 'files'), { recursive: true, withFileTypes: true }).filter((one) => one.isFile());
    const before = contents().map((one) => statSync(join(one.parentPath, one.name)).ino);
    await backUp('2026-11-20T02-00-00');
    expect(contents().map((one) => statSync(join(one.parentPath, one.name)).ino)).toEqual(before);
  });

  it('is looked at byte by byte before anything of it is used', async () => {
    const name = '2026-11-20T02-00-00';
    const manifest = await readManifest(folder, name);
    expect(await checkBackup(folder, name, manifest)).toEqual([]);
    const dump = join(folder, name, 'database.sql.gz');
    truncateSync(dump, statSync(dump).size - 1);
    expect(await checkBackup(folder, name, manifest)).toEqual(['database.sql.gz is damaged']);
    await expect(restoreBackup(await emptyPlace(), await findBackup(join(folder, name)))).rejects.toThrow('database.sql.gz is damaged');
    const [file] = manifest.files;
    rmSync(contentPath(folder, file?.sha256 ?? ''));
    expect(await checkBackup(folder, name, manifest)).toContain(`${file?.path} is missing`);
    await backUp(name);
    // The next one notices that a content is gone, and copies it again.
    expect(await checkBackup(folder, name, await readManifest(folder, name))).toEqual([]);
  });

  it('is restored over nothing that is there', async () => {
    const backup = await findBackup(folder);
    await expect(restoreBackup({ database: server.database, dataFolder: dataFolder() }, backup)).rejects.toThrow('not empty');
    const { database } = await emptyPlace();
    await expect(restoreBackup({ database, dataFolder: dataFolder() }, backup)).rejects.toThrow('not empty');
    await expect(findBackup(join(folder, 'nowhere'))).rejects.toThrow('is no backup');
    const newer = { ...backup, manifest: { ...backup.manifest, schema: 9_999, version: '9.9.9' } };
    await expect(restoreBackup(await emptyPlace(), newer)).rejects.toThrow('Use that version or a newer one');
  });

  it('goes when newer ones are enough, with what only it had', async () => {
    const all = await listBackups(folder);
    expect(await pruneBackups(folder, 1)).toBe(all.length - 1);
    const [left = ''] = await listBackups(folder);
    expect(left).toBe(all.at(-1));
    expect(await checkBackup(folder, left, await readManifest(folder, left))).toEqual([]);
  });
});

describe('backups by themselves', () => {
  const every = (into: string) => {
    const environment = { EMBER_DATA_DIR: dataFolder(), EMBER_BACKUP_DIR: into, EMBER_BACKUP_HOURS: '6', EMBER_BACKUP_KEEP: '2' };
    return { database: server.database, log: server.services.log, settings: readSettings(environment) };
  };

  it('are made once for each stretch of time, by whichever process comes first, and the old ones go', async () => {
    const into = mkdtempSync(join(tmpdir(), 'ember-backups-'));
    const noon = new Date('2026-11-21T13:00:00Z');
    const made = await Promise.all(Array.from({ length: 4 }, () => backUpWhenDue(every(into), noon)));
    expect(made.filter(Boolean)).toHaveLength(1);
    expect(await backUpWhenDue(every(into), new Date('2026-11-21T17:59:00Z'))).toBe(false);
    for (const hour of ['18', '23']) await backUpWhenDue(every(into), new Date(`2026-11-21T${hour}:01:00Z`));
    expect(await backUpWhenDue(every(into), new Date('2026-11-22T00:00:00Z'))).toBe(true);
    expect(await listBackups(into)).toEqual(['2026-11-21T18-00-00', '2026-11-22T00-00-00']);
    expect((await lastBackups(server.database)).good).toMatchObject({ folder: into, name: '2026-11-22T00-00-00', problem: null });
    rmSync(into, { recursive: true });
  });

  it('that fail say why, and are tried again after an hour; one whose process is gone is made by another', async () => {
    const into = mkdtempSync(join(tmpdir(), 'ember-backups-'));
    const blocked = join(folder, 'blocked', 'folder');
    writeFileSync(join(folder, 'blocked'), '');
    const settings = every(blocked);
    const now = new Date('2026-11-23T13:00:00Z');
    expect(await backUpWhenDue(settings, now)).toBe(false);
    expect((await lastBackups(server.database)).tried?.problem).toContain('ENOTDIR');
    await server.database('backups').where({ folder: blocked }).update({ folder: into });
    expect(await backUpWhenDue(every(into), new Date('2026-11-23T13:59:00Z'))).toBe(false);
    expect(await backUpWhenDue(every(into), new Date('2026-11-23T14:01:00Z'))).toBe(true);
    await server
      .database('backups')
      .where({ folder: into })
      .update({ finished_at: null, leased_until: new Date('2026-11-23T15:00:00Z') });
    expect(await backUpWhenDue(every(into), new Date('2026-11-23T14:30:00Z'))).toBe(false);
    expect(await backUpWhenDue(every(into), new Date('2026-11-23T15:01:00Z'))).toBe(true);
    rmSync(into, { recursive: true });
  });
});
