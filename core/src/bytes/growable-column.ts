/** A column of unsigned 32-bit numbers that grows while it is filled. */
export class GrowableColumn {
  private values = new Uint32Array(1024);
  length = 0;

  push(value: number): void {
    if (this.length === this.values.length) {
      const larger = new Uint32Array(this.values.length * 2);
      larger.set(this.values);
      this.values = larger;
    }
    this.values[this.length++] = value;
  }

  /** Makes room for `count` more values and gives the store, for loops that fill it in place and then set `length`. */
  reserve(count: number): Uint32Array {
    if (this.length + count > this.values.length) {
      const larger = new Uint32Array(Math.max(this.values.length * 2, this.length + count));
      larger.set(this.values.subarray(0, this.length));
      this.values = larger;
    }
    return this.values;
  }

  at(index: number): number {
    return this.values[index] as number;
  }

  set(index: number, value: number): void {
    this.values[index] = value;
  }

  /** The values without a copy; they change with the column, which is to be left alone from now on. */
  view(): Uint32Array {
    return this.values.subarray(0, this.length);
  }

  /** The values in a column of their own. */
  toColumn(): Uint32Array {
    return this.values.slice(0, this.length);
  }

  /** The values at the given places, in that order. */
  gather(places: Uint32Array): Uint32Array {
    const gathered = new Uint32Array(places.length);
    for (let index = 0; index < places.length; index++) gathered[index] = this.values[places[index] as number] as number;
    return gathered;
  }
}
