import { createHash } from 'node:crypto';
import { packTermIds } from '@rough-ember/core/report-index/term-ids';
import { versionSortKey } from '@rough-ember/core/version/version-order';
import { Random } from '@rough-ember/demo/random';
import type mysql from 'mysql2/promise';

/** A history as large as a busy app has it. */
export const largeHistory = { reports: 1_000_000, cases: 5_000, people: 200_000, attributes: 60, flags: 140 } as const;

const termSets = 20_000;
const versions = Array.from({ length: 24 }, (_, at) => `4.${Math.floor(at / 4)}.${at % 4}`);

/**
 * Fills an app with reports that are processed already, by statements of the database alone: the bodies are those of reports
 * of the demo, case sizes fall as 1/rank, and every report has one of many thousand sets of values. The same each time.
 */
export async function fillLargeHistory(
  database: mysql.Connection,
  appId: number,
  { reports = largeHistory.reports }: { reports?: number } = {},
): Promise<void> {
  const random = new Random(20_260_501);
  const { cases, people } = largeHistory;
  await database.query('SET SESSION unique_checks = 0, foreign_key_checks = 0');
  await fillCases(database, appId, random);
  const lastTerm = await fillTerms(database, appId);
  await fillTermSets(database, random, lastTerm);
  await database.query(
    `CREATE TEMPORARY TABLE bodies (place INT PRIMARY KEY AUTO_INCREMENT, body MEDIUMTEXT, readable MEDIUMTEXT, explanation MEDIUMTEXT)
     SELECT body, readable, explanation FROM report_bodies WHERE readable IS NOT NULL LIMIT 64`,
  );
  const [[counted]] = (await database.query('SELECT COUNT(*) AS bodies FROM bodies')) as unknown as [{ bodies: number }[]];
  const [[firstCase]] = (await database.query('SELECT MIN(id) AS id FROM cases WHERE app_id = ?', [appId])) as unknown as [
    { id: number }[],
  ];
  await database.query('CREATE TEMPORARY TABLE version_names (place INT PRIMARY KEY, version VARCHAR(100), version_key VARCHAR(600))');
  await database.query('INSERT INTO version_names VALUES ?', [versions.map((version, at) => [at, version, versionSortKey(version)])]);
  const step = 100_000;
  for (let from = 0; from < reports; from += step) {
    // A case's rank follows from a number spread evenly over the logarithm of all ranks, which makes sizes fall as 1/rank.
    await database.query(
      `INSERT INTO reports (app_id, report_id, kind, occurred_at, received_at, processed_at, version, version_key, build, os_name, os_version,
        device_model, installation_id, person_key, state, case_id)
       SELECT ?, UNHEX(MD5(CONCAT('report', seq))), ELT(1 + (spread DIV 7) % 10, 'crash', 'crash', 'crash', 'crash', 'crash', 'crash', 'hang', 'kill', 'error', 'error'),
        moment, moment, moment, version, version_key, '1', 'Android', '14', 'Brill 6a',
        UNHEX(MD5(CONCAT('person', (spread DIV 11) % ?))), UNHEX(MD5(CONCAT('person', (spread DIV 11) % ?))), 'processed', ? + LEAST(?, FLOOR(EXP(RAND(seq) * LN(?)))) - 1
       FROM (SELECT seq, CRC32(seq) AS spread, UTC_TIMESTAMP(3) - INTERVAL (CRC32(seq * 7) % 7776000) SECOND AS moment FROM seq_${from + 1}_to_${from + step}) AS drawn
       JOIN version_names ON place = (spread DIV 13) % ?`,
      [appId, people, people, firstCase?.id, cases, cases, versions.length],
    );
  }
  await database.query(
    `INSERT INTO report_bodies (report_row, body, readable, explanation)
     SELECT reports.id, bodies.body, bodies.readable, bodies.explanation FROM reports JOIN bodies ON place = 1 + reports.id % ? WHERE app_id = ?`,
    [counted?.bodies, appId],
  );
  await database.query(
    'INSERT INTO report_terms (report_row, terms) SELECT reports.id, term_sets.terms FROM reports JOIN term_sets ON place = CRC32(reports.id) % ? WHERE app_id = ?',
    [termSets, appId],
  );
  await database.query('DROP TABLE term_sets');
  await database.query('ANALYZE TABLE reports, cases, report_terms');
}

