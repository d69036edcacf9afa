import type { Item } from './item.ts';
import type { Storage } from './storage.ts';

const name = 'ember.outbox';
const maximumItems = 200;
const maximumCharacters = 500_000;

/** What makes an item one: a session has several. */
const idOf = ({ type, id, sequence }: Item): string => `${type} ${id} ${sequence ?? ''}`;

/**
 * Items that wait for the server. They are in storage before anything else happens to them, so they survive a crash. Several
 * processes or tabs may share the storage: each keeps what it made itself until that was sent, whatever another one writes, and
 * sends what the others left there, too; the server takes an item once, however often it comes.
 */
export class Outbox {
  private own: Item[] = [];

  constructor(private readonly storage: Storage) {}

  get size(): number {
    return this.items().length;
  }

  add(item: Item): void {
    // A later item of a session says all that the ones before it said.
    const isOutdated = (one: Item) => item.type === 'session' && one.type === 'session' && one.id === item.id && one.state !== 'crashed';
    const kept = this.items().filter((one) => !isOutdated(one));
    this.own = [...this.own.filter((one) => !isOutdated(one)), item];
    this.write([...kept, item]);
  }

  /** The oldest items, at most so many. */
  first(count: number): Item[] {
    return this.items().slice(0, count);
  }

  remove(items: readonly Item[]): void {
    this.own = without(this.own, items);
    this.write(without(this.items(), items));
  }

  /** What waits in storage, and what is ours and was overwritten there by another process. */
  private items(): Item[] {
    const stored = read(this.storage);
    return [...stored, ...without(this.own, stored)];
  }

  private write(wanted: readonly Item[]): void {
    const items = [...wanted];
    const given: Item[] = [];
    while (items.length > maximumItems) given.push(takeLeast(items));
    let text = JSON.stringify(items);
    for (; text.length > maximumCharacters && items.length > 1; text = JSON.stringify(items)) given.push(takeLeast(items));
    this.own = without(this.own, given);
    for (;;) {
      try {
        this.storage.set(name, text);
        return;
      } catch {
        // The storage is full: the least of what waits makes room there until the rest fits. What is ours is sent from memory.
        if (items.length === 0) return;
        takeLeast(items);
        text = JSON.stringify(items);
      }
    }
  }
}

/** Takes out what goes first when there is no room: what is attached, sessions, then handled errors, then whatever is oldest. */
function takeLeast(items: Item[]): Item {
  const rank = (item: Item) => (item.type === 'attachment' ? 0 : item.type === 'session' ? 1 : item.kind === 'error' ? 2 : 3);
  let victim = 0;
  items.forEach((item, index) => {
    if (rank(item) < rank(items[victim] as Item)) victim = index;
  });
  return items.splice(victim, 1)[0] as Item;
}

function without(items: readonly Item[], gone: readonly Item[]): Item[] {
  const ids = new Set(gone.map(idOf));
  return items.filter((item) => !ids.has(idOf(item)));
}

function read(storage: Storage): Item[] {
  try {
    const items: unknown = JSON.parse(storage.get(name) ?? '[]');
    return Array.isArray(items) ? items.filter((one) => typeof one === 'object' && one !== null && typeof one.id === 'string') : [];
  } catch {
    return [];
  }
}
