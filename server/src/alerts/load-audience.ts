import { listAlertAccounts } from '@rough-ember/store/accounts';
import { findAppById } from '@rough-ember/store/apps';
import { listChannels } from '@rough-ember/store/channels';
import type { Database } from '@rough-ember/store/database';
import { reaches } from '../accounts/reach.ts';
import type { Services } from '../services.ts';
import type { Audience } from './raise-alerts.ts';

/** Whoever may be told of an app; null when the app is gone. */
export async function loadAudience({ mailer }: Pick<Services, 'mailer'>, database: Database, appId: number): Promise<Audience | null> {
  const app = await findAppById(database, appId);
  if (!app) return null;
  const [accounts, channels] = await Promise.all([listAlertAccounts(database), listChannels(database, appId)]);
  return { app, people: accounts.filter((one) => reaches(one, appId)), channels, sendsMail: mailer !== null };
}
