/** Numbers distinct keys of 16 bytes from 0, without an object for each; a million take 24 MB. */
export class Numbering {
  private count = 0;
  private words = new Int32Array(4 * 1024);
  /** Number of the key + 1 in each slot; 0 is free. */
  private slots = new Uint32Array(4096);

  get size(): number {
    return this.count;
  }

  /** The number of a key, a new one for a new key. */
  numberOf(key: Uint8Array): number {
    const word = (at: number) =>
      (key[at] as number) | ((key[at + 1] as number) << 8) | ((key[at + 2] as number) << 16) | ((key[at + 3] as number) << 24);
    const a = word(0);
    const b = word(4);
    const c = word(8);
    const d = word(12);
    const mask = this.slots.length - 1;
    let slot = hash(a, b, c, d) & mask;
    for (let found = this.slots[slot] as number; found !== 0; found = this.slots[slot] as number) {
      const at = 4 * (found - 1);
      if (this.words[at] === a && this.words[at + 1] === b && this.words[at + 2] === c && this.words[at + 3] === d) return found - 1;
      slot = (slot + 1) & mask;
    }
    const number = this.count++;
    this.slots[slot] = number + 1;
    if (4 * this.count > this.words.length) {
      const grown = new Int32Array(this.words.length * 2);
      grown.set(this.words);
      this.words = grown;
    }
    this.words.set([a, b, c, d], 4 * number);
    if (this.count * 2 > this.slots.length) this.grow();
    return number;
  }

  private grow(): void {
    const slots = new Uint32Array(this.slots.length * 2);
    const mask = slots.length - 1;
    const { words } = this;
    for (let number = 0; number < this.count; number++) {
      const at = 4 * number;
      let slot = hash(words[at] as number, words[at + 1] as number, words[at + 2] as number, words[at + 3] as number) & mask;
      while (slots[slot] !== 0) slot = (slot + 1) & mask;
      slots[slot] = number + 1;
    }
    this.slots = slots;
  }
}

function hash(a: number, b: number, c: number, d: number): number {
  let mixed = Math.imul(a ^ (b >>> 15), 0x85ebca6b) ^ Math.imul(c ^ (d >>> 13), 0xc2b2ae35);
  mixed = Math.imul(mixed ^ (mixed >>> 16), 0x7feb352d) ^ b ^ d;
  return (mixed ^ (mixed >>> 15)) >>> 0;
}
