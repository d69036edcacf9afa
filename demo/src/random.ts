const hexDigits = '0123456789abcdef';

/** A small deterministic generator (mulberry32): the same seed gives the same demo on every machine. */
export class Random {
  private state: number;

  constructor(seed: number) {
    this.state = seed >>> 0;
  }

  /** Uniform in `[0, 1)`. */
  next(): number {
    this.state = (this.state + 0x6d2b79f5) >>> 0;
    let mixed = this.state;
    mixed = Math.imul(mixed ^ (mixed >>> 15), mixed | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  }

  /** Uniform whole number in `[0, below)`. */
  below(below: number): number {
    return Math.floor(this.next() * below);
  }

  pick<Item>(items: readonly Item[]): Item {
    return items[this.below(items.length)] as Item;
  }

  /** One of the items, each as likely as its weight says. */
  weighted<Item extends { readonly weight: number }>(items: readonly Item[]): Item {
    let left = this.next() * items.reduce((sum, item) => sum + item.weight, 0);
    for (const item of items) {
      left -= item.weight;
      if (left < 0) return item;
    }
    return items[items.length - 1] as Item;
  }

  uuid(): string {
    let hex = '';
    for (let digit = 0; digit < 32; digit++) hex += hexDigits[this.below(16)];
    const variant = '89ab'[this.below(4)];
    return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-4${hex.slice(13, 16)}-${variant}${hex.slice(17, 20)}-${hex.slice(20)}`;
  }
}
