import { listAccounts } from '@rough-ember/store/accounts';
import { type App, readStabilitySettings } from '@rough-ember/store/apps';
import { listChannels } from '@rough-ember/store/channels';
import { listRolloutSteps } from '@rough-ember/store/rollouts';
import { listSymbolDemand } from '@rough-ember/store/symbol-files';
import { reaches } from '../accounts/reach.ts';
import type { Services } from '../services.ts';

/** What is worth doing once the first report of an app is there, in this order. */
export const firstSteps = ['symbols', 'sessions', 'rollouts', 'target', 'told', 'people'] as const;
export type FirstStep = (typeof firstSteps)[number];

/** The steps that nobody has taken yet; none while there is no report. */
export async function loadFirstHour(
  services: Pick<Services, 'database' | 'reports' | 'sessions' | 'mailer'>,
  app: App,
): Promise<FirstStep[]> {
  const { database, reports, sessions, mailer } = services;
  if ((await reports.ask('size', app.id)) === 0) return [];
  const [demand, sessionRows, rollouts, stability, channels, accounts] = await Promise.all([
    listSymbolDemand(database, app.id),
    sessions.ask('size', app.id),
    listRolloutSteps(database, app.id),
    readStabilitySettings(database, app.id),
    listChannels(database, app.id),
    listAccounts(database),
  ]);
  const isDone: Readonly<Record<FirstStep, boolean>> = {
    // One file that was found says that the way of them is known; what is missing after that is told on Now.
    symbols: demand.length === 0 || demand.some((one) => one.found),
    sessions: sessionRows > 0,
    rollouts: rollouts.length > 0,
    // There is a target from the start; somebody has looked at it who has said one.
    target: stability !== null,
    told: channels.length > 0 || mailer !== null,
    people: accounts.filter((account) => reaches(account, app.id)).length > 1,
  };
  return firstSteps.filter((step) => !isDone[step]);
}
