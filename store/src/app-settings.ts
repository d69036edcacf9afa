import { isDeepStrictEqual } from 'node:util';
import { type Database, inTransaction } from './database.ts';

/** What an app is set to, and the column of `apps` that keeps it; texts as they are, everything else as JSON. */
const settings = {
  name: { column: 'name', isText: true },
  zone: { column: 'zone', isText: true },
  platforms: { column: 'platforms', isText: false },
  'our-packages': { column: 'our_packages', isText: false },
  'scrub-rules': { column: 'scrub_rules', isText: false },
  retention: { column: 'retention', isText: false },
  desk: { column: 'desk_settings', isText: false },
  stability: { column: 'stability_settings', isText: false },
} as const;

export type AppSetting = keyof typeof settings;

/** A change of a setting: what it was and what it became; null where nothing was set. */
export interface SettingChange {
  readonly id: number;
  readonly setting: AppSetting;
  readonly at: Date;
  readonly by: string;
  readonly before: unknown;
  readonly after: unknown;
}

const valueIn = (stored: unknown, isText: boolean): unknown => {
  if (stored === null || stored === undefined) return null;
  return isText || typeof stored !== 'string' ? stored : JSON.parse(stored);
};

/** Sets something of an app and keeps what it was; false when it was so already. */
export async function changeAppSetting(
  database: Database,
  { appId, setting, value, by }: { readonly appId: number; readonly setting: AppSetting; readonly value: unknown; readonly by: string },
): Promise<boolean> {
  const { column, isText } = settings[setting];
  return inTransaction(database, async (transaction) => {
    const row = await transaction('apps').where({ id: appId }).forUpdate().first(column);
    if (!row) return false;
    const before = valueIn(row[column], isText);
    if (isDeepStrictEqual(before, JSON.parse(JSON.stringify(value)))) return false;
    await transaction('apps')
      .where({ id: appId })
      .update({ [column]: isText || value === null ? value : JSON.stringify(value) });
    await transaction('setting_changes').insert({
      app_id: appId,
      setting,
      by_whom: by,
      before_value: before === null ? null : JSON.stringify(before),
      after_value: JSON.stringify(value),
    });
    return true;
  });
}

const columns = { id: 'id', setting: 'setting', at: 'at', by: 'by_whom', before: 'before_value', after: 'after_value' };
type Row = Omit<SettingChange, 'before' | 'after'> & { readonly before: string | null; readonly after: string };

const changeOf = ({ before, after, ...row }: Row): SettingChange => ({
  ...row,
  before: before === null ? null : JSON.parse(before),
  after: JSON.parse(after),
});

/** The latest changes of the settings of an app, the newest first. */
export async function listSettingChanges(database: Database, appId: number, limit: number): Promise<SettingChange[]> {
  const rows: Row[] = await database('setting_changes').where({ app_id: appId }).orderBy('id', 'desc').limit(limit).select(columns);
  return rows.map(changeOf);
}

export async function findSettingChange(database: Database, appId: number, id: number): Promise<SettingChange | null> {
  const row: Row | undefined = await database('setting_changes').where({ app_id: appId, id }).first(columns);
  return row ? changeOf(row) : null;
}

/** What something of an app is set to. */
export async function readAppSetting(database: Database, appId: number, setting: AppSetting): Promise<unknown> {
  const { column, isText } = settings[setting];
  const row = await database('apps').where({ id: appId }).first(column);
  return valueIn(row?.[column], isText);
}
