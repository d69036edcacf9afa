import { readFileSync } from 'node:fs';
import { gunzipSync } from 'node:zlib';
import type { Database } from '../database.ts';

/** Fills an empty database with what an earlier version left behind (`schemas/`). */
export async function loadEarlierDatabase(database: Database, name: string): Promise<void> {
  const dump = gunzipSync(readFileSync(new URL(`./schemas/${name}.sql.gz`, import.meta.url))).toString();
  const connection = await database.client.acquireConnection();
  try {
    for (const statement of statementsOf(dump)) await connection.promise().query(statement);
  } finally {
    await database.client.releaseConnection(connection);
  }
}

/** The statements of a dump; DELIMITER is a word of the client that wrote it. */
function* statementsOf(dump: string): Iterable<string> {
  let delimiter = ';';
  let statement = '';
  for (const line of dump.split('\n')) {
    const changed = /^DELIMITER (\S+)$/.exec(line);
    if (changed) {
      delimiter = changed[1] as string;
      continue;
    }
    statement += `${line}\n`;
    if (!line.endsWith(delimiter)) continue;
    const whole = statement.trim().slice(0, -delimiter.length).trim();
    if (whole !== '') yield whole;
    statement = '';
  }
}
