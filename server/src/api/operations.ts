import { caseOrders } from '@rough-ember/core/cases/case-order';
import { deskSettingsSchema, splitSchema as fieldSchema } from '@rough-ember/core/cases/desk-settings';
import { reportKinds } from '@rough-ember/core/report/report-kinds';
import { retentionSchema } from '@rough-ember/core/report/retention';
import { scrubRulesSchema } from '@rough-ember/core/report/scrub';
import { flagChangeSchema, rolloutSchema } from '@rough-ember/core/rollouts/rollouts';
import { buildScopes, caseScopes, scopeDays } from '@rough-ember/core/scope/scope';
import { z } from 'zod';
import { caseActionsSchema, mergeSchema, noteSchema, splitSchema, undoSchema } from '../desk/case-actions.ts';
import { attributeNameSchema, valuesSchema } from '../desk/fields.ts';
import { viewSchema } from '../desk/views.ts';
import { changeSchema, rulesSchema } from '../grouping/change-rules.ts';
import { retrySchema } from '../intake/intake-overview.ts';
import { appDeletionSchema } from '../privacy/delete.ts';
import { sourcePlaceSchema } from '../sources/source-lines.ts';
import { sessionsSchema } from '../stability/sessions.ts';
import { stabilitySettingsSchema } from '../stability/settings.ts';

/** Something that can be done over HTTP by whoever has a token or a sign-in. */
export interface Operation {
  readonly method: 'get' | 'post' | 'put' | 'delete';
  /** Behind `/api/v1/apps/{app}`. */
  readonly path: string;
  readonly does: string;
  /** Reading tokens may read; changing takes a token that may, or a developer. */
  readonly right: 'read' | 'change' | 'owner';
  readonly parameters?: z.ZodObject;
  readonly body?: z.ZodType;
  readonly status?: number;
}

/** The scope as parameters of an address. */
export const scopeParametersSchema = z.object({
  last: z.enum(['all', ...scopeDays.map((days) => `${days}d` as const)]).optional(),
  kind: z
    .string()
    .optional()
    .describe(`One or more of ${reportKinds.join(', ')}, joined with commas.`),
  version: z.string().max(101).optional().describe('4.2.0 for that one, 4.2.0+ for it and later.'),
  builds: z.enum(buildScopes).optional(),
  cases: z.enum(caseScopes).optional(),
  filter: z.string().max(4_000).optional().describe('In the grammar of AIP-160, such as: flags.night-map = on AND os.version >= 14.'),
});

const stabilityParameters = {
  count: z.enum(['hangs', 'kills', 'hangs,kills']).optional().describe('What counts against a session beside a crash.'),
  exact: z.enum(['0', '1']).optional().describe('1 counts everybody, however long it takes; else a sample may stand for all.'),
};

const listParameters = scopeParametersSchema.extend({
  order: z.enum(caseOrders).optional(),
  from: z.coerce.number().int().min(0).optional().describe('Place of the first case that is told.'),
});
const fileParameters = scopeParametersSchema.extend({
  report: z.coerce.number().int().min(0).optional().describe('Which of its reports is told: 0 is the newest.'),
});
const personParameters = z.object({
  id: z.string().min(1).max(200).describe('The id that the app gives, how the person can be reached, or an installation.'),
});

