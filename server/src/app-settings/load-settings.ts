import { isDeepStrictEqual } from 'node:util';
import type { DeskSettings } from '@rough-ember/core/cases/desk-settings';
import { type Retention, retentionSchema } from '@rough-ember/core/report/retention';
import type { ScrubRules } from '@rough-ember/core/report/scrub';
import { type AccountRole, listAccounts } from '@rough-ember/store/accounts';
import { listAlertRules } from '@rough-ember/store/alert-rules';
import {
  changeAppSetting,
  findSettingChange,
  listSettingChanges,
  readAppSetting,
  type SettingChange,
} from '@rough-ember/store/app-settings';
import { type App, readDeskSettings, readScrubRules } from '@rough-ember/store/apps';
import { listChannels } from '@rough-ember/store/channels';
import { listIntakeKeys, listTokens } from '@rough-ember/store/credentials';
import type { Database } from '@rough-ember/store/database';
import { listFilterable } from '@rough-ember/store/filterable-attributes';
import { readRules } from '@rough-ember/store/grouping-changes';
import { type Holding, readHoldings, readRetention } from '@rough-ember/store/retention';
import type { z } from 'zod';
import { newAppSchema } from '../accounts/make-app.ts';
import { reaches } from '../accounts/reach.ts';
import { ApiError } from '../errors.ts';
import { setRetention } from '../privacy/retention.ts';
import type { Services } from '../services.ts';
import { loadStabilitySettings, type StabilitySettings } from '../stability/settings.ts';

/** What may be changed of an app beside what has a page of its own. */
export const appFactsSchema = newAppSchema.pick({ name: true, platforms: true, ourPackages: true });

/** A change of a setting, as it stands in the history. */
export interface SettingChangeView extends Omit<SettingChange, 'at'> {
  readonly at: string;
  /** Nothing was set to something else since, so that it can be undone. */
  readonly mayUndo: boolean;
}

/** Everything that an app is set to, in one place. */
export interface AppSettingsView {
  readonly app: Pick<App, 'slug' | 'name' | 'prefix' | 'platforms' | 'ourPackages' | 'zone'>;
  readonly intakeKeys: number;
  /** In use. */
  readonly tokens: number;
  readonly scrub: ScrubRules;
  readonly retention: Retention;
  /** What there is of each thing that is kept, as it was last measured. */
  readonly holdings: Readonly<Record<string, Pick<Holding, 'items' | 'bytes'>>>;
  /** Lines of the grouping rules that say something. */
  readonly groupingRules: number;
  readonly attributes: readonly string[];
  readonly desk: DeskSettings;
  readonly stability: StabilitySettings;
  readonly alertRules: number;
  readonly channels: readonly string[];
  /** Mail addresses of whoever sees the app. */
  readonly people: readonly string[];
  readonly changes: readonly SettingChangeView[];
  readonly now: string;
}

const shownChanges = 50;

export async function loadAppSettings(services: Pick<Services, 'database'>, app: App, now: Date): Promise<AppSettingsView> {
  const { database } = services;
  const [keys, tokens, scrub, retention, holdings, rules, attributes, desk, stability, channels, accounts, changes, alertRules] =
    await Promise.all([
      listIntakeKeys(database, app.id),
      listTokens(database, app.id),
      readScrubRules(database, app.id),
      readRetention(database, app.id),
      readHoldings(database, app.id),
      readRules(database, app.id),
      listFilterable(database, app.id),
      readDeskSettings(database, app.id),
      loadStabilitySettings(services, app),
      listChannels(database, app.id),
      listAccounts(database),
      listSettingChanges(database, app.id, shownChanges),
      listAlertRules(database, app.id),
    ]);
  const { slug, name, prefix, platforms, ourPackages, zone } = app;
  return {
    app: { slug, name, prefix, platforms, ourPackages, zone },
    intakeKeys: keys.length,
    tokens: tokens.filter(({ revokedAt }) => revokedAt === null).length,
    scrub,
    retention,
    holdings: Object.fromEntries([...holdings].map(([thing, { items, bytes }]) => [thing, { items, bytes }])),
    groupingRules: rules.split('\n').filter((line) => line.trim() !== '' && !line.trim().startsWith('#')).length,
    attributes,
    desk,
    stability,
    alertRules: alertRules.length,
    channels: channels.map((one) => one.name),
    people: accounts.filter((account) => reaches(account, app.id)).map(({ email }) => email),
    changes: await viewsOf(database, app, changes),
    now: now.toISOString(),
  };
}

async function viewsOf(database: Database, app: App, changes: readonly SettingChange[]): Promise<SettingChangeView[]> {
  const current = new Map<string, unknown>();
  for (const setting of new Set(changes.map((one) => one.setting))) current.set(setting, await readAppSetting(database, app.id, setting));
  return changes.map((change) => ({
    ...change,
    at: change.at.toISOString(),
    mayUndo: isDeepStrictEqual(current.get(change.setting), change.after),
  }));
}

/** Changes what an app is called, is for, and whose code is its own. */
export async function changeAppFacts(
  { database, changes }: Pick<Services, 'database' | 'changes'>,
  app: App,
  { name, platforms, ourPackages }: z.infer<typeof appFactsSchema>,
  by: string,
): Promise<void> {
  await changeAppSetting(database, { appId: app.id, setting: 'name', value: name, by });
  await changeAppSetting(database, { appId: app.id, setting: 'platforms', value: platforms, by });
  await changeAppSetting(database, { appId: app.id, setting: 'our-packages', value: ourPackages, by });
  changes.note(app.id);
}

/** Sets something back to what it was before a change; not when it was changed again since. */
export async function undoSettingChange(
  services: Pick<Services, 'database' | 'changes' | 'jobs'>,
  app: App,
  id: number,
  { by, role }: { readonly by: string; readonly role: AccountRole },
): Promise<void> {
  const { database, changes } = services;
  const change = await findSettingChange(database, app.id, id);
  if (!change) throw new ApiError('not-found', 'There is no such change of a setting.');
  const { setting, before, after } = change;
  if (!isDeepStrictEqual(await readAppSetting(database, app.id, setting), after))
    throw new ApiError('overtaken', 'It was changed again since; undo that first.');
  if (setting === 'retention') {
    // Only an owner lets things go.
    if (role !== 'owner') throw new ApiError('not-allowed', 'How long things are kept is changed by an owner.');
    await setRetention(services, app, retentionSchema.parse(before ?? {}), by);
  } else await changeAppSetting(database, { appId: app.id, setting, value: before, by });
  changes.note(app.id);
}
