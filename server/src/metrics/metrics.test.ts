import { randomUUID } from 'node:crypto';
import { retried } from '@rough-ember/store/database';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startTestServer, type TestServer } from '../testing/test-server.ts';
import { hearConflicts, tellConflicts } from './conflicts-of-threads.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
  const about = { version: '4.3.0', build: '430', installationId: randomUUID() };
  const report = { type: 'report', id: randomUUID(), kind: 'crash', occurredAt: new Date().toISOString(), ...about };
  await server.sendItems([{ ...report, exceptions: [{ type: 'java.lang.Error' }] }, { type: 'mystery' }]);
  await server.send('/intake/v1/batch', '{}', { authorization: 'Bearer intake_none' });
});
afterAll(() => server.stop());

const ask = (headers: Record<string, string> = {}, at = server) => fetch(`${at.address}/metrics`, { headers });

/** Values by name and labels, as OpenMetrics writes them (OpenMetrics 1.0, "Text Format"). */
function read(text: string): Map<string, number> {
  const values = new Map<string, number>();
  const lines = text.split('\n');
  expect(lines.slice(-2)).toEqual(['# EOF', '']);
  for (const line of lines.slice(0, -2)) {
    if (/^# (?:HELP|TYPE|UNIT) [a-zA-Z_:][\w:]* /.test(line)) continue;
    const [, name, value] =
      /^([a-zA-Z_:][\w:]*(?:\{(?:[a-zA-Z_]\w*="(?:[^"\\\n]|\\.)*",?)*\})?) (-?[\d.e+-]+|NaN|[+-]Inf)$/.exec(line) ?? [];
    if (name === undefined) throw new Error(`no line of OpenMetrics: ${line}`);
    values.set(name, Number(value));
  }
  return values;
}

describe('the metrics of a process', () => {
  it('are OpenMetrics, and say what was sent, worked on and kept', async () => {
    const answer = await ask();
    expect(answer.headers.get('content-type')).toMatch(/^application\/openmetrics-text; version=1\.0\.0/);
    const values = read(await answer.text());
    const app = String(server.app.id);
    expect(values.get(`ember_intake_items_total{app="${app}",key="phones",outcome="accepted"}`)).toBe(1);
    expect(values.get(`ember_intake_items_total{app="${app}",key="phones",outcome="refused"}`)).toBe(1);
    expect(values.get('ember_intake_refused_requests_total{status="401"}')).toBe(1);
    expect(values.get('ember_job_seconds_count{kind="process-report",end="done"}')).toBe(1);
    expect(values.get('ember_jobs_waiting{kind="process-report"}')).toBe(0);
    expect(values.get('ember_index_rows{index="reports",app="guide"}')).toBe(1);
    expect(values.get('ember_database_ready{state="ready"}')).toBe(1);
    expect(values.get('ember_disk_free_bytes')).toBeGreaterThan(0);
    expect([...values.keys()].some((name) => name.startsWith('nodejs_eventloop_lag'))).toBe(true);
    expect([...values.keys()].some((name) => name.startsWith('ember_backup_age_seconds'))).toBe(false);
    expect([...values].find(([name]) => name.startsWith('ember_http_request_seconds_count{route="/intake/v1/batch"'))?.[1]).toBeGreaterThan(
      0,
    );
  });

  it('are told on this machine alone, and not through a proxy on it', async () => {
    for (const header of ['x-forwarded-for', 'forwarded', 'via', 'x-real-ip'])
      expect([header, (await ask({ [header]: '203.0.113.9' })).status]).toEqual([header, 403]);
    expect((await ask({ authorization: 'Bearer whatever' })).status).toBe(200);
  });

  it('take the token where one is set, from anywhere', async () => {
    const token = 'a token of the watcher';
    const guarded = await startTestServer({ EMBER_METRICS_TOKEN: token.replaceAll(' ', '-') });
    const bearer = (text: string) => ({ authorization: `Bearer ${text}`, 'x-forwarded-for': '203.0.113.9' });
    expect((await ask({}, guarded)).status).toBe(403);
    expect((await ask(bearer('another-token-of-it'), guarded)).status).toBe(403);
    expect((await ask(bearer(token.replaceAll(' ', '-')), guarded)).status).toBe(200);
    await guarded.stop();
  });

  it('count the conflicts of every thread', async () => {
    const heard: number[] = [];
    const hearing = hearConflicts((errno) => heard.push(errno));
    const failing = (errno: number) => {
      let tries = 0;
      return retried(async () => {
        tries++;
        if (tries === 1) throw Object.assign(new Error('lost'), { errno });
        return tries;
      });
    };
    expect(await failing(1213)).toBe(2);
    // From here on as in another thread.
    tellConflicts();
    expect(await failing(1205)).toBe(2);
    await expect.poll(() => heard).toEqual([1213, 1205]);
    hearing.stop();
  });
});
