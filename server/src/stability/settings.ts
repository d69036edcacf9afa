import { rolloutConditionsSchema } from '@rough-ember/core/stability/rollout-check';
import { changeAppSetting } from '@rough-ember/store/app-settings';
import { type App, readStabilitySettings } from '@rough-ember/store/apps';
import { z } from 'zod';
import type { Services } from '../services.ts';

/** What an app wants to be: its target, and what a version must fulfil before it goes to more people. */
export const stabilitySettingsSchema = z.object({
  /** Share of sessions without a crash in percent; null draws no line. */
  targetPercent: z.number().min(0).max(100).nullable().default(99.5),
  /** The oldest version that the app still looks after; null where none is named. */
  supportedFrom: z.string().trim().min(1).max(100).nullable().default(null),
  conditions: rolloutConditionsSchema.prefault({}),
});
export type StabilitySettings = z.infer<typeof stabilitySettingsSchema>;

export async function loadStabilitySettings({ database }: Pick<Services, 'database'>, app: App): Promise<StabilitySettings> {
  const parsed = stabilitySettingsSchema.safeParse((await readStabilitySettings(database, app.id)) ?? {});
  return parsed.success ? parsed.data : stabilitySettingsSchema.parse({});
}

export async function saveStabilitySettings(
  { database, changes }: Pick<Services, 'database' | 'changes'>,
  app: App,
  settings: StabilitySettings,
  by: string,
): Promise<void> {
  await changeAppSetting(database, { appId: app.id, setting: 'stability', value: settings, by });
  changes.note(app.id);
}
