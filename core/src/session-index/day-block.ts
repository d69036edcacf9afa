import { ByteReader, MalformedInput } from '../bytes/byte-reader.ts';
import { fieldNames } from '../fields/fields.ts';
import { failure, type Result, success } from '../result.ts';
import { type ActivityName, activityNames, type CountName, countNames, type Day, type SessionField } from './person-day.ts';

/** The rows of one day as columns, the way they are kept (docs/session-days.md). */
export interface DayBlock {
  readonly day: Day;
  readonly rows: number;
  /** Eight bytes a row. */
  readonly persons: Uint8Array;
  readonly marks: Uint8Array;
  readonly counts: Readonly<Record<CountName, Uint16Array>>;
  readonly fields: readonly BlockField[];
  readonly activities: Readonly<Record<ActivityName, BlockNames>>;
}

/** Names with two counts each, as many as every row has. */
export interface BlockNames {
  readonly dictionary: readonly string[];
  /** How many entries each row has; they follow each other. */
  readonly lengths: Uint16Array;
  readonly codes: Uint16Array;
  readonly counts: Uint16Array;
  readonly parts: Uint16Array;
}

export interface BlockField extends SessionField {
  /** Values by their code; that of 0 stands for what is not told. */
  readonly dictionary: readonly string[];
  readonly codes: Uint32Array;
}

/**
 * Numbers what days hold: raised with any change of what is counted or told apart, so that sums of before are made anew. A test
 * ties it to the bytes that a sample of sessions becomes.
 */
export const dayLayout = 2;

const magic = 0x44_42_4d_45; // "EMBD" in the bytes of the file
/** The first version had no activities, and is read as having none. */
const formatVersion = 2;
const mostRows = 50_000_000;
const mostEntries = 200_000_000;

interface Head {
  readonly day: Day;
  readonly rows: number;
  readonly fields: readonly (SessionField & { readonly dictionary: readonly string[]; readonly width: Width })[];
  readonly activities?: readonly { readonly dictionary: readonly string[]; readonly entries: number }[];
}

type Width = 1 | 2 | 4;

const widthFor = (dictionary: readonly string[]): Width => (dictionary.length <= 256 ? 1 : dictionary.length <= 65_536 ? 2 : 4);

/** Writes a day in the form of docs/session-days.md; numbers are little-endian. */
export function encodeDay({ day, rows, persons, marks, counts, fields, activities }: DayBlock): Uint8Array {
  const head: Head = {
    day,
    rows,
    fields: fields.map(({ field, key, dictionary }) => ({ field, key, dictionary, width: widthFor(dictionary) })),
    activities: activityNames.map((name) => ({ dictionary: activities[name].dictionary, entries: activities[name].codes.length })),
  };
  const headBytes = new TextEncoder().encode(JSON.stringify(head));
  const ofFields = head.fields.reduce((sum, one) => sum + one.width * rows, 0);
  const ofActivities = (head.activities ?? []).reduce((sum, one) => sum + 2 * rows + 6 * one.entries, 0);
  const size = 12 + headBytes.length + 9 * rows + 2 * rows * countNames.length + ofFields + ofActivities;
  const bytes = new Uint8Array(size);
  const view = new DataView(bytes.buffer);
  view.setUint32(0, magic, true);
  view.setUint32(4, formatVersion, true);
  view.setUint32(8, headBytes.length, true);
  bytes.set(headBytes, 12);
  let at = 12 + headBytes.length;
  bytes.set(persons.subarray(0, 8 * rows), at);
  at += 8 * rows;
  bytes.set(marks.subarray(0, rows), at);
  at += rows;
  for (const name of countNames) at = writeNumbers(view, at, counts[name], rows, 2);
  fields.forEach(({ codes }, place) => {
    at = writeNumbers(view, at, codes, rows, head.fields[place]?.width ?? 4);
  });
  for (const name of activityNames) {
    const { lengths, codes, counts, parts } = activities[name];
    for (const column of [lengths, codes, counts, parts]) at = writeNumbers(view, at, column, column.length, 2);
  }
  return bytes;
}

function writeNumbers(view: DataView, from: number, numbers: ArrayLike<number>, rows: number, width: Width): number {
  let at = from;
  for (let row = 0; row < rows; row++, at += width) {
    const number = numbers[row] as number;
    if (width === 1) view.setUint8(at, number);
    else if (width === 2) view.setUint16(at, number, true);
    else view.setUint32(at, number, true);
  }
  return at;
}

