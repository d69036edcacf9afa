import { type AppSetting, changeAppSetting, readAppSetting } from '../app-settings.ts';
import { type Database, inTransaction } from '../database.ts';
import { readRules } from '../grouping-changes.ts';
import type { TransferLine } from './export-part.ts';

/** What an app is set to, by its name in the line. */
const settings: Readonly<Record<string, AppSetting>> = {
  zone: 'zone',
  platforms: 'platforms',
  ourPackages: 'our-packages',
  scrubRules: 'scrub-rules',
  deskSettings: 'desk',
  stabilitySettings: 'stability',
  retention: 'retention',
};

/** The settings of an app as one line. */
export async function exportApp(database: Database, appId: number): Promise<TransferLine> {
  const { name, prefix } = await database('apps').where({ id: appId }).first('name', 'prefix');
  const line: TransferLine = { name, prefix, groupingRules: await readRules(database, appId) };
  for (const [told, setting] of Object.entries(settings)) line[told] = await readAppSetting(database, appId, setting);
  return line;
}

/**
 * Gives an app the settings of another, each with its change in the history. Its name, prefix and credentials stay its own, and so does
 * how long things are kept: what deletes reports is for an owner to say.
 */
export async function importApp(database: Database, appId: number, line: TransferLine, by: string): Promise<void> {
  for (const [told, setting] of Object.entries(settings))
    if (setting !== 'retention') await changeAppSetting(database, { appId, setting, value: line[told], by });
  const rules = line.groupingRules;
  if (rules === '' || rules === (await readRules(database, appId))) return;
  await inTransaction(database, async (transaction) => {
    const [id] = await transaction('grouping_changes').insert({ app_id: appId, rules, state: 'applied', asked_by: by });
    await transaction('apps').where({ id: appId }).update({ grouping_change_id: id });
  });
}
