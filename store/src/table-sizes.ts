import type { Database } from './database.ts';

/** How much a table takes of the disk; rows are an estimate of the database. */
export interface TableSize {
  readonly table: string;
  readonly rows: number;
  readonly bytes: number;
}

const leastBytes = 1_000_000;

/** The tables that take more than a megabyte, the largest first. */
export async function listTableSizes(database: Database): Promise<TableSize[]> {
  const [rows] = await database.raw(
    `SELECT table_name AS name, table_rows AS row_count, data_length + index_length AS bytes
     FROM information_schema.tables WHERE table_schema = DATABASE() AND data_length + index_length >= ? ORDER BY bytes DESC`,
    [leastBytes],
  );
  return (rows as { name: string; row_count: unknown; bytes: unknown }[]).map((row) => ({
    table: row.name,
    rows: Number(row.row_count),
    bytes: Number(row.bytes),
  }));
}
