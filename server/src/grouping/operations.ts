import { operation } from '../operation/operation.ts';
import { applyChange, changeSchema, loadGrouping, previewRules, restoreRules, rulesSchema } from './change-rules.ts';

/** By which rules reports come together to cases. */
export const groupingOperations = [
  operation('GET /apps/{app}/grouping', {
    does: 'The grouping rules, their changes, and what the newest would do.',
    right: 'read',
    run: ({ services, app }) => loadGrouping(services, app),
  }),
  operation('POST /apps/{app}/grouping/preview', {
    does: 'Looks at what rules would do to the reports that are there.',
    right: 'change',
    body: rulesSchema,
    status: 202,
    run: ({ services, app, by, body }) => previewRules(services, app, { ...body, actor: by }),
  }),
  operation('POST /apps/{app}/grouping/apply', {
    does: 'Puts previewed rules in force.',
    right: 'change',
    body: changeSchema,
    status: 202,
    run: async ({ services, app, body }) => {
      await applyChange(services, app, body);
      return body;
    },
  }),
  operation('POST /apps/{app}/grouping/restore', {
    does: 'Puts rules of before in force again.',
    right: 'change',
    body: rulesSchema,
    status: 202,
    run: ({ services, app, by, body }) => restoreRules(services, app, { ...body, actor: by }),
  }),
] as const;
