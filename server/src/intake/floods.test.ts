import { type ChildProcess, fork } from 'node:child_process';
import { once } from 'node:events';
import { createRequire } from 'node:module';
import { monitorEventLoopDelay } from 'node:perf_hooks';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { attackNames } from '../testing/attack-names.ts';
import { startTestServer, type TestServer } from '../testing/test-server.ts';

let server: TestServer;
let client: ChildProcess;
beforeAll(async () => {
  server = await startTestServer();
  client = fork(
    fileURLToPath(new URL('../testing/flood-client.ts', import.meta.url)),
    [server.address, server.intakeKey, server.uploadToken],
    {
      execArgv: ['--import', pathToFileURL(createRequire(import.meta.url).resolve('tsx')).href],
    },
  );
});
afterAll(async () => {
  client.kill();
  await server.stop();
});

/** Bytes that the process holds at most, while an attack runs: `intakeLimits` and docs/reliability.md say why it is no more. */
const mostBytes = 3.5 * 1024 ** 3;
/** A slow machine under load lets a thread wait for seconds; `npm run test:hostile`, which has the machine for itself, asks for more. */
const longestHoldMs = process.env.EMBER_HOSTILE_RUNS ? 1_000 : 15_000;

interface Answer {
  readonly status: number;
  readonly bytes: number;
}

async function attack(name: string): Promise<{ answers: readonly Answer[]; longestHoldMs: number; mostBytes: number; asked: number }> {
  client.send(name);
  await once(client, 'message');
  const answered = once(client, 'message') as Promise<[{ answers: readonly Answer[] }]>;
  const delay = monitorEventLoopDelay({ resolution: 5 });
  delay.enable();
  let isOver = false;
  let most = 0;
  let asked = 0;
  const watching = (async () => {
    while (!isOver) {
      expect((await fetch(`${server.address}/healthz`)).status).toBe(200);
      asked++;
      most = Math.max(most, process.memoryUsage.rss());
      await new Promise((resolve) => setTimeout(resolve, 20));
    }
  })();
  const [{ answers }] = await answered;
  // What was taken is worked on while others ask.
  await server.settled();
  isOver = true;
  await watching;
  delay.disable();
  return { answers, longestHoldMs: delay.max / 1e6, mostBytes: most, asked };
}

describe('what one public key or upload token can send', () => {
  it.each(attackNames)('%s: is answered briefly, holds nobody up, and ends nothing', async (name) => {
    const found = await attack(name);
    if (process.env.EMBER_FLOOD_FIGURES)
      console.log(
        `${name}: ${found.answers.map(({ status }) => status).join(' ')}; event loop held for at most ${found.longestHoldMs.toFixed(0)} ms, ${Math.round(found.mostBytes / 1e6)} MB`,
      );
    for (const { status, bytes } of found.answers) {
      expect([200, 202, 400, 413, 422, 503]).toContain(status);
      expect(bytes).toBeLessThan(2_000_000);
    }
    expect(found.asked).toBeGreaterThan(0);
    expect(found.longestHoldMs).toBeLessThan(longestHoldMs);
    expect(found.mostBytes).toBeLessThan(mostBytes);
    // Right after a flood it may still tell others to come later, and does not stay so.
    const after = async () => (await server.send('/intake/v1/batch', '{"type":"tune"}')).status;
    await expect.poll(after, { timeout: 60_000, interval: 500 }).toBe(400);
  });
});
