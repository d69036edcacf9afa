import { fieldKey } from '../report-index/report-index.ts';
import { CountedNames } from './counted-names.ts';
import type { DayBlock } from './day-block.ts';
import { type Column, gather } from './gather.ts';
import {
  type ActivityName,
  activityNames,
  type CountName,
  countNames,
  type Day,
  type PersonDay,
  type SessionCounts,
  type SessionField,
} from './person-day.ts';
import { halvesOf, PersonNumbers } from './person-numbers.ts';
import { notTold, ValueColumn } from './value-column.ts';

/** What a row is, beside what it counts. */
export const mark = { excluded: 1, unknownPerson: 2, gone: 4, inferred: 8 } as const;

/** Whether anything of a row went wrong, so that its other counts need be looked at. */
const troubleNames = countNames.filter((name) => name !== 'sessions');

const numberColumns = ['personOf', 'dayOf', 'marks', 'troubled', ...countNames] as const;
type NumberColumn = (typeof numberColumns)[number];

const columnTypes: Readonly<Record<NumberColumn, new (length: number) => Column>> = {
  personOf: Int32Array,
  dayOf: Uint16Array,
  marks: Uint8Array,
  troubled: Uint8Array,
  sessions: Uint16Array,
  crashed: Uint16Array,
  hung: Uint16Array,
  killed: Uint16Array,
  crashedAtStart: Uint16Array,
  withErrors: Uint16Array,
};
const mostOfACount = 65_535;

/** One in so many persons is in the sample. */
export const sampleShare = 16;

/** Rows that were added or changed since the rows were put in order; more, and they are put in order again. */
const leastUnsorted = 50_000;

/**
 * The sessions of an app, rolled up to what each person did on each day, as columns of numbers in the order of persons: so that
 * distinct persons are counted exactly, in one pass, for any filter and any split. It holds nothing that the store does not.
 */
export class SessionIndex {
  /** Rows up to here come person by person: those of person `p` from `starts[p]` up to `ends[p]`. */
  sortedRows = 0;
  starts = new Uint32Array(0);
  ends = new Uint32Array(0);
  /** Of these the first are of the persons in the sample. */
  sampleRows = 0;
  /** Rows in which something went wrong, among those in order. */
  troubledRows = new Uint32Array(0);
  /** Rows of persons that were added since, by person. */
  readonly added = new Map<number, number[]>();
  rows = 0;
  /** The first day of each person, of rows that are there. */
  firstDays: Uint16Array = new Uint16Array(0);

  private columns = Object.fromEntries(numberColumns.map((name) => [name, new columnTypes[name](0)])) as Record<NumberColumn, Column>;
  /** What the sessions of each row did. */
  readonly activities: Readonly<Record<ActivityName, CountedNames>> = { screens: new CountedNames(), requests: new CountedNames() };
  private readonly values = new Map<string, ValueColumn>();
  private readonly persons = new PersonNumbers();
  private weights = new WeakMap<ValueColumn, Float64Array>();
  private gatheredColumns = new WeakMap<Column, Column>();
  private goneRows = 0;
  private outOfOrder = false;
  private changes = 0;
  private readonly changedDaysSinceTaken = new Set<Day>();

  /** Differs after every change. */
  get revision(): number {
    return this.changes;
  }

  get personCount(): number {
    return this.persons.size;
  }

  /** Days that changed since they were last taken. */
  get changedDays(): Day[] {
    return [...this.changedDaysSinceTaken];
  }

  /** Rows that count. */
  get size(): number {
    return this.rows - this.goneRows;
  }

  column(name: NumberColumn): Column {
    return this.columns[name];
  }

  /** A column for the troubled rows alone, kept until the rows are put in order anew. Not for marks, which change in place. */
  ofTroubled(column: Column): Column {
    const known = this.gatheredColumns.get(column);
    if (known) return known;
    const found = gather(column, this.troubledRows);
    this.gatheredColumns.set(column, found);
    return found;
  }

  /** The column of a field; undefined when no session ever told it. */
  valuesOf({ field, key }: SessionField): ValueColumn | undefined {
    return this.values.get(fieldKey(field, key));
  }