async function fillCases(database: mysql.Connection, appId: number, random: Random): Promise<void> {
  const types = ['NullPointerException', 'IllegalStateException', 'EOFException', 'SIGSEGV (SEGV_MAPERR)', 'TypeError', 'RangeError'];
  const rows = Array.from({ length: largeHistory.cases }, (_, at) => [
    appId,
    at + 1,
    'crash',
    random.pick(types),
    `Module${at % 97}.function${at}`,
    `no perch ${at}`,
    false,
  ]);
  for (let at = 0; at < rows.length; at += 1_000)
    await database.query('INSERT INTO cases (app_id, number, kind, what, where_text, message, provisional) VALUES ?', [
      rows.slice(at, at + 1_000),
    ]);
}

/** Adds the values that reports may have; gives the id of the last one. */
async function fillTerms(database: mysql.Connection, appId: number): Promise<number> {
  const terms: [field: string, key: string, value: string][] = [
    ...versions.map((version): [string, string, string] => ['version', '', version]),
    ...['10', '11', '12', '13', '14', '15'].map((version): [string, string, string] => ['os.version', '', version]),
    ...Array.from({ length: 300 }, (_, at): [string, string, string] => ['device.model', '', `Brill ${at}`]),
    ...['GB', 'IE', 'DE', 'NO'].map((country): [string, string, string] => ['country', '', country]),
    ...Array.from({ length: largeHistory.flags * 2 }, (_, at): [string, string, string] => [
      'flags',
      `flag-${at >> 1}`,
      at % 2 === 0 ? 'on' : 'off',
    ]),
    ...Array.from({ length: largeHistory.attributes * 12 }, (_, at): [string, string, string] => [
      'attributes',
      `attribute-${Math.floor(at / 12)}`,
      `value ${at % 12}`,
    ]),
    ...Array.from({ length: 400 }, (_, at): [string, string, string] => ['trail', '', `screen number-${at}`]),
    ...Array.from({ length: 20_000 }, (_, at): [string, string, string] => [
      'stack',
      '',
      Array.from({ length: 20 }, (_, depth) => `com.larkfield.Module${(at * 7 + depth) % 97}.function${(at + depth * 31) % 5_000}`).join(
        '\n',
      ),
    ]),
  ];
  for (let at = 0; at < terms.length; at += 2_000)
    await database.query('INSERT INTO terms (app_id, hash, field, term_key, value) VALUES ?', [
      terms.slice(at, at + 2_000).map((term) => [appId, createHash('md5').update(term.join('\u0000')).digest(), ...term]),
    ]);
  const [[last]] = (await database.query('SELECT MAX(id) AS id FROM terms WHERE app_id = ?', [appId])) as unknown as [{ id: number }[]];
  return last?.id ?? 0;
}

/** Sets of values, each with about forty, of which reports have one. */
async function fillTermSets(database: mysql.Connection, random: Random, lastTerm: number): Promise<void> {
  await database.query('CREATE TABLE term_sets (place INT PRIMARY KEY, terms BLOB NOT NULL)');
  const counts = [versions.length, 6, 300, 4, largeHistory.flags * 2, largeHistory.attributes * 12, 400, 20_000];
  const firsts: number[] = [];
  let first = lastTerm + 1 - counts.reduce((sum, one) => sum + one, 0);
  for (const count of counts) {
    firsts.push(first);
    first += count;
  }
  const draws = [1, 1, 1, 1, 8, 15, 12, 1];
  const draw = () =>
    draws.flatMap((times, group) =>
      Array.from({ length: times }, () => (firsts[group] as number) + Math.floor(random.next() ** 2 * (counts[group] as number))),
    );
  const rows = Array.from({ length: termSets }, (_, place) => [place, Buffer.from(packTermIds([...new Set(draw())]))]);
  for (let at = 0; at < rows.length; at += 2_000) await database.query('INSERT INTO term_sets VALUES ?', [rows.slice(at, at + 2_000)]);
}
