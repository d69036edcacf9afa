import type { Database } from './database.ts';

/** Bodies of reports that are read at once; a single one may be of several megabytes. */
export const bodiesAtOnceBytes = 32_000_000;

/** Reports of before their size was kept are taken to be of this size. */
export const unknownReportBytes = 12_000;

/** SQL for the size of what is kept of a report. */
export const reportBytes = `(COALESCE(body_bytes, ${unknownReportBytes}) + COALESCE(made_bytes, 0))`;

/** The columns by which reports are read in parts; a double comes as a number, a sum of integers as text. */
export const sizedRow = (database: Database) => ({ row: 'reports.id', bytes: database.raw(`CAST(${reportBytes} AS DOUBLE)`) }) as const;

/** Runs of rows, each of about so many bytes or characters together, in order. */
export function* partsOfSize<Row>(rows: readonly Row[], sizeOf: (row: Row) => number, most: number): Iterable<Row[]> {
  let part: Row[] = [];
  let size = 0;
  for (const row of rows) {
    if (part.length > 0 && size + sizeOf(row) > most) {
      yield part;
      part = [];
      size = 0;
    }
    part.push(row);
    size += sizeOf(row);
  }
  if (part.length > 0) yield part;
}
