/**
 * Thrown by a reader that meets bytes its format does not allow. It never leaves the core: every public function of a
 * format catches it and answers with a problem, or a warning where the rest of the file can still be read.
 */
export class MalformedInput extends Error {
  constructor(
    reason: string,
    /** Position in the bytes that were read. */
    readonly offset: number,
  ) {
    super(`${reason} at byte ${offset}`);
    this.name = 'MalformedInput';
  }
}

const maximumLebBytes = 16;

/** Reads numbers one behind the other, never past the end: lengths and counts in a file are only claims. */
export class ByteReader {
  private readonly view: DataView;

  constructor(
    readonly bytes: Uint8Array,
    readonly littleEndian: boolean,
    public position = 0,
    /** First byte that may no longer be read. */
    public end = bytes.length,
  ) {
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    if (end > bytes.length) this.end = bytes.length;
  }

  get atEnd(): boolean {
    return this.position >= this.end;
  }

  /** Moves forward over `length` bytes and gives the position before them. */
  skip(length: number): number {
    const from = this.position;
    if (!(length >= 0 && length <= this.end - from)) throw new MalformedInput(`${length} bytes are wanted where fewer are left`, from);
    this.position = from + length;
    return from;
  }

  /** Goes to a position, which may be the end. */
  seek(position: number): void {
    if (!(position >= 0 && position <= this.end)) throw new MalformedInput('a reference points outside', position);
    this.position = position;
  }

  u8(): number {
    if (this.position >= this.end) throw new MalformedInput('the data ends too early', this.position);
    return this.bytes[this.position++] as number;
  }

  i8(): number {
    return (this.u8() << 24) >> 24;
  }

  u16(): number {
    return this.view.getUint16(this.skip(2), this.littleEndian);
  }

  u24(): number {
    const at = this.skip(3);
    const [low, middle, high] = this.littleEndian ? [at, at + 1, at + 2] : [at + 2, at + 1, at];
    return (this.bytes[low] as number) | ((this.bytes[middle] as number) << 8) | ((this.bytes[high] as number) << 16);
  }

  u32(): number {
    return this.view.getUint32(this.skip(4), this.littleEndian);
  }

  /** As a number: exact up to 2^53, which all addresses of user programs and all offsets are below. */
  u64(): number {
    const at = this.skip(8);
    const first = this.view.getUint32(at, this.littleEndian);
    const second = this.view.getUint32(at + 4, this.littleEndian);
    return this.littleEndian ? second * 0x1_0000_0000 + first : first * 0x1_0000_0000 + second;
  }

  /** An unsigned number of 1, 2, 3, 4 or 8 bytes. */
  unsigned(size: number): number {
    switch (size) {
      case 1:
        return this.u8();
      case 2:
        return this.u16();
      case 3:
        return this.u24();
      case 4:
        return this.u32();
      case 8:
        return this.u64();
      default:
        throw new MalformedInput(`a number of ${size} bytes is not known`, this.position);
    }
  }

  /** Unsigned LEB128 (DWARF 5 section 7.6). */
  uleb(): number {
    const first = this.u8();
    if (first < 0x80) return first;
    let value = first & 0x7f;
    let scale = 128;
    for (let count = 1; ; count++) {
      if (count > maximumLebBytes) throw new MalformedInput('a LEB128 number does not end', this.position);
      const byte = this.u8();
      value += (byte & 0x7f) * scale;
      if (byte < 0x80) return value;
      scale *= 128;
    }
  }

  /** Moves behind a LEB128 number of either kind. */
  skipLeb(): void {
    for (let count = 0; count < maximumLebBytes; count++) if (this.u8() < 0x80) return;
    throw new MalformedInput('a LEB128 number does not end', this.position);
  }

  /** Signed LEB128 (DWARF 5 section 7.6). */
  sleb(): number {
    let value = 0;
    /** What a negative number lacks to -1, which stays exact where its many leading ones would not. */
    let lacks = 0;
    let scale = 1;
    for (let count = 0; ; count++) {
      if (count > maximumLebBytes) throw new MalformedInput('a LEB128 number does not end', this.position);
      const byte = this.u8();
      value += (byte & 0x7f) * scale;
      lacks += (~byte & 0x7f) * scale;
      if (byte < 0x80) return byte & 0x40 ? -1 - lacks : value;
      scale *= 128;
    }
  }

  /** Moves behind a zero-terminated string and gives its first position. */
  skipString(): number {
    const from = this.position;
    const zero = this.bytes.indexOf(0, from);
    if (zero < 0 || zero >= this.end) throw new MalformedInput('a string does not end', from);
    this.position = zero + 1;
    return from;
  }

  /** A zero-terminated string. */
  string(): string {
    const from = this.skipString();
    return decodeText(this.bytes, from, this.position - 1);
  }

  /** A view of the next bytes. */
  take(length: number): Uint8Array {
    const from = this.skip(length);
    return this.bytes.subarray(from, from + length);
  }
}

/** The unsigned number of 1, 2, 3, 4 or 8 bytes at a position, for look-ups that jump about. */
export function unsignedAt(bytes: Uint8Array, position: number, size: number, littleEndian: boolean): number {
  if (!(position >= 0 && position + size <= bytes.length)) throw new MalformedInput('a reference points outside', position);
  let value = 0;
  if (littleEndian) for (let at = position + size - 1; at >= position; at--) value = value * 256 + (bytes[at] as number);
  else for (let at = position; at < position + size; at++) value = value * 256 + (bytes[at] as number);
  return value;
}

const decoder = new TextDecoder();

/** UTF-8 text; short plain ones, which most names are, without the cost of a decoder. */
export function decodeText(bytes: Uint8Array, from: number, to: number): string {
  if (to - from > 40) return decoder.decode(bytes.subarray(from, to));
  let text = '';
  for (let at = from; at < to; at++) {
    const byte = bytes[at] as number;
    if (byte >= 0x80) return decoder.decode(bytes.subarray(from, to));
    text += String.fromCharCode(byte);
  }
  return text;
}

/** The zero-terminated string at an offset of a string section; empty when the offset lies outside. */
export function stringAt(bytes: Uint8Array, offset: number): string {
  if (!(offset >= 0 && offset < bytes.length)) return '';
  const zero = bytes.indexOf(0, offset);
  return decodeText(bytes, offset, zero < 0 ? bytes.length : zero);
}
