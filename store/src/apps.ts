import { type DeskSettings, deskSettingsSchema } from '@rough-ember/core/cases/desk-settings';
import { type ScrubRules, scrubRulesSchema } from '@rough-ember/core/report/scrub';
import { type Database, isDuplicate } from './database.ts';

/** What is shipped: one or more platforms under one name, its cases numbered after its prefix. */
export interface App {
  readonly id: number;
  readonly slug: string;
  readonly name: string;
  readonly prefix: string;
  readonly platforms: readonly string[];
  /** Packages whose frames are ours; empty: everything that is not known to be outside. */
  readonly ourPackages: readonly string[];
  /** IANA name of the zone of what everybody sees alike, such as walls; null for UTC. */
  readonly zone: string | null;
}

const columns = ['id', 'slug', 'name', 'prefix', 'platforms', { ourPackages: 'our_packages' }, 'zone'] as const;

/** Creates an app; null when its slug or prefix is taken. */
export async function createApp(database: Database, app: Omit<App, 'id' | 'zone'>): Promise<App | null> {
  const { slug, name, prefix } = app;
  try {
    await database('apps').insert({
      slug,
      name,
      prefix,
      platforms: JSON.stringify(app.platforms),
      our_packages: JSON.stringify(app.ourPackages),
    });
  } catch (error) {
    if (isDuplicate(error)) return null;
    throw error;
  }
  return findApp(database, slug);
}

export async function findApp(database: Database, slug: string): Promise<App | null> {
  return (
    (await database('apps')
      .where({ slug, deleted_at: null })
      .first(...columns)) ?? null
  );
}

/** The app of a row, one that is being deleted among them. */
/** An app by its row; null when it is gone, or being deleted. */
export async function findAppById(database: Database, id: number): Promise<App | null> {
  return (
    (await database('apps')
      .where({ id, deleted_at: null })
      .first(...columns)) ?? null
  );
}

export async function listApps(database: Database): Promise<App[]> {
  return database('apps')
    .whereNull('deleted_at')
    .orderBy('name')
    .select(...columns);
}

/** Tells every screen of the app that what it shows has changed. */
export async function raiseRevision(database: Database, appId: number): Promise<void> {
  await database('apps').where({ id: appId }).increment('revision', 1);
}

/** The revision of each app; it differs from an earlier one when screens of that app must look again. */
export async function listRevisions(database: Database): Promise<Map<number, number>> {
  const rows: { id: number; revision: number }[] = await database('apps').select('id', 'revision');
  return new Map(rows.map((row) => [row.id, row.revision]));
}

/** What is taken out of this app's texts before they are stored. */
export async function readScrubRules(database: Database, appId: number): Promise<ScrubRules> {
  const row = await database('apps').where({ id: appId }).first('scrub_rules');
  return scrubRulesSchema.parse(row?.scrub_rules ?? {});
}

/** What the desk of an app shows. */
export async function readDeskSettings(database: Database, appId: number): Promise<DeskSettings> {
  const row = await database('apps').where({ id: appId }).first('desk_settings');
  return deskSettingsSchema.parse(row?.desk_settings ?? {});
}

/** What an app wants to be, as it was written; null when nobody has said. */
export async function readStabilitySettings(database: Database, appId: number): Promise<unknown> {
  const row = await database('apps').where({ id: appId }).first('stability_settings');
  return row?.stability_settings ?? null;
}

/** Questions by which a newcomer finds their way; null for an app that has none. */
export async function readFirstLook(database: Database, appId: number): Promise<unknown> {
  const row = await database('apps').where({ id: appId }).first('first_look');
  return row?.first_look ?? null;
}

export async function changeFirstLook(database: Database, appId: number, questions: readonly object[]): Promise<void> {
  await database('apps')
    .where({ id: appId })
    .update({ first_look: JSON.stringify(questions) });
}