  /** Every field that a session told. */
  get fields(): readonly ValueColumn[] {
    return [...this.values.values()];
  }

  /** Days whose rows have changed since this was asked the last time. */
  takeChangedDays(): Day[] {
    const days = [...this.changedDaysSinceTaken];
    this.changedDaysSinceTaken.clear();
    return days;
  }

  /** The days that were taken are still to be kept, since keeping them failed. */
  putBackChangedDays(days: readonly Day[]): void {
    for (const day of days) this.changedDaysSinceTaken.add(day);
  }

  /** Adds a row, as when a whole day is read in. */
  add(row: PersonDay): void {
    // What does not fit one row goes on in another: rows add up.
    const parts = Math.max(1, Math.ceil(row.sessions / mostOfACount));
    for (let part = 0; part < parts; part++) this.addPart(row, part, parts);
  }

  private addPart(source: PersonDay, part: number, parts: number): void {
    this.changes++;
    const row = this.rows++;
    this.reserve();
    const person = this.persons.numberOf(...halvesOf(source.person));
    const { columns } = this;
    columns.personOf[row] = person;
    columns.dayOf[row] = source.day;
    columns.marks[row] =
      (source.excluded ? mark.excluded : 0) | (source.isKnown ? 0 : mark.unknownPerson) | (source.inferred ? mark.inferred : 0);
    for (const name of countNames) columns[name][row] = portion(source[name], part, parts);
    columns.troubled[row] = troubleNames.some((name) => (columns[name][row] as number) > 0) ? 1 : 0;
    for (const { field, key, value } of source.values) {
      const column = this.columnFor({ field, key });
      const code = column.code(value);
      column.reserve(this.rows);
      column.codes[row] = code;
    }
    if (part === 0) for (const name of activityNames) this.activities[name].put(row, source.activities[name]);
    const own = this.added.get(person);
    if (own) own.push(row);
    else this.added.set(person, [row]);
    this.changedDaysSinceTaken.add(source.day);
    if (!source.inferred) this.meetFirstDay(person, source.day);
  }

  /** Puts what a person did on a day in place of what was known of it; nothing forgets the day. */
  replace(person: Uint8Array, day: Day, rows: readonly PersonDay[]): void {
    this.ready();
    const number = this.persons.numberOf(...halvesOf(person));
    this.changes++;
    this.changedDaysSinceTaken.add(day);
    let forgot = false;
    for (const row of this.rowsOfPerson(number))
      if (this.columns.dayOf[row] === day) {
        this.forgetRow(row);
        forgot = true;
      }
    if (forgot) this.findFirstDay(number);
    for (const row of rows) this.add(row);
    const unsorted = this.rows - this.sortedRows;
    if (unsorted > Math.max(leastUnsorted, this.rows / 8)) this.settle();
  }

  /** What each day counts of sessions that told of themselves, whoever's. */
  sumsOfDays(): Map<Day, Pick<SessionCounts, 'sessions' | 'crashed' | 'withErrors'>> {
    const { dayOf, marks, sessions, crashed, withErrors } = this.columns;
    const sums = new Map<Day, { sessions: number; crashed: number; withErrors: number }>();
    for (let row = 0; row < this.rows; row++) {
      if (((marks[row] as number) & (mark.gone | mark.inferred)) !== 0) continue;
      const day = dayOf[row] as number;
      const sum = sums.get(day) ?? { sessions: 0, crashed: 0, withErrors: 0 };
      sum.sessions += sessions[row] as number;
      sum.crashed += crashed[row] as number;
      sum.withErrors += withErrors[row] as number;
      sums.set(day, sum);
    }
    return sums;
  }

  /** Forgets everything of a person. */
  forget(person: Uint8Array): void {
    this.ready();
    this.changes++;
    const number = this.persons.numberOf(...halvesOf(person));
    for (const row of this.rowsOfPerson(number)) {
      this.forgetRow(row);
      this.changedDaysSinceTaken.add(this.columns.dayOf[row] as number);
    }
    this.findFirstDay(number);
  }

