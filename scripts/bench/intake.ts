import { randomUUID } from 'node:crypto';
import { setTimeout as pause } from 'node:timers/promises';
import type { ReportInput } from '@rough-ember/core/report/report';
import { larkfieldReports } from '@rough-ember/demo/larkfield';
import mysql from 'mysql2/promise';
import { databaseOf, type StartedProduct, startProduct } from '../testing/started-product.ts';
import { signedIn } from './ask.ts';
import { type Bench, percentile } from './figure.ts';

const reportsSent = 20_000;
export const batchSize = 100;
const senders = 4;
const steadyRate = 200;
const steadySeconds = 60;

/** The demo's reports over and over, each time as new ones: real obfuscated stacks of several builds, or of those wanted. */
export function reportLines(wanted: (report: ReportInput) => boolean = () => true): () => { id: string; line: string } {
  const originals = larkfieldReports(new Date()).filter(wanted);
  let next = 0;
  return () => {
    const id = randomUUID();
    const original = originals[next++ % originals.length] as object;
    return { id, line: JSON.stringify({ type: 'report', ...original, id, occurredAt: new Date().toISOString() }) };
  };
}

export async function withProduct<Value>(
  folder: string,
  run: (product: StartedProduct, database: mysql.Connection) => Promise<Value>,
): Promise<Value> {
  const product = await startProduct(folder, { EMBER_LOG_LEVEL: 'error' });
  const database = await mysql.createConnection(databaseOf(folder));
  try {
    return await run(product, database);
  } finally {
    await database.end();
    await product.stop();
  }
}

export const send = async ({ address, first }: StartedProduct, lines: readonly string[]): Promise<void> => {
  const answer = await fetch(`${address}/intake/v1/batch`, {
    method: 'POST',
    headers: { authorization: `Bearer ${first.intakeKey}` },
    body: lines.join('\n'),
  });
  if (answer.status !== 202) throw new Error(`a batch was answered with ${answer.status}: ${(await answer.text()).slice(0, 300)}`);
  await answer.arrayBuffer();
};

/** Jobs that wait or are in hand. */
export async function jobsLeft(database: mysql.Connection): Promise<number> {
  const [row] = (await database.query('SELECT COUNT(*) AS count FROM jobs'))[0] as { count: number }[];
  return row?.count ?? 0;
}

/** Waits until everything that was accepted is processed. */
export async function settled(database: mysql.Connection): Promise<void> {
  while ((await jobsLeft(database)) > 0) await pause(250);
}

/** Runs work over batches on several connections at once; gives reports per second. */
export async function rate(
  batches: readonly (readonly string[])[],
  work: (batch: readonly string[], sender: number) => Promise<void>,
): Promise<number> {
  const left = [...batches];
  const began = performance.now();
  await Promise.all(
    Array.from({ length: senders }, async (_, sender) => {
      for (let batch = left.pop(); batch; batch = left.pop()) await work(batch, sender);
    }),
  );
  return (batches.length * batchSize) / ((performance.now() - began) / 1000);
}

/** Reports taken while earlier ones are being processed, against bulk inserts of the same bytes into the same MariaDB. */
export const intakeReports: Bench = (folder) =>
  withProduct(folder, async (product, database) => {
    const next = reportLines();
    const batches = () => Array.from({ length: reportsSent / batchSize }, () => Array.from({ length: batchSize }, () => next().line));
    await send(product, batches()[0] as string[]);
    const taken = await rate(batches(), (batch) => send(product, batch));
    const waiting = await jobsLeft(database);
    await settled(database);
    await database.query('CREATE TABLE raw_reports (id BIGINT PRIMARY KEY AUTO_INCREMENT, body MEDIUMTEXT NOT NULL)');
    const connections = await Promise.all(Array.from({ length: senders }, () => mysql.createConnection(databaseOf(folder))));
    const raw = await rate(batches(), async (batch, sender) => {
      await (connections[sender] as mysql.Connection).query('INSERT INTO raw_reports (body) VALUES ?', [batch.map((line) => [line])]);
    });
    await Promise.all(connections.map((connection) => connection.end()));
    const bytes = (batches()[0] as string[]).join('').length / batchSize;
    return {
      name: 'intake.reports',
      value: taken,
      unit: 'reports/s',
      yardstick: 'the same bytes inserted into one table, as many rows a statement, on as many connections',
      ratio: taken / raw,
      note: `${reportsSent} reports of ${(bytes / 1000).toFixed(1)} kB in batches of ${batchSize} from ${senders} senders; ${waiting} were still to be processed when the last was answered; raw ${raw.toFixed(0)} rows/s`,
    };
  });

const sessionsSent = 60_000;
const sessionsABatch = 500;

