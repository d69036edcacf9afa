import { longestQuestion, parseQuestion } from '@rough-ember/core/ask/question';
import { sheetSchema } from '@rough-ember/core/ask/sheet';
import { z } from 'zod';
import { operation } from '../operation/operation.ts';
import { scoped } from '../operation/scope-parameters.ts';
import { stabilityParametersSchema } from '../stability/crash-free.ts';
import { answerChart, answerQuestion } from './answer-question.ts';
import {
  addChart,
  changedSheetSchema,
  dropSheet,
  endSheetLink,
  keepSheet,
  loadSheet,
  loadSheets,
  makeSheet,
  makeSheetLink,
  requireSharedSheet,
  sheetChartSchema,
} from './sheets.ts';

const questionSchema = z
  .string()
  .max(longestQuestion)
  .describe(
    'What to count, by what, over which steps of time: `affected people by carrier, version per week`. Its words stand in docs/ask.md.',
  )
  .transform((text, context) => {
    const question = parseQuestion(text);
    if (question.ok) return question.value;
    context.addIssue({ code: 'custom', message: question.problem.message });
    return z.NEVER;
  });

/** Questions of one's own, and the sheets that their charts are kept on. */
export const askOperations = [
  operation('GET /apps/{app}/ask', {
    does: 'Answers a question about a scope: how many of something, or a rate or statistic, by up to three fields and over time.',
    right: 'read',
    parameters: scoped({ question: questionSchema, exact: stabilityParametersSchema.shape.exact }),
    run: ({ services, app, parameters, now }) => answerQuestion(services, { app, ...parameters, now }),
  }),
  operation('GET /apps/{app}/sheets', {
    does: 'The sheets of charts that whoever asks may see, and those that ship with the product.',
    right: 'read',
    run: ({ services, app, by }) => loadSheets(services.database, { appId: app.id, person: by }),
  }),
  operation('GET /apps/{app}/sheets/{sheet}', {
    does: 'One sheet with its charts; each is answered by `ask`.',
    right: 'read',
    run: ({ services, app, by, path }) => loadSheet(services.database, { appId: app.id, person: by }, path.sheet),
  }),
  operation('POST /apps/{app}/sheets', {
    does: 'Keeps a sheet, for oneself or for the team.',
    right: 'change',
    body: sheetSchema,
    status: 201,
    run: ({ services, app, by, body }) => makeSheet(services, { appId: app.id, person: by }, body),
  }),
  operation('PUT /apps/{app}/sheets/{sheet}', {
    does: 'Puts another content in place of that of a sheet, as it was at a revision.',
    right: 'change',
    body: changedSheetSchema,
    run: ({ services, app, by, path, body }) => keepSheet(services, { appId: app.id, person: by }, path.sheet, body),
  }),
  operation('DELETE /apps/{app}/sheets/{sheet}', {
    does: 'Drops a sheet.',
    right: 'change',
    run: async ({ services, app, by, path }) => {
      await dropSheet(services, { appId: app.id, person: by }, path.sheet);
      return {};
    },
  }),
  operation('POST /apps/{app}/sheets/{sheet}/charts', {
    does: 'Puts one more chart on a sheet.',
    right: 'change',
    body: sheetChartSchema,
    status: 201,
    run: ({ services, app, by, path, body }) => addChart(services, { appId: app.id, person: by }, path.sheet, body),
  }),
  operation('POST /apps/{app}/sheets/{sheet}/link', {
    does: 'Makes a link that shows a sheet without a sign-in, in place of the one before; it is shown once.',
    right: 'developer',
    status: 201,
    run: ({ services, app, by, path }) => makeSheetLink(services, { appId: app.id, person: by }, path.sheet),
  }),
  operation('DELETE /apps/{app}/sheets/{sheet}/link', {
    does: 'Revokes the link of a sheet.',
    right: 'developer',
    run: async ({ services, app, by, path }) => {
      await endSheetLink(services.database, { appId: app.id, person: by }, path.sheet);
      return {};
    },
  }),
  operation('GET /shared-sheets/{secret}', {
    does: 'The sheet of a link; the secret in the address is all that it takes, until it is revoked.',
    right: 'anybody',
    run: async ({ services, path, now }) => {
      const { app, sheet } = await requireSharedSheet(services.database, path.secret);
      const { title, charts } = sheet;
      return {
        app: app.name,
        title,
        charts: charts.map(({ title, note, question, width }) => ({ title, note, question, width })),
        now: now.toISOString(),
      };
    },
  }),
  operation('GET /shared-sheets/{secret}/charts/{place}', {
    does: 'The answer of one chart of a shared sheet, by its place from 0.',
    right: 'anybody',
    run: async ({ services, path, now }) => {
      const { app, sheet } = await requireSharedSheet(services.database, path.secret);
      const place = /^\d{1,2}$/.test(path.place) ? Number(path.place) : -1;
      return (await answerChart(services, app, sheet, place, now)).answer;
    },
  }),
] as const;
