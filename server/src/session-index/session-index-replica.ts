import { setTimeout as pause } from 'node:timers/promises';
import { promisify } from 'node:util';
import { deflate, inflate } from 'node:zlib';
import { type DayBlock, decodeDay, encodeDay } from '@rough-ember/core/session-index/day-block';
import type { PersonDay } from '@rough-ember/core/session-index/person-day';
import { SessionIndex } from '@rough-ember/core/session-index/session-index';
import { type StoredSession, shortKey, sumSessions } from '@rough-ember/core/session-index/sum-sessions';
import { currentPosition, sequenceChanges } from '@rough-ember/store/change-log';
import type { Database } from '@rough-ember/store/database';
import { listFilterable } from '@rough-ember/store/filterable-attributes';
import {
  type CountedDay,
  checkSessionDays,
  everyDay,
  keepSessionDays,
  listChangedDays,
  listSessionDays,
  readKeptDays,
  readSessionSums,
  readSessionsOf,
  readSessionsOfDay,
  type SessionSums,
} from '@rough-ember/store/session-feed';

import { Patience } from '../within-patience.ts';

const deflated = promisify(deflate);
const inflated = promisify(inflate);

/** Sessions come in crowds; what is older than this is looked for again when somebody asks. */
const freshMs = 1_500;
/** Where thousands of sessions come under one person's id, each look reads all of that person's day: it may take a quarter of the time. */
const restForLook = 4;
const keepMs = 60_000;
export const comparePauseMs = 1_000;
const largestDay = 2 ** 31;

/**
 * The sessions of an app in memory, fed from the store: from the sums of days that were kept, and from then on from what has
 * changed. Sums are kept anew now and then, so that a start reads no sessions one by one.
 */
export class SessionIndexReplica {
  index = new SessionIndex();
  private sums: SessionSums | null = null;
  private mendedBeforeKeeping = 0;
  private lookedAt = 0;
  private lookTookMs = 0;
  private keptAt = 0;
  private readonly patience = new Patience();
  private refreshing: Promise<void> | null = null;
  private keeping: Promise<void> = Promise.resolve();

  constructor(
    private readonly database: Database,
    private readonly appId: number,
  ) {}

  /** Takes in what has changed up to a moment ago; `now` looks even if that was done a moment ago. */
  async refresh({ now = false } = {}): Promise<void> {
    if (this.refreshing) {
      await this.refreshing.catch(() => {});
      if (!now) return;
    }
    if (!now && performance.now() - this.lookedAt < Math.max(freshMs, restForLook * this.lookTookMs) && this.sums) return;
    this.refreshing ??= this.takeIn().finally(() => {
      this.refreshing = null;
    });
    return this.refreshing;
  }

  /** Keeps the days that have changed, with how far they go; never without having compared them with the database. */
  async keep(): Promise<void> {
    this.keeping = this.keeping
      .catch(() => {})
      .then(async () => {
        this.mendedBeforeKeeping += await this.mend(comparePauseMs, this.index.changedDays);
        await this.keepNow();
      });
    return this.keeping;
  }

  /** How many days were put right since this was last asked. */
  takeMended(): number {
    const mended = this.mendedBeforeKeeping;
    this.mendedBeforeKeeping = 0;
    return mended;
  }

  private async takeIn(): Promise<void> {
    const began = performance.now();
    const [kept, filterable] = await Promise.all([readSessionSums(this.database, this.appId), listFilterable(this.database, this.appId)]);
    const attributes = filterable.sort();
    // Somebody asked for everything to be summed anew.
    if (kept && this.sums && kept.generation !== this.sums.generation) this.sums = null;
    else if (kept && this.sums) this.sums = { ...this.sums, rawFrom: kept.rawFrom };
    if (this.sums === null && kept !== null) await this.readKept(kept);
    if (this.sums === null || this.mustBeMadeAnew(attributes)) await this.sumAll(attributes);
    await this.takeChanges();
    this.lookedAt = began;
    this.lookTookMs = performance.now() - began;
    if (began - this.keptAt > keepMs) {
      this.keptAt = began;
      // Whoever asks waits for what is new, not for it to be kept; the next round tries again.
      this.keep().catch(() => {});
    }
  }

  /** Sessions are told apart by attributes that were not asked for when they were summed, or nobody knows how far the sums go. */
  private mustBeMadeAnew(attributes: readonly string[]): boolean {
    const { sums } = this;
    return sums !== null && (sums.position === null || attributes.some((name) => !sums.attributes.includes(name)));
  }

  private async readKept(sums: SessionSums): Promise<void> {
    const index = new SessionIndex();
    for await (const { content } of readKeptDays(this.database, this.appId)) {
      const block = await unpackDay(content);
      // Sums can be made anew as long as the sessions are there; a damaged day is no reason to count wrongly.
      if (block === null) {
        this.sums = { ...sums, position: null };
        return;
      }
      index.addBlock(block);
    }
    index.ready();
    this.index = index;
    this.sums = sums;
  }

  /** Sums all sessions that are there, day by day; what is kept of earlier days stays. */
  private async sumAll(attributes: readonly string[]): Promise<void> {
    const position = await currentPosition(this.database);
    const { rawFrom, generation } = this.sums ?? { rawFrom: null, generation: 0 };
    const index = new SessionIndex();
    if (rawFrom !== null)
      for await (const { day, content } of readKeptDays(this.database, this.appId)) {
        if (day >= rawFrom) continue;
        const block = await unpackDay(content);
        if (block !== null) index.addBlock(block);
      }
    const filterable = new Set(attributes);
    for (const day of await listSessionDays(this.database, this.appId)) {
      if (rawFrom !== null && day < rawFrom) continue;
      const ofDay = new SessionIndex();
      for (const row of sumSessions(await readSessionsOfDay(this.database, this.appId, day), filterable)) ofDay.add(row);
      const block = ofDay.blockOfDay(day);
      index.addBlock(block);
      index.putBackChangedDays([day]);
    }
    index.ready();
    this.index = index;
    this.sums = { position, attributes, rawFrom, generation };
  }

