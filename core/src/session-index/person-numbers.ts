/** Numbers distinct keys of 8 bytes from 0, without an object for each. */
export class PersonNumbers {
  private count = 0;
  private words = new Int32Array(2 * 1024);
  /** Number of the key + 1 in each slot; 0 is free. */
  private slots = new Uint32Array(4096);

  get size(): number {
    return this.count;
  }

  /** The number of a key of which these are the two halves, a new one for a new key. */
  numberOf(low: number, high: number): number {
    const mask = this.slots.length - 1;
    let slot = hash(low, high) & mask;
    for (let found = this.slots[slot] as number; found !== 0; found = this.slots[slot] as number) {
      const at = 2 * (found - 1);
      if (this.words[at] === low && this.words[at + 1] === high) return found - 1;
      slot = (slot + 1) & mask;
    }
    const number = this.count++;
    this.slots[slot] = number + 1;
    if (2 * this.count > this.words.length) {
      const grown = new Int32Array(this.words.length * 2);
      grown.set(this.words);
      this.words = grown;
    }
    this.words[2 * number] = low;
    this.words[2 * number + 1] = high;
    if (this.count * 2 > this.slots.length) this.grow();
    return number;
  }

  /** The two halves of the key of a number. */
  keyOf(number: number): readonly [low: number, high: number] {
    return [this.words[2 * number] as number, this.words[2 * number + 1] as number];
  }

  /** The same for one key always, and as good as random among keys. */
  hashOf(number: number): number {
    return hash((this.words[2 * number] as number) ^ 0x51_7c_c1_b7, this.words[2 * number + 1] as number);
  }

  private grow(): void {
    const slots = new Uint32Array(this.slots.length * 2);
    const mask = slots.length - 1;
    for (let number = 0; number < this.count; number++) {
      let slot = hash(this.words[2 * number] as number, this.words[2 * number + 1] as number) & mask;
      while (slots[slot] !== 0) slot = (slot + 1) & mask;
      slots[slot] = number + 1;
    }
    this.slots = slots;
  }
}

function hash(low: number, high: number): number {
  let mixed = Math.imul(low ^ (high >>> 15), 0x85ebca6b) ^ high;
  mixed = Math.imul(mixed ^ (mixed >>> 16), 0x7feb352d) ^ low;
  return (mixed ^ (mixed >>> 15)) >>> 0;
}

/** The two halves of a key of eight bytes, as they are read in little-endian order. */
export function halvesOf(key: Uint8Array): readonly [low: number, high: number] {
  const half = (at: number) =>
    (key[at] as number) | ((key[at + 1] as number) << 8) | ((key[at + 2] as number) << 16) | ((key[at + 3] as number) << 24);
  return [half(0), half(4)];
}
