/** Numbers of rows, as narrow as they allow. */
export type Column = Uint8Array | Uint16Array | Uint32Array | Int32Array;

/** The values of some rows of a column, one after the other. */
export function gather(column: Column, rows: Uint32Array): Column {
  const found = new (column.constructor as new (length: number) => Column)(rows.length);
  for (let at = 0; at < rows.length; at++) found[at] = column[rows[at] as number] as number;
  return found;
}
