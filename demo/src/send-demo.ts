import { readFileSync } from 'node:fs';
import { setTimeout as pause } from 'node:timers/promises';
import { gzipSync } from 'node:zlib';
import type { ReportInput } from '@rough-ember/core/report/report';
import type { SessionItemInput } from '@rough-ember/core/report/session';
import type { DemoApp } from './demo-app.ts';

/** Where the demo is sent, and with which credentials of the app. */
export interface DemoTarget {
  readonly address: string;
  readonly intakeKey: string;
  readonly uploadToken: string;
}

/** Sends an app's symbol files the way its build server would. */
export async function sendDemoSymbols(demo: DemoApp, { address, uploadToken }: DemoTarget): Promise<void> {
  for (const { version, build, symbolFiles } of demo.releases)
    for (const { file, name, carriesId } of symbolFiles) {
      const parameters = new URLSearchParams({ ...(carriesId ? {} : { version, build }), name });
      await post(`${address}/api/v1/apps/${demo.app.slug}/symbol-files?${parameters}`, readFileSync(file), {
        authorization: `Bearer ${uploadToken}`,
        'content-type': 'application/octet-stream',
      });
    }
}

/** Sends reports the way people's devices would, over HTTP; twice changes nothing. */
export const sendDemoReports = (reports: readonly ReportInput[], target: DemoTarget): Promise<void> =>
  sendItems('report', reports, target, { atOnce: 100 });

/** Sends sessions in the same way; `onSent` is told how many have gone. */
export const sendDemoSessions = (
  sessions: readonly SessionItemInput[],
  target: DemoTarget,
  onSent: (count: number) => void = () => {},
): Promise<void> => sendItems('session', sessions, target, { atOnce: 500, senders: 4, onSent });

async function sendItems(
  type: 'report' | 'session',
  items: readonly object[],
  { address, intakeKey }: DemoTarget,
  { atOnce, senders = 1, onSent }: { atOnce: number; senders?: number; onSent?: (count: number) => void },
): Promise<void> {
  let next = 0;
  const sender = async () => {
    for (let at = next; at < items.length; at = next) {
      next = at + atOnce;
      const lines = items.slice(at, at + atOnce).map((item) => JSON.stringify({ type, ...item }));
      await post(`${address}/intake/v1/batch`, gzipSync(lines.join('\n'), { level: 1 }), {
        authorization: `Bearer ${intakeKey}`,
        'content-type': 'application/x-ndjson',
        'content-encoding': 'gzip',
        'user-agent': 'Larkfield demo',
      });
      onSent?.(lines.length);
    }
  };
  await Promise.all(Array.from({ length: senders }, sender));
}

async function post(url: string, body: Buffer, headers: Record<string, string>): Promise<void> {
  for (let attempt = 1; ; attempt++) {
    // A connection that was kept while sessions were made up may be closed by the time it is used; sending again is harmless.
    const answer = await fetch(url, { method: 'POST', body: new Uint8Array(body), headers }).catch((error: Error) => error);
    if (!(answer instanceof Error)) {
      if (answer.ok) return;
      if (answer.status < 500) throw new Error(`the demo could not be loaded: ${await answer.text()}`);
    }
    if (attempt === 5) throw new Error(`the demo could not be loaded: ${answer instanceof Error ? answer.message : await answer.text()}`);
    await pause(200 * attempt);
  }
}
