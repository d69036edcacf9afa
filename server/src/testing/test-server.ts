import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type App, createApp } from '@rough-ember/store/apps';
import type { Database } from '@rough-ember/store/database';
import { countAllJobs } from '@rough-ember/store/jobs';
import { freshDatabase } from '@rough-ember/store/testing/fresh-database';
import { issueIntakeKey, issueToken } from '../accounts/issue-credentials.ts';
import { readSettings } from '../settings.ts';
import { type RunningServer, startServer } from '../start-server.ts';

/** An answer with the parts that tests look at. */
export interface Answer {
  readonly status: number;
  readonly body: {
    readonly error: { readonly code: string; readonly message: string; readonly remedy: string };
    readonly items: readonly {
      readonly line: number;
      readonly outcome: string;
      readonly reason: string;
      readonly remarks?: readonly string[];
    }[];
    readonly id: number;
    readonly limitBytes?: number;
  };
}

export interface TestServer extends RunningServer {
  readonly app: App;
  readonly database: Database;
  readonly intakeKey: string;
  readonly uploadToken: string;
  /** Sends a request with the intake key. */
  send(path: string, body: BodyInit, headers?: Record<string, string>): Promise<Answer>;
  /** Sends items in batches, as devices would, and waits until all are processed and counted. */
  sendItems(items: readonly object[]): Promise<void>;
  uploadSymbols(bytes: Uint8Array, parameters: Record<string, string>, headers?: Record<string, string>): Promise<Answer>;
  /** Waits until everything that was accepted is processed. */
  settled(): Promise<void>;
}

const itemsAtOnce = 200;

export const guideFile = (path: string): Uint8Array =>
  new Uint8Array(readFileSync(new URL(`../../../demo/larkfield-guide/builds/${path}`, import.meta.url)));

/** A whole server on a free port with a database of its own, and an app with its credentials. */
export async function startTestServer(environment: Record<string, string> = {}): Promise<TestServer> {
  const folder = mkdtempSync(join(tmpdir(), 'ember-server-'));
  const { database, remove } = await freshDatabase();
  const settings = readSettings({ PORT: '0', EMBER_DATA_DIR: folder, EMBER_LOG_LEVEL: 'silent', ...environment });
  const server = await startServer(settings, database);
  const app = (await createApp(database, {
    slug: 'guide',
    name: 'Guide',
    prefix: 'LG',
    platforms: ['Android'],
    ourPackages: ['com.larkfield'],
  })) as App;
  const intakeKey = await issueIntakeKey(database, { appId: app.id, name: 'phones' });
  const uploadToken = await issueToken(database, { appId: app.id, name: 'ci', scope: 'upload' });
  const post = async (path: string, body: BodyInit, headers: Record<string, string>) => {
    // A stream is sent in parts, without its length.
    const answer = await fetch(server.address + path, { method: 'POST', body, headers, ...{ duplex: 'half' } });
    return { status: answer.status, body: await answer.json() };
  };
  const send: TestServer['send'] = (path, body, headers = {}) => post(path, body, { authorization: `Bearer ${intakeKey}`, ...headers });
  const settled = async () => {
    const deadline = Date.now() + 120_000;
    while ((await countAllJobs(database)) > 0) {
      if (Date.now() > deadline) throw new Error('the queue does not come to rest');
      await new Promise((resolve) => setTimeout(resolve, 20));
    }
  };
  return {
    ...server,
    app,
    database,
    intakeKey,
    uploadToken,
    send,
    sendItems: async (items) => {
      for (let at = 0; at < items.length; at += itemsAtOnce) {
        const lines = items.slice(at, at + itemsAtOnce).map((item) => JSON.stringify(item));
        await send('/intake/v1/batch', lines.join('\n'));
      }
      await settled();
      await server.services.sessions.ask('lookNow', app.id);
    },
    uploadSymbols: (bytes, parameters, headers = {}) =>
      post(`/api/v1/apps/guide/symbol-files?${new URLSearchParams(parameters)}`, bytes as BodyInit, {
        authorization: `Bearer ${uploadToken}`,
        ...headers,
      }),
    settled,
    stop: async () => {
      await server.stop();
      await remove();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
