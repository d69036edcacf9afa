import type { Knex } from 'knex';

/**
 * Inserts many rows with one statement. The query builder looks at every value on its own, which at hundreds of rows costs more
 * than the database does; here the statement is made once and the values are handed on.
 */
export async function insertRows<Row extends Readonly<Record<string, Knex.Value>>>(
  transaction: Knex.Transaction,
  table: string,
  rows: readonly Row[],
  { ignoreKnown = false, behind = '' }: { ignoreKnown?: boolean; behind?: string } = {},
): Promise<unknown> {
  const [first] = rows;
  if (!first) return [];
  const columns = Object.keys(first);
  const places = `(${columns.map(() => '?').join(', ')})`;
  const [result] = await transaction.raw(
    `INSERT ${ignoreKnown ? 'IGNORE ' : ''}INTO ${table} (${columns.join(', ')}) VALUES ${rows.map(() => places).join(', ')} ${behind}`,
    rows.flatMap((row) => columns.map((column) => row[column] as Knex.Value)),
  );
  return result;
}
