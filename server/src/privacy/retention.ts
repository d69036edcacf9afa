import { type KeptThing, keptThings, type Retention } from '@rough-ember/core/report/retention';
import { changeAppSetting } from '@rough-ember/store/app-settings';
import type { App } from '@rough-ember/store/apps';
import { queueOnce } from '@rough-ember/store/jobs';
import { findCut, type Holding, readHoldings, readRetention } from '@rough-ember/store/retention';
import type { Services } from '../services.ts';

/** What an app keeps of something, and how much it holds. Times are ISO texts in UTC. */
export interface HoldingView extends Omit<Holding, 'oldestAt'> {
  readonly oldestAt: string | null;
  readonly measuredAt: string;
}

export interface RetentionView {
  readonly retention: Retention;
  /** As it was last measured, at most an hour ago; what was never measured is left out. */
  readonly holdings: Readonly<Partial<Record<KeptThing, HoldingView>>>;
  /** Raw sessions are kept for so many days, of all apps; their sums stay. */
  readonly sessionDays: number;
}

export async function loadRetention(
  { database, settings }: Pick<Services, 'database' | 'settings'>,
  app: Pick<App, 'id'>,
): Promise<RetentionView> {
  const [retention, holdings] = await Promise.all([readRetention(database, app.id), readHoldings(database, app.id)]);
  const views = [...holdings].map(([thing, { oldestAt, measuredAt, ...rest }]) => [
    thing,
    { ...rest, oldestAt: oldestAt?.toISOString() ?? null, measuredAt: measuredAt.toISOString() },
  ]);
  return { retention, holdings: Object.fromEntries(views), sessionDays: settings.sessionDays };
}

/** What would go at once under a retention; null where nothing would. */
export type RetentionPreview = Readonly<Record<KeptThing, { readonly items: number; readonly bytes: number } | null>>;

/** Looks what a retention would drop; nothing is changed. */
export async function previewRetention(
  { database }: Pick<Services, 'database'>,
  app: Pick<App, 'id'>,
  retention: Retention,
  now: Date,
): Promise<RetentionPreview> {
  const cuts = await Promise.all(
    keptThings.map(async (thing) => {
      const cut = await findCut(database, { appId: app.id, thing, limit: retention[thing], now });
      return [thing, cut && { items: cut.items, bytes: cut.bytes }] as const;
    }),
  );
  return Object.fromEntries(cuts) as RetentionPreview;
}

/** Keeps a retention and begins to obey it. */
export async function setRetention(
  { database, jobs }: Pick<Services, 'database' | 'jobs'>,
  app: Pick<App, 'id'>,
  retention: Retention,
  by: string,
): Promise<void> {
  await changeAppSetting(database, { appId: app.id, setting: 'retention', value: retention, by });
  await queueOnce(database, { kind: 'apply-retention', appId: app.id, priority: 'again' }, app.id);
  jobs.wake();
}