  private async takeChanges(): Promise<void> {
    await this.patience.within(() => sequenceChanges(this.database));
    for (let isAll = false; !isAll; ) {
      const sums = this.sums as SessionSums;
      const changes = sums.position === null ? null : await listChangedDays(this.database, this.appId, sums.position);
      if (changes === null) {
        await this.sumAll(sums.attributes);
        continue;
      }
      await this.sumAgain(changes.days, sums);
      this.sums = { ...sums, position: changes.position };
      isAll = changes.isAll;
    }
  }

  /**
   * Compares the days with what the database has, and sums one again that is not as it should be. What has just changed differs for
   * a moment: a day counts as wrong when it stays so while the database's own stays the same. Gives how many days were put right.
   * `days`: those to compare; all that there are when it is left out.
   */
  async mend(pauseMs: number, days?: readonly number[]): Promise<number> {
    const before = await this.differingDays(days);
    if (before.size === 0) return 0;
    await pause(pauseMs);
    let mended = 0;
    for (const [day, check] of await this.differingDays([...before.keys()]))
      if (before.get(day) === check) {
        await this.sumDayAgain(day);
        mended++;
      }
    return mended;
  }

  /** Days whose sums differ, with what the database has of each. */
  private async differingDays(days?: readonly number[]): Promise<Map<number, string>> {
    const checks = new Map((await checkSessionDays(this.database, this.appId, days)).map((check) => [check.day, check]));
    await this.refresh({ now: true });
    const rawFrom = this.sums?.rawFrom ?? null;
    const sums = this.index.sumsOfDays();
    const nothing = { sessions: 0, crashed: 0, withErrors: 0 };
    const differing = new Map<number, string>();
    for (const day of days ?? new Set([...checks.keys(), ...sums.keys()])) {
      if (rawFrom !== null && day < rawFrom) continue;
      const there = checks.get(day) ?? nothing;
      const here = sums.get(day) ?? nothing;
      if (here.sessions !== there.sessions || here.crashed !== there.crashed || here.withErrors !== there.withErrors)
        differing.set(day, `${there.sessions} ${there.crashed} ${there.withErrors}`);
    }
    return differing;
  }

  private async sumDayAgain(day: number): Promise<void> {
    const sums = this.sums as SessionSums;
    const rows = new Map<string, { person: Uint8Array; rows: PersonDay[] }>();
    const nameOfPerson = (person: Uint8Array) => Buffer.from(person).toString('hex');
    const { persons, rows: count } = this.index.blockOfDay(day);
    for (let at = 0; at < count; at++) {
      const person = persons.slice(8 * at, 8 * at + 8);
      rows.set(nameOfPerson(person), { person, rows: [] });
    }
    for (const row of sumSessions(await readSessionsOfDay(this.database, this.appId, day), new Set(sums.attributes))) {
      const known = rows.get(nameOfPerson(row.person)) ?? { person: row.person, rows: [] };
      known.rows.push(row);
      rows.set(nameOfPerson(row.person), known);
    }
    for (const one of rows.values()) this.index.replace(one.person, day, one.rows);
  }

  private async sumAgain(days: readonly CountedDay[], { rawFrom, attributes }: SessionSums): Promise<void> {
    const wanted = new Map<string, CountedDay>();
    for (const one of days) {
      if (one.day === everyDay) this.index.forget(shortKey(one.countedKey));
      else if (rawFrom === null || one.day >= rawFrom) wanted.set(nameOf(one.countedKey, one.day), one);
    }
    if (wanted.size === 0) return;
    const sessions = await readSessionsOf(this.database, this.appId, [...wanted.values()]);
    const known = new Map<string, StoredSession[]>([...wanted.keys()].map((name) => [name, []]));
    for (const one of sessions) known.get(nameOf(one.countedKey, one.day))?.push(one);
    const filterable = new Set(attributes);
    for (const [name, { countedKey, day }] of wanted)
      this.index.replace(shortKey(countedKey), day, sumSessions(known.get(name) ?? [], filterable));
  }

  private async keepNow(): Promise<void> {
    if (this.sums === null || this.sums.position === null) return;
    const { position, attributes, generation } = this.sums;
    const changed = this.index.takeChangedDays();
    if (changed.length === 0) return;
    const blocks = changed.map((day) => this.index.blockOfDay(day));
    try {
      const days = [];
      for (const block of blocks) days.push({ day: block.day, rows: block.rows, content: await deflated(encodeDay(block), { level: 1 }) });
      // Another process that goes further has kept them already, or will.
      await keepSessionDays(this.database, this.appId, { days, position, attributes, generation });
    } catch (error) {
      this.index.putBackChangedDays(changed);
      throw error;
    }
  }
}

/** A day as it was kept; null when its bytes are none. */
async function unpackDay(content: Buffer): Promise<DayBlock | null> {
  try {
    const block = decodeDay(await inflated(content, { maxOutputLength: largestDay }));
    return block.ok ? block.value : null;
  } catch {
    return null;
  }
}

const nameOf = (key: Uint8Array, day: number): string => `${Buffer.from(key).toString('hex')} ${day}`;