/** Reads a day back; every length and code is checked. */
export function decodeDay(bytes: Uint8Array): Result<DayBlock, 'bad-block'> {
  try {
    return success(read(bytes));
  } catch (error) {
    if (error instanceof MalformedInput || error instanceof SyntaxError) return failure('bad-block', error.message);
    throw error;
  }
}

function read(bytes: Uint8Array): DayBlock {
  const reader = new ByteReader(bytes, true);
  if (reader.u32() !== magic) throw new MalformedInput('this is no day of sessions', 0);
  const version = reader.u32();
  if (version !== 1 && version !== formatVersion) throw new MalformedInput(`a day of format ${version} cannot be read`, 4);
  const headLength = reader.u32();
  const headAt = reader.skip(headLength);
  const head = readHead(new TextDecoder().decode(bytes.subarray(headAt, headAt + headLength)), headAt);
  const { day, rows } = head;
  const column = (width: number, entries = rows): number => reader.skip(width * entries);
  const personsAt = column(8);
  const marksAt = column(1);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const counts = Object.fromEntries(
    countNames.map((name) => {
      const at = column(2);
      return [name, Uint16Array.from({ length: rows }, (_, row) => view.getUint16(at + 2 * row, true))];
    }),
  ) as Record<CountName, Uint16Array>;
  const fields = head.fields.map(({ field, key, dictionary, width }) => {
    const at = column(width);
    const codes = new Uint32Array(rows);
    for (let row = 0; row < rows; row++) {
      const code =
        width === 1 ? view.getUint8(at + row) : width === 2 ? view.getUint16(at + 2 * row, true) : view.getUint32(at + 4 * row, true);
      if (code >= dictionary.length) throw new MalformedInput('a code has no value', at + width * row);
      codes[row] = code;
    }
    return { field, key, dictionary, codes };
  });
  const shorts = (at: number, entries: number) => Uint16Array.from({ length: entries }, (_, place) => view.getUint16(at + 2 * place, true));
  const readNames = ({ dictionary, entries }: NonNullable<Head['activities']>[number]): BlockNames => {
    const lengthsAt = column(2);
    const lengths = shorts(lengthsAt, rows);
    if (lengths.reduce((sum, length) => sum + length, 0) !== entries)
      throw new MalformedInput('the rows have more or fewer entries than there are', lengthsAt);
    const codesAt = column(2, entries);
    const codes = shorts(codesAt, entries);
    if (codes.some((code) => code >= dictionary.length)) throw new MalformedInput('a code has no name', codesAt);
    return { dictionary, lengths, codes, counts: shorts(column(2, entries), entries), parts: shorts(column(2, entries), entries) };
  };
  const activities = Object.fromEntries(
    activityNames.map((name, place) => [name, head.activities?.[place] ? readNames(head.activities[place]) : noNames(rows)]),
  ) as DayBlock['activities'];
  return {
    day,
    rows,
    persons: bytes.subarray(personsAt, personsAt + 8 * rows),
    marks: bytes.subarray(marksAt, marksAt + rows),
    counts,
    fields,
    activities,
  };
}

const noNames = (rows: number): BlockNames => ({
  dictionary: [],
  lengths: new Uint16Array(rows),
  codes: new Uint16Array(0),
  counts: new Uint16Array(0),
  parts: new Uint16Array(0),
});

function readHead(text: string, at: number): Head {
  const head = JSON.parse(text) as Partial<Head> | null;
  const isCount = (value: unknown, most: number) => Number.isInteger(value) && (value as number) >= 0 && (value as number) <= most;
  const isDictionary = (one: { readonly dictionary?: unknown } | null) =>
    one !== null && typeof one === 'object' && Array.isArray(one.dictionary) && one.dictionary.every((value) => typeof value === 'string');
  const isField = (one: Partial<Head['fields'][number]> | null) =>
    isDictionary(one) &&
    [1, 2, 4].includes(one?.width as number) &&
    fieldNames.some((name) => name === one?.field) &&
    typeof one?.key === 'string' &&
    one.dictionary?.length !== 0;
  const isNames = (one: Partial<NonNullable<Head['activities']>[number]> | null) => isDictionary(one) && isCount(one?.entries, mostEntries);
  if (
    typeof head !== 'object' ||
    !isCount(head?.day, 65_535) ||
    !isCount(head?.rows, mostRows) ||
    !Array.isArray(head?.fields) ||
    !head.fields.every(isField) ||
    (head.activities !== undefined &&
      !(Array.isArray(head.activities) && head.activities.length === activityNames.length && head.activities.every(isNames)))
  )
    throw new MalformedInput('the head of a day is not what it should be', at);
  return head as Head;
}