  private forgetRow(row: number): void {
    const { columns } = this;
    if (((columns.marks[row] as number) & mark.gone) !== 0) return;
    columns.marks[row] = (columns.marks[row] as number) | mark.gone;
    this.goneRows++;
  }

  private *rowsOfPerson(person: number): Iterable<number> {
    if (person < this.starts.length)
      for (let row = this.starts[person] as number; row < (this.ends[person] as number); row++) if (!this.isGone(row)) yield row;
    for (const row of this.added.get(person) ?? []) if (!this.isGone(row)) yield row;
  }

  private isGone = (row: number): boolean => ((this.columns.marks[row] as number) & mark.gone) !== 0;

  private meetFirstDay(person: number, day: Day): void {
    if (person >= this.firstDays.length) {
      const grown = new Uint16Array(Math.max(person + 1, this.firstDays.length * 2, 1024)).fill(mostOfACount);
      grown.set(this.firstDays);
      this.firstDays = grown;
    }
    if (day < (this.firstDays[person] as number)) this.firstDays[person] = day;
  }

  private findFirstDay(person: number): void {
    if (person < this.firstDays.length) this.firstDays[person] = mostOfACount;
    for (const row of this.rowsOfPerson(person))
      if (((this.columns.marks[row] as number) & mark.inferred) === 0) this.meetFirstDay(person, this.columns.dayOf[row] as number);
  }

  private columnFor(field: SessionField): ValueColumn {
    const name = fieldKey(field.field, field.key);
    const known = this.values.get(name);
    if (known) return known;
    const made = new ValueColumn(field);
    made.reserve(Math.max(this.columns.marks.length, this.rows));
    this.values.set(name, made);
    return made;
  }

  private reserve(): void {
    const room = this.columns.marks.length;
    if (this.rows <= room) return;
    const wanted = Math.max(this.rows, room * 2, 1024);
    for (const name of numberColumns) {
      const grown = new columnTypes[name](wanted);
      grown.set(this.columns[name]);
      this.columns[name] = grown;
    }
    for (const column of this.values.values()) column.reserve(wanted);
    for (const name of activityNames) this.activities[name].reserve(wanted);
  }

  /** How many sessions have each value of a column, by its code: of the persons in the sample, which tells what is common. */
  weightsOf(column: ValueColumn): Float64Array {
    const known = this.weights.get(column);
    if (known && known.length === column.dictionary.length) return known;
    const weights = new Float64Array(column.dictionary.length);
    const { sessions } = this.columns;
    const rows = this.sortedRows > leastUnsorted ? this.sampleRows : this.rows;
    for (let row = 0; row < rows; row++) {
      const code = column.codes[row] ?? notTold;
      weights[code] = (weights[code] as number) + (sessions[row] as number);
    }
    this.weights.set(column, weights);
    return weights;
  }

  /** Whether a person is among the one in `sampleShare` that stands for all where counting everybody would take long. */
  isInSample(person: number): boolean {
    return this.persons.hashOf(person) % sampleShare === 0;
  }

  /** Whether a person is among one in so many, beside being in the sample or not. */
  isAmong(person: number, share: number): boolean {
    return Math.floor(this.persons.hashOf(person) / sampleShare) % share === 0;
  }

  /** Makes the index ready to be counted. */
  ready(): void {
    if (this.outOfOrder) this.settle();
  }

