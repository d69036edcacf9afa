/** Distinct strings under dense numbers, the form in which an index stores every name it holds. */
export class StringTableBuilder {
  private readonly ids = new Map<string, number>();

  /** The number of `text`, the same for the same text. */
  add(text: string): number {
    let id = this.ids.get(text);
    if (id === undefined) {
      id = this.ids.size;
      // A substring keeps the whole text it was cut from alive; a copy keeps memory at what is stored.
      this.ids.set(detached(text), id);
    }
    return id;
  }

  get size(): number {
    return this.ids.size;
  }

  /** All strings in the order of their numbers. */
  strings(): string[] {
    return [...this.ids.keys()];
  }

  /** UTF-8 bytes of all strings one behind the other, and where each begins; the last offset is the end. */
  encode(): { offsets: Uint32Array; bytes: Uint8Array } {
    const encoder = new TextEncoder();
    const offsets = new Uint32Array(this.ids.size + 1);
    let bytes = new Uint8Array(1 << 16);
    let length = 0;
    let index = 0;
    for (const text of this.ids.keys()) {
      const room = text.length * 3;
      if (length + room > bytes.length) {
        const larger = new Uint8Array(Math.max(bytes.length * 2, length + room));
        larger.set(bytes);
        bytes = larger;
      }
      length += encoder.encodeInto(text, bytes.subarray(length, length + room)).written;
      offsets[++index] = length;
    }
    return { offsets, bytes: bytes.slice(0, length) };
  }
}

const detached = (text: string): string => (text.length < 13 ? text : `${text} `.slice(0, -1));

/** Reads a string table back; strings are decoded when asked for and kept. */
export class StringTable {
  private readonly decoded: (string | undefined)[] = [];
  private readonly decoder = new TextDecoder();

  constructor(
    private readonly offsets: Uint32Array,
    private readonly bytes: Uint8Array,
  ) {}

  get(id: number): string {
    const known = this.decoded[id];
    if (known !== undefined) return known;
    const text = this.decoder.decode(this.bytes.subarray(this.offsets[id], this.offsets[id + 1]));
    this.decoded[id] = text;
    return text;
  }

  /** The first place in a column of ascending strings that is not below `wanted`; the column's length when all are. */
  placeIn(column: Uint32Array, wanted: string): number {
    let low = 0;
    let high = column.length;
    while (low < high) {
      const middle = (low + high) >>> 1;
      if (this.get(column[middle] as number) < wanted) low = middle + 1;
      else high = middle;
    }
    return low;
  }
}
