import { eggsOf, requireField } from './parse.js';

class Box {
  #rows = [];
  static limit = 3;

  add(row) {
    if (this.#rows.length >= Box.limit) throw new RangeError(`box is full: ${this.#rows.length}`);
    this.#rows.push(row);
    return this;
  }

  get total() {
    return this.#rows.reduce((sum, row) => sum + eggsOf(row), 0);
  }

  get first() {
    return this.#rows[0].toUpperCase();
  }

  sorted() {
    return this.#rows.sort((one, other) => requireField(one, 5).localeCompare(requireField(other, 5)));
  }
}

export class Shelf extends Box {
  constructor(name, rows) {
    super();
    this.name = name;
    rows.forEach((row) => this.add(row));
  }

  describe() {
    return `${this.name}: ${this.total} of ${this.first}`;
  }

  static open(name, rows) {
    return new Shelf(name, rows);
  }
}

const registry = new Map();
export function register(shelf) {
  registry.set(shelf.name, shelf);
  return shelf;
}
export const lookUp = (name) => registry.get(name).describe();
export const renameAll = (names) => names.map((name) => registry.get(name).sorted().length);
