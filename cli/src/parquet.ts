import { createReadStream } from 'node:fs';
import { createInterface } from 'node:readline';
import { fileWriter, ParquetWriter, schemaFromColumnData } from 'hyparquet-writer';

/** The form of a line, as JSON Schema. */
export interface LineForm {
  readonly properties: Readonly<Record<string, Property>>;
}

interface Property {
  readonly type?: string;
  readonly format?: string;
  readonly anyOf?: readonly Property[];
}

type ColumnType = 'DOUBLE' | 'BOOLEAN' | 'TIMESTAMP' | 'STRING' | 'JSON';

/** Rows that are held at once. */
const rowsInGroup = 5_000;

/** Writes lines of JSON as a Parquet file: numbers, truths, times and texts as columns, everything else as JSON. */
export async function writeParquet(file: string, { properties }: LineForm, to: string): Promise<void> {
  const columns = Object.entries(properties).map(([name, property]) => ({ name, type: typeOf(property) }));
  const empty = columns.map(({ name, type }) => ({ name, type, data: [], nullable: true }));
  const writer = new ParquetWriter({
    writer: fileWriter(to),
    schema: schemaFromColumnData({ columnData: empty }),
    createdBy: 'Rough Ember',
  });
  let rows: Record<string, unknown>[] = [];
  const write = async () => {
    if (rows.length === 0) return;
    const columnData = columns.map(({ name, type }) => ({
      name,
      type,
      nullable: true,
      data: rows.map((row) => columnValue(type, row[name])),
    }));
    await writer.write({ columnData, rowGroupSize: rowsInGroup });
    rows = [];
  };
  for await (const text of createInterface({ input: createReadStream(file), crlfDelay: Number.POSITIVE_INFINITY })) {
    if (text.startsWith('{"next":') || text.startsWith('{"end":')) continue;
    rows.push(JSON.parse(text));
    if (rows.length >= rowsInGroup) await write();
  }
  await write();
  writer.finish();
}

function typeOf({ type, format, anyOf }: Property): ColumnType {
  const told = anyOf?.find((one) => one.type !== 'null');
  if (told) return typeOf(told);
  if (type === 'number' || type === 'integer') return 'DOUBLE';
  if (type === 'boolean') return 'BOOLEAN';
  if (type === 'string') return format === 'date-time' ? 'TIMESTAMP' : 'STRING';
  return 'JSON';
}

function columnValue(type: ColumnType, value: unknown): unknown {
  if (value === null || value === undefined) return null;
  if (type === 'TIMESTAMP') return new Date(value as string);
  return value;
}
