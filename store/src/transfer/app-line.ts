import { type Database, inTransaction } from '../database.ts';
import { readRules } from '../grouping-changes.ts';
import type { TransferLine } from './export-part.ts';

/** What an app is set to, beside its name and its credentials. */
const settings = {
  platforms: 'platforms',
  ourPackages: 'our_packages',
  scrubRules: 'scrub_rules',
  deskSettings: 'desk_settings',
  stabilitySettings: 'stability_settings',
  retention: 'retention',
} as const;

const parsed = (value: unknown): unknown => (typeof value === 'string' ? JSON.parse(value) : (value ?? null));

/** The settings of an app as one line. */
export async function exportApp(database: Database, appId: number): Promise<TransferLine> {
  const row = await database('apps')
    .where({ id: appId })
    .first([...Object.values(settings), 'name', 'prefix', 'zone']);
  return {
    name: row.name,
    prefix: row.prefix,
    zone: row.zone,
    ...Object.fromEntries(Object.entries(settings).map(([name, column]) => [name, parsed(row[column])])),
    groupingRules: await readRules(database, appId),
  };
}

/** Gives an app the settings of another; its name, prefix and credentials stay its own. */
export async function importApp(database: Database, appId: number, line: TransferLine, by: string): Promise<void> {
  await inTransaction(database, async (transaction) => {
    const columns = Object.entries(settings).map(([name, column]) => [column, line[name] === null ? null : JSON.stringify(line[name])]);
    await transaction('apps')
      .where({ id: appId })
      .update({ ...Object.fromEntries(columns), zone: line.zone });
    if (line.groupingRules === '') return;
    const [id] = await transaction('grouping_changes').insert({ app_id: appId, rules: line.groupingRules, state: 'applied', asked_by: by });
    await transaction('apps').where({ id: appId }).update({ grouping_change_id: id });
  });
}
