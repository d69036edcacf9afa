import { readFileSync } from 'node:fs';
import { setTimeout as pause } from 'node:timers/promises';
import { gzipSync } from 'node:zlib';
import { type DemoApp, demoReports } from './demo-app.ts';

/** Where the demo is sent, and with which credentials of the app. */
export interface DemoTarget {
  readonly address: string;
  readonly intakeKey: string;
  readonly uploadToken: string;
}

const batchSize = 100;

/** Sends an app's symbol files and reports the way its build server and its people would, over HTTP; twice changes nothing. */
export async function sendDemo(demo: DemoApp, { address, intakeKey, uploadToken }: DemoTarget, now: Date): Promise<void> {
  for (const { version, build, symbolFiles } of demo.releases)
    for (const { file, name, carriesId } of symbolFiles) {
      const parameters = new URLSearchParams({ ...(carriesId ? {} : { version, build }), name });
      await post(`${address}/api/v1/apps/${demo.app.slug}/symbol-files?${parameters}`, readFileSync(file), {
        authorization: `Bearer ${uploadToken}`,
        'content-type': 'application/octet-stream',
      });
    }
  const lines = demoReports(demo, now).map((report) => JSON.stringify({ type: 'report', ...report }));
  for (let at = 0; at < lines.length; at += batchSize)
    await post(`${address}/intake/v1/batch`, gzipSync(lines.slice(at, at + batchSize).join('\n')), {
      authorization: `Bearer ${intakeKey}`,
      'content-type': 'application/x-ndjson',
      'content-encoding': 'gzip',
      'user-agent': 'Larkfield demo',
    });
}

async function post(url: string, body: Buffer, headers: Record<string, string>): Promise<void> {
  for (let attempt = 1; ; attempt++) {
    const answer = await fetch(url, { method: 'POST', body: new Uint8Array(body), headers });
    if (answer.ok) return;
    if (answer.status < 500 || attempt === 5) throw new Error(`the demo could not be loaded: ${await answer.text()}`);
    await pause(200 * attempt);
  }
}
