import { caseOrders, defaultCaseOrder } from '@rough-ember/core/cases/case-order';
import { deskSettingsSchema, splitSchema as fieldToSplitBySchema } from '@rough-ember/core/cases/desk-settings';
import { changeAppSetting } from '@rough-ember/store/app-settings';
import { readDeskSettings } from '@rough-ember/store/apps';
import { z } from 'zod';
import { ApiError } from '../errors.ts';
import { operation, rowNumber } from '../operation/operation.ts';
import { placeInList, scoped } from '../operation/scope-parameters.ts';
import { loadLikelyChanges } from '../sources/likely-changes.ts';
import { attachmentResponse } from './attachment-response.ts';
import {
  addNote,
  caseActionsSchema,
  merge,
  mergeSchema,
  noteSchema,
  requireCase,
  runCaseActions,
  split,
  splitSchema,
  undoLast,
  undoSchema,
} from './case-actions.ts';
import { loadCommonSteps, loadSimilarCases, loadWhen, loadWho } from './case-evidence.ts';
import { placeOfReport, requireCaseFile, requireReportView } from './case-file.ts';
import { loadCaseList, loadVersions } from './case-list.ts';
import { caseOfKeySchema, findCaseOfKey } from './case-of-key.ts';
import { attributeNameSchema, loadFields, loadValues, makeFilterable, makeUnfilterable, valuesSchema } from './fields.ts';
import { loadPerson, personSchema } from './person.ts';
import { dropView, loadViews, saveView, viewSchema } from './views.ts';

/** Cases: finding them, looking at one, and what becomes of them. */
export const caseOperations = [
  operation('GET /apps/{app}/cases', {
    does: 'Lists the cases of a scope; counts are those of the scope.',
    right: 'read',
    parameters: scoped({
      order: z.enum(caseOrders).default(defaultCaseOrder),
      from: placeInList.describe('Place of the first case that is told.'),
    }),
    run: ({ services, app, by, parameters, now }) => loadCaseList(services, { app, ...parameters, self: by, now }),
  }),
  operation('POST /apps/{app}/cases/actions', {
    does: 'Closes, opens, mutes or assigns cases, or all of a scope.',
    right: 'change',
    body: caseActionsSchema,
    run: ({ services, app, by, body, now }) => runCaseActions(services, { app, actor: by, request: body, now }),
  }),
  operation('POST /apps/{app}/cases/merge', {
    does: 'Makes several cases one; later reports follow.',
    right: 'change',
    body: mergeSchema,
    run: ({ services, app, by, body }) => merge(services, app, { actor: by, ...body }),
  }),
  operation('GET /apps/{app}/cases/{ref}', {
    does: 'One case with one of its reports and its history.',
    right: 'read',
    parameters: scoped({ report: placeInList.describe('Which of its reports is told: 0 is the newest.') }),
    run: ({ services, app, path, parameters: { scope, report }, now }) =>
      requireCaseFile(services, { app, ref: path.ref, scope, position: report, now }),
  }),
  operation('GET /apps/{app}/cases/{ref}/who', {
    does: 'What its people have in common, and how its reports spread.',
    right: 'read',
    parameters: scoped({}),
    run: ({ services, app, path, parameters, now }) => loadWho(services, { app, ref: path.ref, ...parameters, now }),
  }),
  operation('GET /apps/{app}/cases/{ref}/when', {
    does: 'Its reports over time, split by a field.',
    right: 'read',
    parameters: scoped(fieldToSplitBySchema.shape),
    run: ({ services, app, path, parameters: { scope, ...field }, now }) => loadWhen(services, { app, ref: path.ref, scope, now }, field),
  }),
  operation('GET /apps/{app}/cases/{ref}/steps', {
    does: 'What came before most of its reports.',
    right: 'read',
    parameters: scoped({}),
    run: ({ services, app, path, parameters, now }) => loadCommonSteps(services, { app, ref: path.ref, ...parameters, now }),
  }),
  operation('GET /apps/{app}/cases/{ref}/similar', {
    does: 'Cases like it, and the ways its reports came.',
    right: 'read',
    run: ({ services, app, path }) => loadSimilarCases(services, { app, ref: path.ref }),
  }),
  operation('GET /apps/{app}/cases/{ref}/changes', {
    does: 'The commits that may have brought it, and who looks after its code; or why that cannot be said.',
    right: 'read',
    run: async ({ services, app, path }) => loadLikelyChanges(services, app, await requireCase(services, app, path.ref)),
  }),
  operation('POST /apps/{app}/cases/{ref}/notes', {
    does: 'Keeps a note in its history.',
    right: 'change',
    body: noteSchema,
    run: async ({ services, app, by, path, body }) => {
      await addNote(services, app, { ref: path.ref, actor: by, text: body.text });
      return { ok: true };
    },
  }),
  operation('POST /apps/{app}/cases/{ref}/split', {
    does: 'Takes reports and their like out into a case of their own.',
    right: 'change',
    body: splitSchema,
    run: ({ services, app, by, path, body }) => split(services, app, { ref: path.ref, actor: by, reports: body.reports }),
  }),
  operation('POST /apps/{app}/cases/{ref}/undo', {
    does: 'Takes its last change back.',
    right: 'change',
    body: undoSchema,
    run: async ({ services, app, by, path, body }) => {
      await undoLast(services, app, { ref: path.ref, actor: by, event: body.event });
      return { ok: true };
    },
  }),
  operation('POST /apps/{app}/case-of-key', {
    does: 'The case that reports with one of these grouping keys are placed in, the first that has one; or null.',
    right: 'read',
    body: caseOfKeySchema,
    run: async ({ services, app, body }) => ({ found: await findCaseOfKey(services.database, app, body.keys) }),
  }),
] as const;

