import { compareGroups, type RegroupedCase } from '@rough-ember/core/grouping/rules/compare-groups';
import { algorithmLineOf, parseRules } from '@rough-ember/core/grouping/rules/parse-rules';
import type { App } from '@rough-ember/store/apps';
import {
  findGroupingChange,
  type GroupingChange,
  listGroupingChanges,
  listPreviewedGroups,
  readRules,
  startApplying,
  startPreview,
  startRestoring,
} from '@rough-ember/store/grouping-changes';
import { z } from 'zod';
import { ApiError } from '../errors.ts';
import type { Services } from '../services.ts';

export type GroupingServices = Pick<Services, 'database' | 'changes' | 'jobs'>;

export const rulesSchema = z.object({ rules: z.string().max(20_000) });

/** A change of the rules as the screen shows it. */
export interface GroupingChangeView extends Omit<GroupingChange, 'askedAt' | 'appId'> {
  readonly askedAt: string;
}

/** What a preview found, in references of the app. */
export interface RulesPreview {
  readonly merged: readonly RegroupedCase[];
  readonly split: readonly { readonly number: number; readonly reports: number; readonly into: readonly RegroupedCase[] }[];
  readonly unchanged: number;
  readonly moving: number;
  readonly looked: number;
}

export interface GroupingOverview {
  /** The rules in force, as they were written. */
  readonly rules: string;
  /** The latest changes, the newest first. */
  readonly changes: readonly GroupingChangeView[];
  /** What the newest change would do, once its preview has ended. */
  readonly preview: RulesPreview | null;
  readonly now: string;
}

const toView = ({ askedAt, appId: _appId, ...rest }: GroupingChange): GroupingChangeView => ({ ...rest, askedAt: askedAt.toISOString() });

/** The rules of an app, what became of its latest changes, and what the newest would do. */
export async function loadGrouping({ database }: Pick<Services, 'database'>, app: App): Promise<GroupingOverview> {
  const [rules, changes] = await Promise.all([readRules(database, app.id), listGroupingChanges(database, app.id)]);
  const [latest] = changes;
  return {
    rules,
    changes: changes.map(toView),
    preview: latest?.state === 'previewed' ? await loadPreview({ database }, latest) : null,
    now: new Date().toISOString(),
  };
}

const shownCases = 50;

async function loadPreview({ database }: Pick<Services, 'database'>, change: GroupingChange): Promise<RulesPreview> {
  const { claims: _claims, merged, split, ...counts } = compareGroups(await listPreviewedGroups(database, change));
  return { ...counts, merged: merged.slice(0, shownCases), split: split.slice(0, shownCases) };
}

/** Begins to look at what rules would do to the reports that are there; nothing changes yet. */
export async function previewRules(
  { database, changes, jobs }: GroupingServices,
  app: App,
  { rules, actor }: { rules: string; actor: string },
): Promise<{ id: number }> {
  requireRules(rules);
  const id = await startPreview(database, { appId: app.id, rules, askedBy: actor });
  jobs.wake();
  changes.note(app.id);
  return { id };
}

export const changeSchema = z.object({ id: z.int().min(1) });

/** Puts previewed rules in force, and sends all reports to their cases. */
export async function applyChange({ database, changes, jobs }: GroupingServices, app: App, { id }: { id: number }): Promise<void> {
  const change = await findGroupingChange(database, app.id, id);
  if (!change) throw new ApiError('not-found', `There is no change ${id} of the rules of ${app.name}.`);
  const { claims } = compareGroups(await listPreviewedGroups(database, change));
  const applied = await startApplying(database, { appId: app.id, changeId: id, claims });
  if (!applied)
    throw new ApiError('overtaken', 'The preview has not ended yet, or other rules were previewed since. Preview these rules again.');
  jobs.wake();
  changes.note(app.id);
}

/** Puts rules of before in force again; every report goes back to the case it had under them. */
export async function restoreRules(
  { database, changes, jobs }: GroupingServices,
  app: App,
  { rules, actor }: { rules: string; actor: string },
): Promise<{ id: number }> {
  requireRules(rules);
  const [known, inForce] = await Promise.all([listGroupingChanges(database, app.id, 1_000), readRules(database, app.id)]);
  // No rules of one's own are no other algorithm: what that would change is looked at first.
  if (
    rules !== algorithmLineOf(inForce) &&
    !known.some((change) => change.rules === rules && change.state !== 'previewed' && change.state !== 'dropped')
  )
    throw new ApiError('bad-request', 'These rules were never in force. Preview them instead.');
  const id = await startRestoring(database, { appId: app.id, rules, askedBy: actor });
  jobs.wake();
  changes.note(app.id);
  return { id };
}

function requireRules(rules: string): void {
  const parsed = parseRules(rules);
  if (!parsed.ok) throw new ApiError('bad-request', `Line ${parsed.problem.line}: ${parsed.problem.message}.`);
}