/** What the screens of cases can do, the API can: every operation is here. */
export const operations: readonly Operation[] = [
  {
    method: 'get',
    path: '/cases',
    does: 'Lists the cases of a scope; counts are those of the scope.',
    right: 'read',
    parameters: listParameters,
  },
  {
    method: 'post',
    path: '/cases/actions',
    does: 'Closes, opens, mutes or assigns cases, or all of a scope.',
    right: 'change',
    body: caseActionsSchema,
  },
  { method: 'post', path: '/cases/merge', does: 'Makes several cases one; later reports follow.', right: 'change', body: mergeSchema },
  {
    method: 'get',
    path: '/cases/{ref}',
    does: 'One case with one of its reports and its history.',
    right: 'read',
    parameters: fileParameters,
  },
  {
    method: 'get',
    path: '/cases/{ref}/who',
    does: 'What its people have in common, and how its reports spread.',
    right: 'read',
    parameters: scopeParametersSchema,
  },
  {
    method: 'get',
    path: '/cases/{ref}/when',
    does: 'Its reports over time, split by a field.',
    right: 'read',
    parameters: scopeParametersSchema.extend(fieldSchema.shape),
  },
  {
    method: 'get',
    path: '/cases/{ref}/steps',
    does: 'What came before most of its reports.',
    right: 'read',
    parameters: scopeParametersSchema,
  },
  { method: 'get', path: '/cases/{ref}/kin', does: 'Cases like it, and the ways its reports came.', right: 'read' },
  { method: 'post', path: '/cases/{ref}/notes', does: 'Keeps a note in its history.', right: 'change', body: noteSchema },
  {
    method: 'post',
    path: '/cases/{ref}/split',
    does: 'Takes reports and their like out into a case of their own.',
    right: 'change',
    body: splitSchema,
  },
  { method: 'post', path: '/cases/{ref}/undo', does: 'Takes its last change back.', right: 'change', body: undoSchema },
  {
    method: 'delete',
    path: '/cases/{ref}',
    does: 'Deletes a case with its reports and its history for good; later reports of its cause make a new one.',
    right: 'change',
    status: 202,
  },
  { method: 'get', path: '/symbol-files', does: 'What running builds need of symbol files, and which files are there.', right: 'read' },
  { method: 'delete', path: '/symbol-files/{id}', does: 'Deletes a symbol file; reports it named are named again.', right: 'change' },
  {
    method: 'post',
    path: '/symbol-files/{id}/put-back',
    does: 'Uses a file again that a later one of its build had replaced; reports of the build are named again.',
    right: 'change',
  },
  { method: 'get', path: '/reports/{id}', does: 'One report, symbolicated and as it came.', right: 'read' },
  { method: 'delete', path: '/reports/{id}', does: 'Deletes one report for good, with its attachments.', right: 'change' },
  { method: 'get', path: '/retention', does: 'How long things are kept, and how much is held.', right: 'read' },
  { method: 'put', path: '/retention', does: 'Changes how long things are kept.', right: 'owner', body: retentionSchema, status: 202 },
  {
    method: 'post',
    path: '/retention/preview',
    does: 'What would go at once under a retention; nothing is changed.',
    right: 'read',
    body: retentionSchema,
  },
  { method: 'get', path: '/scrub-rules', does: 'What is taken out of texts before they are stored.', right: 'read' },
  { method: 'put', path: '/scrub-rules', does: 'Changes what is taken out of texts.', right: 'change', body: scrubRulesSchema },
  {
    method: 'post',
    path: '/scrub-trial',
    does: 'What rules would take out of the newest reports of the app; nothing is changed.',
    right: 'read',
    body: scrubRulesSchema,
  },
  {
    method: 'delete',
    path: '',
    does: 'Deletes the app with everything it holds for good.',
    right: 'owner',
    body: appDeletionSchema,
    status: 202,
  },
  {
    method: 'get',
    path: '/source',
    does: 'Lines of source around the place of a frame, from the source folder of the app.',
    right: 'read',
    parameters: sourcePlaceSchema,
  },
  { method: 'get', path: '/person', does: 'Sessions and reports of somebody, in order.', right: 'read', parameters: personParameters },
  { method: 'delete', path: '/person', does: 'Forgets everything of somebody.', right: 'owner', parameters: personParameters },
  { method: 'get', path: '/fields', does: 'Everything that reports can be filtered by.', right: 'read' },
  {
    method: 'get',
    path: '/values',
    does: 'The values of a field in a scope, the commonest first.',
    right: 'read',
    parameters: scopeParametersSchema.extend(valuesSchema.shape),
  },
  { method: 'post', path: '/attributes', does: 'Makes an attribute filterable.', right: 'change', body: attributeNameSchema, status: 202 },
  { method: 'delete', path: '/attributes/{name}', does: 'Makes an attribute filterable no more.', right: 'change', status: 202 },
  {
    method: 'post',
    path: '/retries',
    does: 'Sends reports round again that could not be processed: one, those of one reason, or all.',
    right: 'change',
    body: retrySchema,
    status: 202,
  },
  { method: 'get', path: '/views', does: 'The views one may use.', right: 'read' },
  { method: 'post', path: '/views', does: 'Keeps a scope under a name.', right: 'change', body: viewSchema, status: 201 },
  { method: 'delete', path: '/views/{id}', does: 'Drops a view.', right: 'change' },
  {
    method: 'get',
    path: '/now',
    does: 'What changed since a moment: versions, cases, symbol files and intake.',
    right: 'read',
    parameters: z.object({ since: z.iso.datetime({ offset: true }).optional() }),
  },
  {
    method: 'get',
    path: '/crash-free',
    does: 'Crash-free sessions and users of a scope: in all, by version, and day by day.',
    right: 'read',
    parameters: scopeParametersSchema.extend(stabilityParameters),
  },
  {
    method: 'get',
    path: '/crash-free/matrix',
    does: 'Sessions and persons by the values of two fields.',
    right: 'read',
    parameters: scopeParametersSchema.extend({ ...stabilityParameters, down: z.string().optional(), across: z.string().optional() }),
  },
  {
    method: 'get',
    path: '/crash-free/compare',
    does: 'Compares two values of a field, and tells which cases make the difference.',
    right: 'read',
    parameters: scopeParametersSchema.extend({ ...stabilityParameters, by: z.string(), left: z.string().optional(), right: z.string() }),
  },
  {
    method: 'get',
    path: '/crash-free/time-to-crash',
    does: 'How far into a session it crashes: quartiles over the newest sessions of the scope that did.',
    right: 'read',
    parameters: scopeParametersSchema,
  },
  {
    method: 'get',
    path: '/screens',
    does: 'The screens of the app in a scope: how much each is used, and what goes wrong on it.',
    right: 'read',
    parameters: scopeParametersSchema.extend(stabilityParameters),
  },
  {
    method: 'get',
    path: '/requests',
    does: 'The requests of the app in a scope: how many fail, how long they take, and the cases that follow a failure.',
    right: 'read',
    parameters: scopeParametersSchema.extend(stabilityParameters),
  },
  {
    method: 'get',
    path: '/sessions',
    does: 'The newest sessions of a scope, or those that went a certain way.',
    right: 'read',
    parameters: scopeParametersSchema.extend(sessionsSchema.shape),
  },
  { method: 'get', path: '/sessions/{id}', does: 'One session with what happened in it, in order.', right: 'read' },
  { method: 'get', path: '/stability-settings', does: 'The target, and what a rollout must fulfil.', right: 'read' },
  {
    method: 'put',
    path: '/stability-settings',
    does: 'Changes the target and the conditions.',
    right: 'change',
    body: stabilitySettingsSchema,
  },
  { method: 'get', path: '/versions', does: 'Every version: its rollout, its figures, and what it changed.', right: 'read' },
  { method: 'get', path: '/versions/{version}/check', does: 'Whether a version may go to more people, with the reasons.', right: 'read' },
  { method: 'get', path: '/rollouts', does: 'The steps of rollouts that were recorded.', right: 'read' },
  {
    method: 'post',
    path: '/rollouts',
    does: 'Records that a version was given to a share of people, halted or resumed.',
    right: 'change',
    body: rolloutSchema,
    status: 201,
  },
  { method: 'delete', path: '/rollouts/{id}', does: 'Takes back a step that was recorded by mistake.', right: 'change' },
  { method: 'get', path: '/flag-changes', does: 'The changes of flags that were recorded.', right: 'read' },
  { method: 'post', path: '/flag-changes', does: 'Records that a flag was changed.', right: 'change', body: flagChangeSchema, status: 201 },
  { method: 'delete', path: '/flag-changes/{id}', does: 'Takes back a change that was recorded by mistake.', right: 'change' },
  { method: 'get', path: '/desk-settings', does: 'What the desk shows, for the team.', right: 'read' },
  { method: 'put', path: '/desk-settings', does: 'Changes what the desk shows.', right: 'change', body: deskSettingsSchema },
  { method: 'get', path: '/grouping', does: 'The grouping rules, their changes, and what the newest would do.', right: 'read' },
  {
    method: 'post',
    path: '/grouping/preview',
    does: 'Looks at what rules would do to the reports that are there.',
    right: 'change',
    body: rulesSchema,
    status: 202,
  },
  { method: 'post', path: '/grouping/apply', does: 'Puts previewed rules in force.', right: 'change', body: changeSchema, status: 202 },
  {
    method: 'post',
    path: '/grouping/restore',
    does: 'Puts rules of before in force again.',
    right: 'change',
    body: rulesSchema,
    status: 202,
  },
];
