import { compareVersions, nextVersion } from '@rough-ember/core/version/version-order';
import type { App } from '@rough-ember/store/apps';
import { actOnCases } from '@rough-ember/store/case-status';
import { loadCaseHeads, whereCasesLead } from '@rough-ember/store/cases';
import { inTransaction } from '@rough-ember/store/database';
import { noteTicketState, type Ticket } from '@rough-ember/store/tickets';
import type { KeptTracker } from '@rough-ember/store/trackers';
import type { DeskServices, Services } from '../services.ts';

type HearServices = DeskServices & Pick<Services, 'changes'>;

/** Keeps what became of a ticket; one that has just become done closes its case where the app says so, as cured in the next version. */
export async function hearTicket(
  services: HearServices,
  app: App,
  { settings }: Pick<KeptTracker, 'settings'>,
  ticket: Ticket,
  told: { readonly state: string; readonly isDone: boolean },
): Promise<void> {
  const { database, changes } = services;
  const hasBecomeDone = await inTransaction(database, (transaction) => noteTicketState(transaction, ticket.id, told));
  if (hasBecomeDone && settings.caseFollowsTicket) await closeCase(services, app, ticket);
  changes.note(app.id);
}

async function closeCase({ database, reports }: HearServices, app: App, ticket: Ticket): Promise<void> {
  const leads = (await whereCasesLead(database, [ticket.caseId])).get(ticket.caseId) ?? ticket.caseId;
  const [head] = await loadCaseHeads(database, [leads]);
  if (!head || head.state === 'closed') return;
  const versions = (await reports.ask('countVersions', app.id)).map((one) => one.version).sort(compareVersions);
  const newest = versions.at(-1);
  if (newest === undefined) return;
  const action = { action: 'close', version: nextVersion(newest) } as const;
  await actOnCases(database, { caseIds: [leads], actor: `ticket ${ticket.number}`, action });
}
