type TypedArray = Uint8Array | Int32Array | Uint32Array | Float32Array | Float64Array;

/** A column of numbers that grows at its end. */
export class Growing<Column extends TypedArray> {
  length = 0;

  constructor(public values: Column) {}

  push(value: number): void {
    this.reserve(1);
    this.values[this.length++] = value;
  }

  pushAll(values: ArrayLike<number>): void {
    this.reserve(values.length);
    this.values.set(values, this.length);
    this.length += values.length;
  }

  private reserve(count: number): void {
    const wanted = this.length + count;
    if (wanted <= this.values.length) return;
    const Column = this.values.constructor as new (size: number) => Column;
    const grown = new Column(Math.max(wanted, this.values.length * 2, 1024));
    grown.set(this.values);
    this.values = grown;
  }
}
