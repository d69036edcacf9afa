import type { Item } from './item.ts';
import type { Storage } from './storage.ts';

const name = 'ember.outbox';
const maximumItems = 200;
const maximumCharacters = 500_000;

/** Items that wait for the server. They are in storage before anything else happens to them, so they survive a crash. */
export class Outbox {
  private items: Item[];

  constructor(private readonly storage: Storage) {
    this.items = read(storage);
  }

  get size(): number {
    return this.items.length;
  }

  add(item: Item): void {
    // A later item of a session says all that the ones before it said.
    if (item.type === 'session')
      this.items = this.items.filter((one) => one.type !== 'session' || one.id !== item.id || one.state === 'crashed');
    this.items.push(item);
    while (this.items.length > maximumItems) this.dropOne();
    this.write();
  }

  /** The oldest items, at most so many. */
  first(count: number): Item[] {
    return this.items.slice(0, count);
  }

  remove(items: readonly Item[]): void {
    const gone = new Set(items);
    this.items = this.items.filter((item) => !gone.has(item));
    this.write();
  }

  /** What goes first when there is no room: sessions, then handled errors, then whatever is oldest. */
  private dropOne(): void {
    const rank = (item: Item) => (item.type === 'session' ? 0 : item.kind === 'error' ? 1 : 2);
    let victim = 0;
    this.items.forEach((item, index) => {
      if (rank(item) < rank(this.items[victim] as Item)) victim = index;
    });
    this.items.splice(victim, 1);
  }

  private write(): void {
    for (;;) {
      const text = JSON.stringify(this.items);
      if (text.length > maximumCharacters && this.items.length > 1) {
        this.dropOne();
        continue;
      }
      try {
        this.storage.set(name, text);
        return;
      } catch {
        // The storage is full: the least of what waits makes room, until it fits.
        if (this.items.length === 0) return;
        this.dropOne();
      }
    }
  }
}

function read(storage: Storage): Item[] {
  try {
    const items: unknown = JSON.parse(storage.get(name) ?? '[]');
    return Array.isArray(items) ? items.filter((one) => typeof one === 'object' && one !== null && typeof one.id === 'string') : [];
  } catch {
    return [];
  }
}
