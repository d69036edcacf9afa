import { randomUUID } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { gzipSync } from 'node:zlib';
import mysql from 'mysql2/promise';
import { startApp } from './faults/started-app.ts';
import { freePort } from './mariadb.ts';
import { databaseOf, type StartedProduct, startProduct } from './testing/started-product.ts';

const senders = 4;
/** As many as have a few sessions each. */
const people = 40_000;
const restMs = 150;

/**
 * `npm run soak -- 120`: the product under mixed load for so many minutes, with a fault in each: the server or MariaDB killed, MariaDB
 * stopped for a while, held as by a backup, a flood. Prints the memory of the server minute by minute, and at the end whether anything
 * that was answered 202 is missing, and whether the figures are those of SQL. Exit code 1 when they are not.
 */
export async function main([minutes = '120']: string[]): Promise<number> {
  const folder = mkdtempSync(join(tmpdir(), 'ember-soak-'));
  const soak = new Soak(folder, await freePort());
  try {
    return (await soak.run(Number(minutes))) ? 0 : 1;
  } finally {
    await soak.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}

class Soak {
  private server: StartedProduct | null = null;
  private key = '';
  private cookie = '';
  private isOver = false;
  private readonly answered = new Set<string>();
  private readonly statuses = new Map<string, number>();
  private looks = 0;

  constructor(
    private readonly folder: string,
    private readonly port: number,
  ) {}

  async run(minutes: number): Promise<boolean> {
    const app = await startApp(this.folder, 'soak', this.environment);
    this.server = app.server;
    this.key = app.key;
    this.cookie = app.cookie;
    const working = [...Array.from({ length: senders }, (_, number) => this.send(number)), this.look()];
    const faults = [this.killServer, this.killDatabase, this.stopDatabase, this.holdDatabase, this.flood];
    for (let minute = 0; minute < minutes; minute++) {
      const started = Date.now();
      const fault = faults[minute % faults.length] as () => Promise<void>;
      await pause(20_000);
      await fault.call(this);
      await pause(Math.max(0, 60_000 - (Date.now() - started)));
      console.log(`minute ${minute + 1}, ${fault.name}: ${this.answered.size} reports, ${this.looks} looks, ${this.memory()}`);
    }
    this.isOver = true;
    await Promise.all(working);
    return this.verify();
  }

  async stop(): Promise<void> {
    await this.server?.stop();
  }

  private async start(): Promise<void> {
    this.server = await startProduct(this.folder, { EMBER_DEMO: 'off', ...this.environment });
  }

  private get environment() {
    return { PORT: String(this.port), EMBER_LOG_LEVEL: 'error' };
  }

  private get address(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  private async post(body: string | Uint8Array, headers: Record<string, string> = {}): Promise<number> {
    const answer = await fetch(`${this.address}/intake/v1/batch`, {
      method: 'POST',
      headers: { authorization: `Bearer ${this.key}`, ...headers },
      body: body as BodyInit,
    });
    await answer.text();
    return answer.status;
  }

  /** Sends like many phones: sessions and what broke in them, some of it of odd form; what is not answered is sent again. */
  private async send(number: number): Promise<void> {
    for (let turn = 0; !this.isOver; turn++) {
      const items = Array.from({ length: 10 }, (_, at) => itemsOf(number, turn * 10 + at)).flat();
      const body = items.map((item) => JSON.stringify(item)).join('\n');
      for (;;) {
        const status = await this.post(body).catch(() => 0);
        this.statuses.set(String(status), (this.statuses.get(String(status)) ?? 0) + 1);
        if (status === 202) break;
        await pause(500);
      }
      for (const item of items) if (item.type === 'report') this.answered.add(item.id);
      await pause(restMs);
    }
  }

  private async look(): Promise<void> {
    const paths = ['crash-free?last=all', 'cases?last=all', 'now', 'intake', 'versions'];
    for (let turn = 0; !this.isOver; turn++) {
      const answer = await fetch(`${this.address}/api/v1/apps/soak/${paths[turn % paths.length]}`, {
        headers: { cookie: this.cookie },
      }).catch(() => null);
      await answer?.text().catch(() => '');
      if (answer?.ok) this.looks++;
      await pause(300);
    }
  }

  private readonly pidOf = (file: string): number => Number(readFileSync(join(this.folder, file), 'utf8'));

  private async killServer(): Promise<void> {
    await this.server?.kill();
    await this.start();
  }

  private async killDatabase(): Promise<void> {
    process.kill(this.pidOf('mariadb/mariadbd.pid'), 'SIGKILL');
  }

  private async stopDatabase(): Promise<void> {
    const pid = this.pidOf('mariadb/mariadbd.pid');
    process.kill(pid, 'SIGSTOP');
    await pause(12_000);
    process.kill(pid, 'SIGCONT');
  }

  private async holdDatabase(): Promise<void> {
    const database = await mysql.createConnection(databaseOf(this.folder));
    await database.query('FLUSH TABLES WITH READ LOCK');
    await pause(35_000);
    await database.query('UNLOCK TABLES');
    await database.end();
  }

  private async flood(): Promise<void> {
    const bodies = [
      gzipSync('x\n'.repeat(10_000_000)),
      gzipSync(`{"type":"report","kind":"crash","trail":[${'1,'.repeat(1_900_000)}1]}`),
      gzipSync(Buffer.alloc(200_000_000)),
    ];
    await Promise.all(bodies.map((body) => this.post(body, { 'content-encoding': 'gzip' }).catch(() => 0)));
  }

  private memory(): string {
    const status = readFileSync(`/proc/${this.pidOf('start.pid')}/status`, 'utf8');
    const megabytes = (name: string) => Math.round(Number(new RegExp(`${name}:\\s+(\\d+)`).exec(status)?.[1]) / 1024);
    return `${megabytes('VmRSS')} MB, at most ${megabytes('VmHWM')} MB`;
  }

  private async verify(): Promise<boolean> {
    const database = await mysql.createConnection(databaseOf(this.folder));
    const ask = async <Row>(sql: string): Promise<Row[]> => (await database.query(sql))[0] as Row[];
    for (;;) {
      const [row] = await ask<{ count: number }>('SELECT COUNT(*) AS count FROM jobs');
      if (Number(row?.count) === 0) break;
      await pause(500);
    }
    const stored = new Set((await ask<{ id: string }>('SELECT LOWER(HEX(report_id)) AS id FROM reports')).map(({ id }) => id));
    const lost = [...this.answered].filter((id) => !stored.has(id.replaceAll('-', '')));
    const states = await ask<{ state: string; count: number }>('SELECT state, COUNT(*) AS count FROM reports GROUP BY state');
    const [truth] = await ask<Record<string, number | string>>(
      `SELECT COUNT(*) AS sessions, SUM(state = 'crashed') AS crashed, COUNT(DISTINCT person_key) AS persons,
         COUNT(DISTINCT IF(state = 'crashed', person_key, NULL)) AS personsCrashed FROM sessions WHERE started`,
    );
    const answer = await fetch(`${this.address}/api/v1/apps/soak/crash-free?last=all`, { headers: { cookie: this.cookie } });
    const { total } = (await answer.json()) as { total: Record<string, number> };
    const names = Object.keys(truth ?? {});
    const agree = names.every((name) => Number(truth?.[name]) === total[name]);
    console.log(`answers: ${[...this.statuses].map(([status, count]) => `${status}: ${count}`).join(', ')}`);
    console.log(`${this.answered.size} reports answered 202, ${lost.length} of them lost; states: ${JSON.stringify(states)}`);
    console.log(`SQL: ${JSON.stringify(truth)}; figures: ${JSON.stringify(Object.fromEntries(names.map((name) => [name, total[name]])))}`);
    await database.end();
    return lost.length === 0 && agree && states.every(({ state }) => state === 'processed');
  }
}

interface SoakItem {
  readonly type: 'report' | 'session';
  readonly id: string;
  readonly [field: string]: unknown;
}

/** A session, and in every third one a crash; some reports have attributes of odd forms or a deep stack. */
function itemsOf(sender: number, turn: number): SoakItem[] {
  const sessionId = randomUUID();
  const at = new Date().toISOString();
  const about = {
    version: `1.${turn % 4}.0`,
    build: '1',
    personId: `person ${(sender * 9_973 + turn) % people}`,
    os: { name: 'Android', version: String(12 + (turn % 4)) },
  };
  const session: SoakItem = { type: 'session', id: sessionId, sequence: 1, at, startedAt: at, state: 'open', ...about };
  if (turn % 3 !== 0) return [session];
  const depth = turn % 60 === 0 ? 5_000 : 20;
  const frames = Array.from({ length: depth }, (_, line) => ({
    runtime: 'jvm',
    class: `com.larkfield.Nest${turn % 12}`,
    method: `grow${line % 9}`,
    file: 'Nest.kt',
    line,
  }));
  const attributes = turn % 5 === 0 ? { game: { moves: [{ piece: 'n' }], none: null }, long: 'x'.repeat(9_000) } : { zoom: turn % 20 };
  return [
    session,
    {
      type: 'report',
      id: randomUUID(),
      kind: 'crash',
      occurredAt: at,
      sessionId,
      ...about,
      attributes,
      exceptions: [{ type: 'java.lang.Error', message: `turn ${turn}`, frames }],
    },
  ];
}
