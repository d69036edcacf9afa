import { caseValues } from '@rough-ember/core/cases/case-values';
import { wholeScope } from '@rough-ember/core/scope/scope';
import type { TicketValues } from '@rough-ember/core/tickets/tracker';
import type { App } from '@rough-ember/store/apps';
import { loadCaseHeads, whereCasesLead } from '@rough-ember/store/cases';
import { loadCaseFile } from '../desk/case-file.ts';
import type { DeskServices, Services } from '../services.ts';
import { wordLikelyChange } from '../sources/word-likely-change.ts';

const longestText = 20_000;
/** Of what stands in an address: servers refuse longer ones. */
const longestInAddress = 1_500;

type ValueServices = DeskServices & Pick<Services, 'publicUrl' | 'settings'>;

/** What the templates of a tracker may ask for, of a case as it is now; null when the case has gone, or has no report any more. */
export async function ticketValues(
  services: ValueServices,
  app: App,
  caseId: number,
  { id, number, withChange = true }: { readonly id: string; readonly number: string; readonly withChange?: boolean },
): Promise<TicketValues | null> {
  const leads = (await whereCasesLead(services.database, [caseId])).get(caseId) ?? caseId;
  const [head] = await loadCaseHeads(services.database, [leads]);
  if (!head) return null;
  const ref = `${app.prefix}-${head.number}`;
  const file = await loadCaseFile(services, { app, ref, scope: wholeScope, position: 0, now: new Date() });
  if (!file) return null;
  const link = `${services.publicUrl}/apps/${app.slug}/cases/${ref}?last=all`;
  const told = { ...file, likelyChange: withChange ? await wordLikelyChange(services, app, leads).catch(() => null) : null };
  const values = caseValues(told, { appName: app.name, address: link });
  return {
    ...values,
    text: values.text.slice(0, longestInAddress),
    markdown: values.markdown.slice(0, longestText),
    number,
    id,
    secret: '',
  };
}
