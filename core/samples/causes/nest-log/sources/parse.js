/** Rows of the field log: `species;eggs;date;place`. */
export function requireField(row, at) {
  const value = row.split(';')[at];
  if (value === undefined) throw new Error(`row has no column ${at}`);
  return value;
}

export const eggsOf = (row) => Number.parseInt(requireField(row, 1), 10);

export function placeOf(row) {
  const [east, north] = requireField(row, 3).split(' ');
  return { east: east.length, north: north.length };
}

export function readSeason(text) {
  return text.split('\n').map((row) => ({ eggs: eggsOf(row), day: new Date(requireField(row, 2)).toISOString() }));
}

export class Reader {
  constructor(text) {
    this.text = text;
    this.at = 0;
  }

  next() {
    const end = this.text.indexOf('\n', this.at);
    const row = this.text.slice(this.at, end);
    this.at = end + 1;
    return this.check(row);
  }

  check(row) {
    if (row.length > 20) throw new RangeError(`row of ${row.length} letters`);
    return row;
  }

  *rows() {
    while (this.at < this.text.length) yield this.next();
  }
}

export const longest = (text) => {
  let best = '';
  for (const row of new Reader(text).rows()) if (row.length > best.length) best = row;
  return best;
};