  /** Puts all rows in the order of persons, and drops those that are gone: a counting sort of every column. */
  settle(): void {
    const { personOf, marks } = this.columns;
    const persons = this.persons.size;
    const counts = new Uint32Array(persons);
    for (let row = 0; row < this.rows; row++)
      if (((marks[row] as number) & mark.gone) === 0) {
        const person = personOf[row] as number;
        counts[person] = (counts[person] as number) + 1;
      }
    const starts = new Uint32Array(persons);
    let kept = 0;
    for (const inSample of [true, false]) {
      for (let person = 0; person < persons; person++) {
        if (this.isInSample(person) !== inSample) continue;
        starts[person] = kept;
        kept += counts[person] as number;
      }
      if (inSample) this.sampleRows = kept;
    }
    const order = new Uint32Array(kept);
    const ends = starts.slice();
    for (let row = 0; row < this.rows; row++)
      if (((marks[row] as number) & mark.gone) === 0) {
        const person = personOf[row] as number;
        const at = ends[person] as number;
        order[at] = row;
        ends[person] = at + 1;
      }
    for (const name of numberColumns) {
      const before = this.columns[name];
      const sorted = new columnTypes[name](kept);
      for (let row = 0; row < kept; row++) sorted[row] = before[order[row] as number] as number;
      this.columns[name] = sorted;
    }
    for (const column of this.values.values()) {
      column.reserve(this.rows);
      column.reorder(order);
    }
    for (const name of activityNames) {
      this.activities[name].reserve(this.rows);
      this.activities[name].reorder(order);
    }
    this.starts = starts;
    this.ends = ends;
    const { troubled } = this.columns;
    this.troubledRows = Uint32Array.from({ length: kept }, (_, row) => row).filter((row) => troubled[row] === 1);
    this.sortedRows = kept;
    this.rows = kept;
    this.goneRows = 0;
    this.added.clear();
    this.outOfOrder = false;
    this.weights = new WeakMap();
    this.gatheredColumns = new WeakMap();
    this.changes++;
  }

  /** Takes a day in as it was kept. */
  addBlock({ day, rows, persons, marks, counts, fields, activities }: DayBlock): void {
    this.changes++;
    this.outOfOrder = true;
    const from = this.rows;
    this.rows += rows;
    this.reserve();
    const { columns } = this;
    const halves = new DataView(persons.buffer, persons.byteOffset, persons.byteLength);
    for (let row = 0; row < rows; row++) {
      const person = this.persons.numberOf(halves.getInt32(8 * row, true), halves.getInt32(8 * row + 4, true));
      columns.personOf[from + row] = person;
      if (((marks[row] as number) & mark.inferred) === 0) this.meetFirstDay(person, day);
    }
    columns.dayOf.fill(day, from, this.rows);
    columns.marks.set(marks, from);
    for (const name of countNames) columns[name].set(counts[name], from);
    const { troubled } = columns;
    for (const name of troubleNames) for (let row = 0; row < rows; row++) if ((counts[name][row] as number) > 0) troubled[from + row] = 1;
    for (const { field, key, dictionary, codes } of fields) {
      const column = this.columnFor({ field, key });
      const codeOf = dictionary.map((value, code) => (code === notTold ? notTold : column.code(value)));
      column.reserve(this.rows);
      for (let row = 0; row < rows; row++) column.codes[from + row] = codeOf[codes[row] as number] as number;
    }
    for (const name of activityNames) this.activities[name].append(from, activities[name]);
  }

  /** The rows of a day, to be kept. */
  blockOfDay(day: Day): DayBlock {
    const days = this.columns.dayOf;
    const found: number[] = [];
    for (let row = 0; row < this.rows; row++) if (days[row] === day && !this.isGone(row)) found.push(row);
    const rows = Uint32Array.from(found);
    const persons = new Uint8Array(8 * rows.length);
    const halves = new DataView(persons.buffer);
    rows.forEach((row, at) => {
      const [low, high] = this.persons.keyOf(this.columns.personOf[row] as number);
      halves.setInt32(8 * at, low, true);
      halves.setInt32(8 * at + 4, high, true);
    });
    const numbers = (name: CountName) => Uint16Array.from(rows, (row) => this.columns[name][row] as number);
    return {
      day,
      rows: rows.length,
      persons,
      marks: Uint8Array.from(rows, (row) => this.columns.marks[row] as number),
      counts: Object.fromEntries(countNames.map((name) => [name, numbers(name)])) as Record<CountName, Uint16Array>,
      fields: this.fields.map((column) => column.only(rows)).filter(({ dictionary }) => dictionary.length > 1),
      activities: { screens: this.activities.screens.only(rows), requests: this.activities.requests.only(rows) },
    };
  }
}

/** A share of a count that is spread evenly over rows. */
const portion = (count: number, part: number, parts: number): number =>
  Math.floor((count * (part + 1)) / parts) - Math.floor((count * part) / parts);
