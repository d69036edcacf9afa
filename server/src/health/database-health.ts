import { addressOf, type Database, openDatabase } from '@rough-ember/store/database';
import { ApiError } from '../errors.ts';

/**
 * How the database stands. It may be away (no connection), silent (connected, and no answer comes), frozen (it answers and takes
 * no changes, as during a backup), or full (its disk is).
 */
export type DatabaseState = 'ready' | 'away' | 'silent' | 'frozen' | 'full';

const wordsOfStates: Readonly<Record<Exclude<DatabaseState, 'ready'>, string>> = {
  away: 'The database cannot be reached at the moment.',
  silent: 'The database does not answer at the moment.',
  frozen: 'The database takes no changes at the moment, as while a backup holds it.',
  full: 'The disk of the database is full.',
};

/**
 * Each of the two questions of a probe may take so many turns of the event loop. They are counted one by one, so that a process
 * that was busy itself, and could not read an answer that had come, does not lay it on the database.
 */
const stepTurns = 24;
const turnMs = 50;
const stepMs = stepTurns * turnMs;
/** Work is first asked about after this, and then again and again. */
const firstLookMs = 2_500;
const lookMs = 700;
const fullNotedMs = 10_000;

/** Numbers of MariaDB's and InnoDB's errors that say that a disk is full. */
const fullErrors: ReadonlySet<unknown> = new Set([1021, 1026, 1114]);

/** Finds out how the database stands, and keeps nobody waiting for one that does not answer. */
export class DatabaseHealth {
  private readonly probes: Database;
  private probing: Promise<DatabaseState> | null = null;
  /** What it means that the last question still waits for its answer; null when none does. */
  private pending: 'silent' | 'frozen' | null = null;
  private fullAt = Number.NEGATIVE_INFINITY;

  constructor(database: Database) {
    // A connection of its own: those of the pool may all be waiting for what is asked about.
    this.probes = openDatabase(addressOf(database), { connections: 1 });
  }

  /** How it stands now; within three seconds whatever it does. */
  async check(): Promise<DatabaseState> {
    if (performance.now() - this.fullAt < fullNotedMs) return 'full';
    if (this.pending !== null && !this.probing) return this.pending;
    this.probing ??= this.probe().finally(() => {
      this.probing = null;
    });
    return this.probing;
  }

  /** The refusal that the state is, in words; null when it is ready. */
  async problem(): Promise<ApiError | null> {
    const state = await this.check();
    return state === 'ready' ? null : problemOf(state);
  }

  /** Learns from an error of a statement what no probe may try out. */
  note(error: unknown): void {
    if (error instanceof Error && 'errno' in error && fullErrors.has(error.errno)) this.fullAt = performance.now();
  }

  /**
   * Waits for work that needs the database. When it takes long, and the database is why, whoever waits is told so; the work goes
   * on, and what it stores is found to be there when it is sent again. `isExcused`: it waits for something else at the moment.
   */
  async guard<Value>(work: Promise<Value>, isExcused: () => boolean = () => false): Promise<Value> {
    work.catch((error: unknown) => this.note(error));
    let timer: ReturnType<typeof setTimeout> | undefined;
    let isOver = false;
    const told = new Promise<never>((_, reject) => {
      const look = async () => {
        const problem = isExcused() ? null : await this.problem();
        if (isOver) return;
        if (problem && !isExcused()) reject(problem);
        else timer = setTimeout(look, lookMs);
      };
      timer = setTimeout(look, firstLookMs);
    });
    told.catch(() => {});
    try {
      return await Promise.race([work, told]);
    } finally {
      isOver = true;
      clearTimeout(timer);
    }
  }

  async close(): Promise<void> {
    // A connection that waits for an answer would be waited for.
    await Promise.race([this.probes.destroy(), new Promise((resolve) => setTimeout(resolve, stepMs).unref())]);
  }

  private async probe(): Promise<DatabaseState> {
    const answer = await this.ask('SELECT 1', 'silent');
    if (answer !== 'ready') return answer;
    // It changes nothing, but asks for the right to.
    return this.ask('UPDATE migration_lease SET id = id WHERE id = 1', 'frozen');
  }

  /** Asks one question; `unanswered` is what it means when no answer comes. */
  private ask(statement: string, unanswered: 'silent' | 'frozen'): Promise<DatabaseState> {
    this.pending = unanswered;
    const asking = Promise.resolve(this.probes.raw(statement)).then(
      (): DatabaseState => 'ready',
      (error: unknown): DatabaseState => (lockErrors.has((error as { errno?: unknown }).errno) ? 'frozen' : 'away'),
    );
    asking.then(() => {
      this.pending = null;
    });
    return new Promise((resolve) => {
      let left = stepTurns;
      const turn = () => {
        left -= 1;
        if (left === 0) resolve(unanswered);
        else timer = setTimeout(turn, turnMs).unref();
      };
      let timer = setTimeout(turn, turnMs).unref();
      asking.then((state) => {
        clearTimeout(timer);
        resolve(state);
      });
    });
  }
}

const lockErrors: ReadonlySet<unknown> = new Set([1205, 1290]);

const problemOf = (state: Exclude<DatabaseState, 'ready'>): ApiError =>
  new ApiError(state === 'full' ? 'disk-full' : 'unavailable', `${wordsOfStates[state]} Nothing of this request is confirmed.`);
