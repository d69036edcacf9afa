import { deflateSync } from 'node:zlib';
import { dayMs } from '@rough-ember/core/durations';
import { type BlockField, type BlockNames, type DayBlock, dayLayout, encodeDay } from '@rough-ember/core/session-index/day-block';
import { type CountName, countNames, printDay, timedRequest } from '@rough-ember/core/session-index/person-day';
import { Random } from '@rough-ember/demo/random';
import type mysql from 'mysql2/promise';

/** A history of sessions as a busy app has it. */
export const largeSessions = { days: 90, versions: 40, systems: 25, devices: 800, countries: 30, carriers: 60, sessionsADay: 2 } as const;

/** One day of many sessions: versions come one after the other; devices, systems and countries stay with their persons. */
export function largeDay(random: Random, { back, sums, persons }: { back: number; sums: number; persons: number }): DayBlock {
  const { days, versions, systems, devices, countries, carriers, sessionsADay } = largeSessions;
  const who = Uint32Array.from({ length: sums }, () => random.below(persons));
  const newest = Math.ceil(((days - back) / days) * versions);
  const column = (field: BlockField['field'], count: number, of: (person: number, row: number) => number, key = ''): BlockField => ({
    field,
    key,
    dictionary: [
      '',
      ...Array.from({ length: count }, (_, at) => `${field === 'version' ? `4.${at}` : field === 'os.version' ? at : `${field} ${at}`}`),
    ],
    codes: Uint32Array.from(who, (person, row) => 1 + of(person, row)),
  });
  const keys = new Uint8Array(8 * sums);
  const view = new DataView(keys.buffer);
  who.forEach((person, row) => {
    view.setUint32(8 * row, Math.imul(person, 0x9e3779b1) >>> 0, true);
    view.setUint32(8 * row + 4, person, true);
  });
  const counts = Object.fromEntries(countNames.map((name) => [name, new Uint16Array(sums)])) as Record<CountName, Uint16Array>;
  for (let row = 0; row < sums; row++) {
    counts.sessions[row] = 1 + random.below(2 * sessionsADay - 1);
    const chance = random.next();
    if (chance < 0.012) counts.crashed[row] = 1;
    else if (chance < 0.016) counts.hung[row] = 1;
    if (chance < 0.002) counts.crashedAtStart[row] = 1;
  }
  // Most people have one of the newest three versions.
  const fields = [
    column('version', versions, () => Math.max(0, newest - 1 - Math.floor(3 * random.next() ** 2))),
    column('os.version', systems, (person) => person % systems),
    column('device.model', devices, (person) => Math.floor(devices * ((person * 0.618034) % 1) ** 2)),
    column('country', countries, (person) => person % countries),
    column('carrier', carriers, (person) => person % carriers),
    column('device.memory', 6, (person) => person % 6),
    column('flags', 2, (person) => person % 2, 'night-map'),
  ];
  const activities = {
    screens: namesOf(random, sums, { dictionary: screens, each: screensOfASum }),
    requests: namesOf(random, sums, { dictionary: requests, each: requestsOfASum }),
  };
  return { day: today() - back, rows: sums, persons: keys, marks: new Uint8Array(sums), counts, fields, activities };
}

/** What a person did on a day: on five of 40 screens, and requests of four of 25 kinds, each with one of eight usual durations. */
const screensOfASum = 5;
const requestsOfASum = 4;
const screens = Array.from({ length: 40 }, (_, at) => `screen ${at}`);
const requests = Array.from({ length: 25 * 8 }, (_, at) =>
  timedRequest(`GET api.larkfield.example/v1/kind-${at % 25}`, 50 + 3 * Math.floor(at / 25)),
);

function namesOf(random: Random, rows: number, { dictionary, each }: { dictionary: readonly string[]; each: number }): BlockNames {
  const entries = Uint16Array.from({ length: rows * each });
  return {
    dictionary,
    lengths: new Uint16Array(rows).fill(each),
    codes: entries.map((_, at) => random.below(Math.floor(dictionary.length / each)) + Math.floor(dictionary.length / each) * (at % each)),
    counts: entries.map(() => 1 + random.below(3)),
    parts: entries.map(() => 1),
  };
}

const today = (): number => Math.floor(Date.now() / dayMs);

/** Sums of a day at so many sessions in all: what a person did on a day is one sum of two sessions on average. */
export const sumsADay = (sessions: number): number => Math.round(sessions / largeSessions.sessionsADay / largeSessions.days);

/** Fills an app with the sums of many sessions, as they are kept by day. The same each time. */
export async function fillLargeSessions(
  database: mysql.Connection,
  appId: number,
  { sessions, persons }: { sessions: number; persons: number },
): Promise<{ sums: number; bytes: number }> {
  // The product may have read the empty app in already: it begins anew when the generation differs.
  await database.query("INSERT INTO session_sums (app_id, attributes) VALUES (?, '[]')", [appId]);
  const random = new Random(20_261_128);
  const { days } = largeSessions;
  const sums = sumsADay(sessions);
  let bytes = 0;
  for (let back = days - 1; back >= 0; back--) {
    const block = largeDay(random, { back, sums, persons });
    const content = deflateSync(encodeDay(block), { level: 1 });
    bytes += content.length;
    await database.query('INSERT INTO session_days (app_id, day, row_count, content) VALUES (?, ?, ?, ?)', [
      appId,
      printDay(block.day),
      sums,
      content,
    ]);
  }
  await database.query(
    `INSERT INTO session_sums (app_id, position, layout, attributes, raw_from)
     VALUES (?, (SELECT next_position - 1 FROM change_position), ?, '[]', ?)
     ON DUPLICATE KEY UPDATE position = VALUES(position), layout = VALUES(layout), raw_from = VALUES(raw_from), generation = generation + 1`,
    [appId, dayLayout, printDay(today() + 1)],
  );
  return { sums: sums * days, bytes };
}
