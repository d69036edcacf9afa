import { trackerSchema } from '@rough-ember/core/tickets/tracker';
import { larkfieldGuide } from '@rough-ember/demo/larkfield';
import type { StandIns } from '@rough-ember/demo/stand-ins/stand-ins';
import { toldTrackerSecret, trackerSecret } from '@rough-ember/demo/stand-ins/tracker';
import type { Services } from '@rough-ember/server/services';
import { loadTracker } from '@rough-ember/server/tickets/tracker-settings';
import { findApp } from '@rough-ember/store/apps';
import { findTracker, keepTracker } from '@rough-ember/store/trackers';

/** Whom the settings name for what the demo itself made. */
const changedBy = 'demo';

/** Leads the guide to the stand-in of a ticket tracker, wherever that is at this start, unless somebody has named another one. */
export async function seedTracker(
  services: Pick<Services, 'database' | 'serverKey' | 'publicUrl'>,
  { address, tracker }: StandIns,
): Promise<void> {
  const { database, serverKey } = services;
  const app = await findApp(database, larkfieldGuide.app.slug);
  if (!app) return;
  const before = await findTracker(database, app.id);
  if (before !== null && before.changedBy !== changedBy) return;
  const tickets = `${address}/tracker/tickets`;
  const change = (state: string) => ({ address: `${tickets}/{{number}}/state`, body: JSON.stringify({ state }) });
  await keepTracker(database, app.id, {
    settings: trackerSchema.parse({
      form: `${address}/tracker/new?title={{title}}&body={{text}}`,
      page: `${address}/tracker/pages/{{number}}`,
      make: { address: tickets },
      ask: { address: `${tickets}/{{number}}` },
      close: change('closed'),
      open: change('open'),
      ticketFollowsCase: true,
      caseFollowsTicket: true,
    }),
    secret: serverKey.encrypt(trackerSecret),
    toldSecret: serverKey.encrypt(toldTrackerSecret),
    mayReachPrivate: true,
    changedBy,
  });
  tracker.tell({ address: (await loadTracker(services, app)).toldAddress, secret: toldTrackerSecret });
}
