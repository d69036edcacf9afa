import { defaultCaseOrder } from '@rough-ember/core/cases/case-order';
import { type CaseAction, caseActionSchema } from '@rough-ember/core/cases/case-status';
import { parseScope } from '@rough-ember/core/scope/scope';
import { findAccountByEmail } from '@rough-ember/store/accounts';
import type { App } from '@rough-ember/store/apps';
import { noteOnCase } from '@rough-ember/store/case-events';
import { actOnCases } from '@rough-ember/store/case-status';
import { findCaseId } from '@rough-ember/store/cases';
import { mergeCases, splitCase } from '@rough-ember/store/merge-cases';
import { undoCaseEvent } from '@rough-ember/store/undo-case-event';
import { z } from 'zod';
import { reaches } from '../accounts/reach.ts';
import { ApiError } from '../errors.ts';
import type { DeskServices, Services } from '../services.ts';
import { parseCaseRef } from './case-file.ts';
import { countInOrder } from './case-list.ts';

const mostCases = 2_000;

/** What is done, and to which cases: those named, or all of a scope given as the address parameters of the desk. */
export const caseActionsSchema = z
  .object({
    cases: z.array(z.string().max(30)).min(1).max(500).optional(),
    scope: z.string().max(5_000).optional(),
    action: caseActionSchema,
  })
  .refine(({ cases, scope }) => (cases === undefined) !== (scope === undefined), { error: 'give either "cases" or "scope"' });
export type CaseActions = z.infer<typeof caseActionsSchema>;

type ActionServices = DeskServices & Pick<Services, 'changes'>;

/** Does something to cases; every one that changes has it in its history. Gives how many were meant and how many changed. */
export async function runCaseActions(
  services: ActionServices,
  { app, actor, request, now }: { app: App; actor: string; request: CaseActions; now: Date },
): Promise<{ cases: number; changed: number }> {
  const { database, changes } = services;
  await requireColleague(database, app, request.action);
  const caseIds = request.cases
    ? await idsOf(services, app, request.cases)
    : await idsInScope(services, { app, self: actor, now }, request.scope ?? '');
  const changed = await actOnCases(database, { caseIds, actor, action: request.action });
  changes.note(app.id);
  return { cases: caseIds.length, changed };
}

/** Only who has an account that sees the app can look after a case. */
async function requireColleague(database: Services['database'], app: App, action: CaseAction): Promise<void> {
  if (action.action !== 'assign' || action.assignee === null) return;
  const account = await findAccountByEmail(database, action.assignee);
  if (!account || account.role === 'viewer' || !reaches(account, app.id))
    throw new ApiError(
      'bad-request',
      `${action.assignee} is no developer or owner who sees ${app.name}, so nothing can be assigned to them.`,
    );
}

async function idsOf(services: Pick<Services, 'database'>, app: App, refs: readonly string[]): Promise<number[]> {
  return Promise.all([...new Set(refs)].map((ref) => requireCase(services, app, ref)));
}

async function idsInScope(
  services: DeskServices,
  { app, self, now }: { readonly app: App; readonly self: string; readonly now: Date },
  address: string,
): Promise<number[]> {
  const scope = parseScope(new URLSearchParams(address));
  if (!scope.ok) throw new ApiError('bad-request', scope.problem.message);
  const { cases } = await countInOrder(services, { app, scope: scope.value, order: defaultCaseOrder, self, now });
  if (cases.length > mostCases) throw new ApiError('bad-request', `The scope holds more than ${mostCases} cases; narrow it.`);
  return cases.map((one) => one.caseId);
}

/** The id of a case by its reference. */
export async function requireCase({ database }: Pick<Services, 'database'>, app: App, ref: string): Promise<number> {
  const number = parseCaseRef(app, ref);
  const id = number === null ? null : await findCaseId(database, app.id, number);
  if (id === null) throw new ApiError('not-found', `There is no case ${ref.slice(0, 30)} in ${app.name}.`);
  return id;
}

export const noteSchema = z.object({ text: z.string().trim().min(1, { error: 'write something' }).max(20_000) });

/** Keeps a note in the history of a case. */
export async function addNote(
  services: ActionServices,
  app: App,
  { ref, actor, text }: { ref: string; actor: string; text: string },
): Promise<void> {
  await noteOnCase(services.database, { caseId: await requireCase(services, app, ref), actor, text });
  services.changes.note(app.id);
}

const refSchema = z.string().max(30);

/** The cases that become one, and the one that they become. */
export const mergeSchema = z.object({ into: refSchema, cases: z.array(refSchema).min(1).max(200) });

/** Makes several cases one; later reports follow, and undoing it gives each its own back. */
export async function merge(
  services: ActionServices,
  app: App,
  { actor, into, cases }: { actor: string } & z.infer<typeof mergeSchema>,
): Promise<{ merged: number }> {
  const [target, from] = await Promise.all([requireCase(services, app, into), idsOf(services, app, cases)]);
  if (from.every((id) => id === target)) throw new ApiError('bad-request', `${into} is this case already; name others.`);
  const merged = await mergeCases(services.database, { appId: app.id, into: target, from, actor });
  services.changes.note(app.id);
  return { merged };
}

/** The reports whose like is taken out of a case. */
export const splitSchema = z.object({ reports: z.array(z.uuid()).min(1).max(100) });

/** Takes reports, and all that came the same way, out into a case of their own. */
export async function split(
  services: ActionServices,
  app: App,
  { ref, actor, reports }: { ref: string; actor: string } & z.infer<typeof splitSchema>,
): Promise<{ ref: string }> {
  const caseId = await requireCase(services, app, ref);
  const number = await splitCase(services.database, { appId: app.id, caseId, reportIds: reports, actor });
  if (number === null)
    throw new ApiError(
      'bad-request',
      `All reports of ${ref} came the same way as these, or none of these is in it: nothing can be taken out.`,
    );
  services.changes.note(app.id);
  return { ref: `${app.prefix}-${number}` };
}

export const undoSchema = z.object({ event: z.int().min(1) });

/** Takes the last change of a case back; one that was followed by another stays. */
export async function undoLast(
  services: ActionServices,
  app: App,
  { ref, actor, event }: { ref: string; actor: string; event: number },
): Promise<void> {
  const caseId = await requireCase(services, app, ref);
  if (!(await undoCaseEvent(services.database, { caseId, eventId: event, actor })))
    throw new ApiError('overtaken', 'Something else happened to the case since, so this cannot be taken back.');
  services.changes.note(app.id);
}
