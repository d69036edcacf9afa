import { MalformedInput } from './byte-reader.ts';
import { ReadBudget } from './read-budget.ts';

const shortBytes = 256;
/** No compiler's name is longer. */
const longestBytes = 1 << 20;
const mostStoredBytes = 2 ** 30;

/**
 * Distinct byte strings under dense numbers. Symbol files hold the same names again and again in several sections, as
 * bytes; they are compared as bytes and decoded only when somebody asks for one.
 */
export class ByteNames {
  private stored = new Uint8Array(1 << 16);
  private storedBytes = 0;
  private offsets = new Uint32Array(1 << 12);
  private slots = new Int32Array(1 << 13).fill(-1);
  private hashes = new Uint32Array(1 << 12);
  private readonly encoder = new TextEncoder();
  private scratch = new Uint8Array(1 << 10);
  /** Of each section, the long strings by their offsets. */
  private readonly longStrings = new Map<Uint8Array, { known: Map<number, number>; budget: ReadBudget }>();
  size = 0;

  /** The number of the bytes `[from, to)`. */
  add(bytes: Uint8Array, from: number, to: number): number {
    let hash = 0x811c9dc5;
    for (let at = from; at < to; at++) hash = Math.imul(hash ^ (bytes[at] as number), 0x01000193);
    hash = (hash ^ (hash >>> 15)) >>> 0;
    const mask = this.slots.length - 1;
    let slot = hash & mask;
    for (let id = this.slots[slot] as number; id >= 0; id = this.slots[slot] as number) {
      if (this.hashes[id] === hash && this.equals(id, bytes, from, to)) return id;
      slot = (slot + 1) & mask;
    }
    const id = this.size;
    this.keep(bytes, from, to, hash);
    this.slots[slot] = id;
    if (this.size * 2 > this.slots.length) this.rehash();
    return id;
  }

  /** The number of the zero-terminated string at `offset`, cut where it is longer than any name; -1 when it lies outside. */
  addStringAt(bytes: Uint8Array, offset: number): number {
    if (!(offset >= 0 && offset < bytes.length)) return -1;
    const shortEnd = Math.min(offset + shortBytes, bytes.length);
    for (let at = offset; at < shortEnd; at++) if (bytes[at] === 0) return this.add(bytes, offset, at);
    return this.addLongStringAt(bytes, offset);
  }

  /** Long strings are read once, as there may be as many references into one as it has bytes. */
  private addLongStringAt(bytes: Uint8Array, offset: number): number {
    let long = this.longStrings.get(bytes);
    if (!long) {
      long = { known: new Map(), budget: new ReadBudget(bytes.length, 'long names') };
      this.longStrings.set(bytes, long);
    }
    const known = long.known.get(offset);
    if (known !== undefined) return known;
    const name = bytes.subarray(offset, offset + longestBytes);
    const zero = name.indexOf(0);
    const length = zero < 0 ? name.length : zero;
    long.budget.spend(length, offset);
    const id = this.add(bytes, offset, offset + length);
    long.known.set(offset, id);
    return id;
  }

  addText(text: string): number {
    if (text.length * 3 > this.scratch.length) this.scratch = new Uint8Array(text.length * 3);
    return this.add(this.scratch, 0, this.encoder.encodeInto(text, this.scratch).written);
  }

  /** A view of the bytes of a name. */
  bytesOf(id: number): Uint8Array {
    return this.stored.subarray(this.offsets[id] as number, this.offsets[id + 1] as number);
  }

  /** All names one behind the other, and where each begins; the last offset is the end. */
  encode(): { offsets: Uint32Array; bytes: Uint8Array } {
    return { offsets: this.offsets.slice(0, this.size + 1), bytes: this.stored.slice(0, this.storedBytes) };
  }

  private equals(id: number, bytes: Uint8Array, from: number, to: number): boolean {
    const begin = this.offsets[id] as number;
    if ((this.offsets[id + 1] as number) - begin !== to - from) return false;
    for (let at = from; at < to; at++) if (this.stored[begin + at - from] !== bytes[at]) return false;
    return true;
  }

  private keep(bytes: Uint8Array, from: number, to: number, hash: number): void {
    const needed = this.storedBytes + (to - from);
    if (needed > mostStoredBytes) throw new MalformedInput('the names are too long together, here', from);
    if (needed > this.stored.length) {
      const larger = new Uint8Array(Math.max(this.stored.length * 2, needed));
      larger.set(this.stored);
      this.stored = larger;
    }
    if (this.size + 2 > this.offsets.length) {
      this.offsets = grown(this.offsets);
      this.hashes = grown(this.hashes);
    }
    this.stored.set(bytes.subarray(from, to), this.storedBytes);
    this.storedBytes = needed;
    this.hashes[this.size] = hash;
    this.offsets[++this.size] = needed;
  }

  private rehash(): void {
    this.slots = new Int32Array(this.slots.length * 2).fill(-1);
    const mask = this.slots.length - 1;
    for (let id = 0; id < this.size; id++) {
      let slot = (this.hashes[id] as number) & mask;
      while ((this.slots[slot] as number) >= 0) slot = (slot + 1) & mask;
      this.slots[slot] = id;
    }
  }
}

function grown(column: Uint32Array): Uint32Array<ArrayBuffer> {
  const larger = new Uint32Array(column.length * 2);
  larger.set(column);
  return larger;
}