/** Sessions as devices send them: begun and ended in one item, each of a person with a device. */
function sessionLines(): () => string {
  let next = 0;
  const persons = 8_000;
  const ids = Array.from({ length: persons }, () => randomUUID());
  return () => {
    const person = (next++ * 7_919) % persons;
    const at = new Date(Date.now() - (next % 86_400) * 1_000);
    return JSON.stringify({
      type: 'session',
      id: randomUUID(),
      sequence: 1,
      at: at.toISOString(),
      startedAt: new Date(at.getTime() - 60_000).toISOString(),
      state: next % 90 === 0 ? 'crashed' : 'ended',
      durationMs: 60_000,
      version: `4.3.${next % 4}`,
      build: '430',
      os: { name: 'Android', version: String(11 + (person % 5)) },
      device: { manufacturer: 'Brill', model: `B${person % 200}`, memoryClass: '4 GB' },
      country: 'GB',
      carrier: 'Estuary Mobile',
      installationId: ids[person],
      flags: { 'night-map': person % 2 === 0 ? 'on' : 'off' },
    });
  };
}

/** Sessions taken, against bulk inserts of the same bytes; and how soon they are in the figures. */
export const intakeSessions: Bench = (folder) =>
  withProduct(folder, async (product, database) => {
    const next = sessionLines();
    const batches = () => Array.from({ length: sessionsSent / sessionsABatch }, () => Array.from({ length: sessionsABatch }, next));
    const perSecond = (rates: number) => (rates * sessionsABatch) / batchSize;
    await send(product, batches()[0] as string[]);
    const taken = perSecond(await rate(batches(), (batch) => send(product, batch)));
    const inFigures = await secondsUntilCounted(product, sessionsSent);
    await database.query('CREATE TABLE raw_sessions_bench (id BIGINT PRIMARY KEY AUTO_INCREMENT, body TEXT NOT NULL)');
    const connections = await Promise.all(Array.from({ length: senders }, () => mysql.createConnection(databaseOf(folder))));
    const raw = perSecond(
      await rate(batches(), async (batch, sender) => {
        await (connections[sender] as mysql.Connection).query('INSERT INTO raw_sessions_bench (body) VALUES ?', [
          batch.map((line) => [line]),
        ]);
      }),
    );
    await Promise.all(connections.map((connection) => connection.end()));
    return {
      name: 'intake.sessions',
      value: taken,
      unit: 'sessions/s',
      yardstick: 'the same bytes inserted into one table, as many rows a statement, on as many connections',
      ratio: taken / raw,
      note: `${sessionsSent} sessions in batches of ${sessionsABatch} from ${senders} senders; all of them in the figures ${inFigures.toFixed(1)} s after the last was answered; raw ${raw.toFixed(0)} rows/s`,
    };
  });

/** How long it takes until Crash-free counts at least so many sessions. */
async function secondsUntilCounted(product: StartedProduct, count: number): Promise<number> {
  const ask = await signedIn(product);
  const began = performance.now();
  for (;;) {
    const { total } = (await ask('/api/v1/apps/larkfield-guide/crash-free?last=7d')) as { total: { sessions: number } };
    if (total.sessions >= count) return (performance.now() - began) / 1000;
    await pause(200);
  }
}

/** How long after its 202 a report is symbolicated, grouped and to be seen, at a steady rate. */
export const visible: Bench = (folder) =>
  withProduct(folder, async (product, database) => {
    const next = reportLines();
    const answeredAt = new Map<string, number>();
    const perSend = 10;
    const began = Date.now();
    const pending: Promise<void>[] = [];
    for (let sent = 0; sent < steadyRate * steadySeconds; sent += perSend) {
      const due = began + (sent / steadyRate) * 1000;
      if (due > Date.now()) await pause(due - Date.now());
      const batch = Array.from({ length: perSend }, next);
      pending.push(
        send(
          product,
          batch.map((one) => one.line),
        ).then(() => {
          const now = Date.now();
          for (const { id } of batch) answeredAt.set(id, now);
        }),
      );
    }
    await Promise.all(pending);
    const seconds = (Date.now() - began) / 1000;
    await settled(database);
    const [rows] = (await database.query(
      "SELECT LOWER(HEX(report_id)) AS id, UNIX_TIMESTAMP(processed_at) * 1000 AS at FROM reports WHERE state = 'processed'",
    )) as unknown as [{ id: string; at: number }[]];
    const processedAt = new Map(rows.map((row) => [row.id, Number(row.at)]));
    const delays = [...answeredAt].map(([id, at]) => Math.max(0, (processedAt.get(id.replaceAll('-', '')) ?? Number.NaN) - at));
    if (delays.some(Number.isNaN)) throw new Error('a report was not processed');
    // A screen is told within this time, and asks once.
    const toldMs = 150;
    const p95 = percentile(delays, 95) + toldMs;
    return {
      name: 'visible.p95',
      value: p95,
      unit: 'ms',
      yardstick: 'the 2,000 ms in which a report is to be on screen',
      ratio: p95 / 2000,
      note: `${answeredAt.size} reports at ${(answeredAt.size / seconds).toFixed(0)} a second; half within ${(percentile(delays, 50) + toldMs).toFixed(0)} ms, the slowest ${(Math.max(...delays) + toldMs).toFixed(0)} ms; includes the ${toldMs} ms in which changes are gathered for screens`,
    };
  });
