import mysql from 'mysql2/promise';
import { type DatabaseAddress, type DatabaseHost, printHost } from './database-address.ts';

const lookEveryMs = 1_000;
/** A node that stands still answers nothing: after so long it is left. */
const answerMs = 2_500;

/** A connection as the driver made it. */
interface RawConnection {
  readonly config: { readonly host?: string; readonly port?: number };
  /** Ended as by the network, so that whoever waits for an answer is told; the driver's own way of ending tells nobody. */
  readonly stream: { destroy(): void };
  once(event: 'end' | 'error', listener: () => void): void;
}

/**
 * The nodes of a cluster, of which one is used: the first that takes changes, and another one as soon as it does not any more. Connections
 * to a node that was left are ended, so that whoever waits for it is told and tries again.
 */
export class DatabaseNodes {
  private chosen: DatabaseHost;
  private readonly open = new Set<RawConnection>();
  private readonly timer: ReturnType<typeof setInterval>;
  private looking: Promise<void> | null = null;

  constructor(private readonly address: DatabaseAddress) {
    this.chosen = address.hosts[0] as DatabaseHost;
    this.timer = setInterval(() => void this.look(), lookEveryMs);
    this.timer.unref();
  }

  /** Where the next connection goes; asked again when it was left meanwhile. */
  async choose(): Promise<DatabaseHost & { expirationChecker: () => boolean }> {
    await this.look();
    const { chosen } = this;
    return { ...chosen, expirationChecker: () => this.chosen !== chosen };
  }

  /** The node that is used. */
  get current(): DatabaseHost {
    return this.chosen;
  }

  /** Learns of a connection that was made. */
  note(connection: RawConnection): void {
    this.open.add(connection);
    const forget = () => this.open.delete(connection);
    connection.once('end', forget);
    connection.once('error', forget);
  }

  stop(): void {
    clearInterval(this.timer);
  }

  /** Stays where it is while that takes changes; else goes to the next node that does. */
  private look(): Promise<void> {
    this.looking ??= this.lookNow().finally(() => {
      this.looking = null;
    });
    return this.looking;
  }

  private async lookNow(): Promise<void> {
    const { hosts } = this.address;
    const from = hosts.indexOf(this.chosen);
    for (let step = 0; step < hosts.length; step++) {
      const host = hosts[(from + step) % hosts.length] as DatabaseHost;
      if (!(await this.takesChanges(host))) continue;
      if (step > 0) this.goTo(host);
      return;
    }
  }

  private goTo(host: DatabaseHost): void {
    const left = printHost(this.chosen);
    this.chosen = host;
    for (const connection of this.open) {
      const { host: its = '', port = 0 } = connection.config;
      if (printHost({ host: its, port }) === left) connection.stream.destroy();
    }
  }

  /** Whether a node answers, and is no part of a cluster that was cut off from the most of it (Galera: wsrep_ready). */
  private async takesChanges(host: DatabaseHost): Promise<boolean> {
    const { user, password } = this.address;
    let connection: mysql.Connection | undefined;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const late = new Promise<boolean>((resolve) => {
      timer = setTimeout(() => resolve(false), answerMs);
    });
    const asked = (async () => {
      connection = await mysql.createConnection({ ...host, user, password, connectTimeout: answerMs });
      connection.on('error', () => {});
      const [rows] = await connection.query("SHOW STATUS LIKE 'wsrep_ready'");
      return (rows as { Value: string }[]).every(({ Value }) => Value === 'ON');
    })().catch(() => false);
    const isWell = await Promise.race([asked, late]);
    clearTimeout(timer);
    // One that comes too late is ended when it comes.
    void asked.then(() => connection?.destroy());
    return isWell;
  }
}
