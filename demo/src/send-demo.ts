import { readFileSync } from 'node:fs';
import { setTimeout as pause } from 'node:timers/promises';
import { gzipSync } from 'node:zlib';
import { guideBuilds } from './guide-builds.ts';
import { buildWithoutMapping, larkfieldGuide, larkfieldReports, mappingFile, soundLibraries } from './larkfield.ts';

/** Where the demo is sent, and with which credentials. */
export interface DemoTarget {
  readonly address: string;
  readonly intakeKey: string;
  readonly uploadToken: string;
}

const batchSize = 100;

/** Sends the demo the way an app and a build server would, over HTTP; sending it twice changes nothing. */
export async function sendDemo({ address, intakeKey, uploadToken }: DemoTarget, now: Date): Promise<void> {
  for (const { version, build } of guideBuilds.filter((one) => one !== buildWithoutMapping)) {
    const parameters = new URLSearchParams({ version, build, name: 'mapping.txt' });
    await post(`${address}/api/v1/apps/${larkfieldGuide.slug}/symbol-files?${parameters}`, readFileSync(mappingFile(version)), {
      authorization: `Bearer ${uploadToken}`,
      'content-type': 'text/plain',
    });
  }
  for (const library of soundLibraries)
    await post(`${address}/api/v1/apps/${larkfieldGuide.slug}/symbol-files?name=libsong.so`, readFileSync(library), {
      authorization: `Bearer ${uploadToken}`,
      'content-type': 'application/octet-stream',
    });
  const lines = larkfieldReports(now).map((report) => JSON.stringify({ type: 'report', ...report }));
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