/** Reports one by one, and the people they came from. */
export const reportOperations = [
  operation('GET /apps/{app}/reports/{id}', {
    does: 'One report, symbolicated and as it came.',
    right: 'read',
    run: ({ services, app, path }) => requireReportView(services, app, path.id),
  }),
  operation('GET /apps/{app}/reports/{id}/place', {
    does: 'The case that a report is in, and its place there over all time.',
    right: 'read',
    run: async ({ services, app, path, now }) => {
      const place = await placeOfReport(services, { app, reportId: path.id, now });
      if (!place) throw new ApiError('not-found', 'This report is in no case yet, or not of this app. Load the page again in a moment.');
      return place;
    },
  }),
  operation('GET /apps/{app}/attachments/{id}', {
    does: 'The bytes of an attachment: pictures to be shown, everything else as plain text to be saved.',
    right: 'read',
    produces: 'application/octet-stream',
    run: ({ services, app, path }) => attachmentResponse(services.database, app, path.id),
  }),
  operation('GET /apps/{app}/person', {
    does: 'Sessions and reports of somebody, in order.',
    right: 'read',
    parameters: personSchema,
    run: ({ services, app, parameters, now }) => loadPerson(services, { app, ...parameters, now }),
  }),
] as const;

/** What the desk offers to look by, and how a team set it up. */
export const deskOperations = [
  operation('GET /apps/{app}/fields', {
    does: 'Everything that reports can be filtered by.',
    right: 'read',
    run: ({ services, app }) => loadFields(services, app),
  }),
  operation('GET /apps/{app}/values', {
    does: 'The values of a field in a scope, the commonest first.',
    right: 'read',
    parameters: scoped(valuesSchema.shape),
    run: ({ services, app, parameters: { scope, ...question }, now }) => loadValues(services, { app, scope, now }, question),
  }),
  operation('GET /apps/{app}/sent-versions', {
    does: 'The versions that reports or sessions named, the newest last.',
    right: 'read',
    run: ({ services, app }) => loadVersions(services, app),
  }),
  operation('POST /apps/{app}/attributes', {
    does: 'Makes an attribute filterable.',
    right: 'change',
    body: attributeNameSchema,
    status: 202,
    run: async ({ services, app, by, body: { name } }) => {
      await makeFilterable(services, app, { name, by });
      return { name };
    },
  }),
  operation('DELETE /apps/{app}/attributes/{name}', {
    does: 'Makes an attribute filterable no more.',
    right: 'change',
    status: 202,
    run: async ({ services, app, path }) => {
      await makeUnfilterable(services, app, path.name);
      return {};
    },
  }),
  operation('GET /apps/{app}/views', {
    does: 'The views one may use.',
    right: 'read',
    run: ({ services, app, by }) => loadViews(services, app, by),
  }),
  operation('POST /apps/{app}/views', {
    does: 'Keeps a scope under a name.',
    right: 'change',
    body: viewSchema,
    status: 201,
    run: ({ services, app, by, body }) => saveView(services, app, { ...body, person: by }),
  }),
  operation('DELETE /apps/{app}/views/{id}', {
    does: 'Drops a view.',
    right: 'change',
    run: async ({ services, app, by, path }) => {
      await dropView(services, app, { id: rowNumber(path.id), person: by });
      return {};
    },
  }),
  operation('GET /apps/{app}/desk-settings', {
    does: 'What the desk shows, for the team.',
    right: 'read',
    run: ({ services, app }) => readDeskSettings(services.database, app.id),
  }),
  operation('PUT /apps/{app}/desk-settings', {
    does: 'Changes what the desk shows.',
    right: 'change',
    body: deskSettingsSchema,
    run: async ({ services, app, by, body }) => {
      await changeAppSetting(services.database, { appId: app.id, setting: 'desk', value: body, by });
      services.changes.note(app.id);
      return body;
    },
  }),
] as const;
