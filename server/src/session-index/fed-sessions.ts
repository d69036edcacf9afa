import { promisify } from 'node:util';
import { deflate, inflate } from 'node:zlib';
import { decodeDay, encodeDay } from '@rough-ember/core/session-index/day-block';
import { SessionIndex } from '@rough-ember/core/session-index/session-index';
import { type StoredSession, shortKey, sumSessions } from '@rough-ember/core/session-index/sum-sessions';
import type { Database } from '@rough-ember/store/database';
import { listFilterable } from '@rough-ember/store/filterable-attributes';
import {
  type CountedDay,
  everyDay,
  findCountedDays,
  keepSessionDays,
  listSessionChanges,
  listSessionDays,
  movesKeptDays,
  readKeptDays,
  readSessionSums,
  readSessionsOf,
  readSessionsOfDay,
  type SessionSums,
  sessionMark,
} from '@rough-ember/store/session-feed';

const deflated = promisify(deflate);
const inflated = promisify(inflate);

/** Sessions come in crowds; what is older than this is looked for again when somebody asks. */
const freshMs = 1_500;
const keepMs = 60_000;
const largestDay = 2 ** 31;

/**
 * The sessions of an app in memory, fed from the store: from the sums of days that were kept, and from then on from what has
 * changed. Sums are kept anew now and then, so that a start reads no sessions one by one.
 */
export class FedSessions {
  index = new SessionIndex();
  private sums: SessionSums | null = null;
  private seen: ReadonlyMap<string, string> = new Map();
  private seenMoves: ReadonlyMap<number, CountedDay> = new Map();
  private lookedAt = 0;
  private keptAt = 0;
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
    if (!now && performance.now() - this.lookedAt < freshMs && this.sums) return;
    this.refreshing ??= this.takeIn().finally(() => {
      this.refreshing = null;
    });
    return this.refreshing;
  }

  /** Keeps the days that have changed, with how far they go. */
  async keep(): Promise<void> {
    this.keeping = this.keeping.catch(() => {}).then(() => this.keepNow());
    return this.keeping;
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
    if (began - this.keptAt > keepMs) {
      this.keptAt = began;
      // Whoever asks waits for what is new, not for it to be kept; the next round tries again.
      this.keep().catch(() => {});
    }
  }

  /** Sessions are told apart by attributes that were not asked for when they were summed, or moves were forgotten since. */
  private mustBeMadeAnew(attributes: readonly string[]): boolean {
    const { sums } = this;
    return (
      sums !== null &&
      (attributes.some((name) => !sums.attributes.includes(name)) || Number(sums.mark) < Date.now() / 1000 - movesKeptDays * 86_400)
    );
  }

  private async readKept(sums: SessionSums): Promise<void> {
    const index = new SessionIndex();
    for await (const { content } of readKeptDays(this.database, this.appId)) {
      const block = decodeDay(await inflated(content, { maxOutputLength: largestDay }));
      // Sums can be made anew as long as the sessions are there; a damaged day is no reason to count wrongly.
      if (!block.ok) {
        this.sums = { ...sums, mark: '0' };
        return;
      }
      index.addBlock(block.value);
    }
    index.ready();
    this.index = index;
    this.sums = sums;
  }

  /** Sums all sessions that are there, day by day; what is kept of earlier days stays. */
  private async sumAll(attributes: readonly string[]): Promise<void> {
    const mark = await sessionMark(this.database);
    const { rawFrom, generation } = this.sums ?? { rawFrom: null, generation: 0 };
    const index = new SessionIndex();
    if (rawFrom !== null)
      for await (const { day, content } of readKeptDays(this.database, this.appId)) {
        if (day >= rawFrom) continue;
        const block = decodeDay(await inflated(content, { maxOutputLength: largestDay }));
        if (block.ok) index.addBlock(block.value);
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
    this.sums = { mark, attributes, rawFrom, generation };
    this.seen = new Map();
    this.seenMoves = new Map();
  }

  private async takeChanges(): Promise<void> {
    const sums = this.sums as SessionSums;
    const { changed, moves, mark } = await listSessionChanges(this.database, this.appId, sums.mark);
    const news = [...changed].filter(([id, at]) => this.seen.get(id) !== at).map(([id]) => id);
    const moved = [...moves].filter(([id]) => !this.seenMoves.has(id)).map(([, day]) => day);
    await this.sumAgain([...moved, ...(await findCountedDays(this.database, this.appId, news))], sums);
    this.seen = changed;
    this.seenMoves = moves;
    this.sums = { ...sums, mark };
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
    if (this.sums === null) return;
    const { mark, attributes, generation } = this.sums;
    const changed = this.index.takeChangedDays();
    if (changed.length === 0) return;
    const blocks = changed.map((day) => this.index.blockOfDay(day));
    try {
      const days = [];
      for (const block of blocks) days.push({ day: block.day, rows: block.rows, content: await deflated(encodeDay(block), { level: 1 }) });
      // Another process that goes further has kept them already, or will.
      await keepSessionDays(this.database, this.appId, { days, mark, attributes, generation });
    } catch (error) {
      this.index.putBackChangedDays(changed);
      throw error;
    }
  }
}

const nameOf = (key: Uint8Array, day: number): string => `${Buffer.from(key).toString('hex')} ${day}`;
