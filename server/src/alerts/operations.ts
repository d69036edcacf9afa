import { alertRuleSchema } from '@rough-ember/core/alerts/alert-rule';
import { changeAlertWishes, findAlertAccount } from '@rough-ember/store/accounts';
import { addFirstRules } from '@rough-ember/store/alert-rules';
import { sendAgain } from '@rough-ember/store/messages';
import { z } from 'zod';
import { ApiError } from '../errors.ts';
import { operation, rowNumber } from '../operation/operation.ts';
import { alterChannel, channelSchema, dropChannel, makeChannel, sendSample } from './channel-changes.ts';
import { addRule, alertsQuerySchema, changeRule, checkedRule, dropRule, loadAlerts, loadMessages, loadRules } from './rule-views.ts';
import { loadReceived } from './stand-ins.ts';
import { tryRule } from './try-rule.ts';

const minuteOfDay = z.int().min(0).max(1_439);

/** Rules that tell people, the ways they tell, and what was told. */
export const alertOperations = [
  operation('GET /apps/{app}/alert-rules', {
    does: 'The alert rules of an app, with its channels and the people whom they may tell.',
    right: 'read',
    run: ({ services, app, now }) => loadRules(services, app, now),
  }),
  operation('POST /apps/{app}/alert-rules', {
    does: 'Makes an alert rule.',
    right: 'change',
    body: alertRuleSchema,
    status: 201,
    run: ({ services, app, by, body }) => addRule(services, app, body, by),
  }),
  operation('POST /apps/{app}/alert-rules/try', {
    does: 'What a rule would have told in the last 30 days; it is not kept.',
    right: 'read',
    body: alertRuleSchema,
    run: async ({ services, app, body, now }) => tryRule(services, app, await checkedRule(services, app, body), now),
  }),
  operation('PUT /apps/{app}/alert-rules/{id}', {
    does: 'Puts a rule in place of another.',
    right: 'change',
    body: alertRuleSchema,
    run: async ({ services, app, path, body }) => {
      await changeRule(services, app, rowNumber(path.id), body);
      return { changed: true };
    },
  }),
  operation('DELETE /apps/{app}/alert-rules/{id}', {
    does: 'Drops a rule, with what it told.',
    right: 'change',
    run: async ({ services, app, path }) => {
      await dropRule(services, app, rowNumber(path.id));
      return { dropped: true };
    },
  }),
  operation('GET /apps/{app}/alerts', {
    does: 'What the rules of an app told, the newest first.',
    right: 'read',
    parameters: alertsQuerySchema,
    run: ({ services, app, parameters }) => loadAlerts(services, app, parameters),
  }),
  operation('POST /apps/{app}/channels', {
    does: 'Makes a channel; a secret that the server made is answered once.',
    right: 'developer',
    body: channelSchema,
    status: 201,
    run: ({ services, app, by, role, body }) => makeChannel(services, app, body, { by, role }),
  }),
  operation('PUT /apps/{app}/channels/{id}', {
    does: 'Changes a channel; what waits for it goes the new way at once.',
    right: 'developer',
    body: channelSchema,
    run: ({ services, app, path, role, body }) => alterChannel(services, app, { id: rowNumber(path.id), given: body, role }),
  }),
  operation('DELETE /apps/{app}/channels/{id}', {
    does: 'Drops a channel, with what waits for it.',
    right: 'developer',
    run: async ({ services, app, path }) => {
      await dropChannel(services, app, rowNumber(path.id));
      return { dropped: true };
    },
  }),
  operation('POST /apps/{app}/channels/{id}/sample', {
    does: 'Sends a sample by a channel and answers what the receiver answered.',
    right: 'developer',
    run: ({ services, app, path, now }) => sendSample(services, app, { channelId: rowNumber(path.id), accountId: null }, now),
  }),
  operation('POST /apps/{app}/alert-sample', {
    does: 'Sends a sample by mail to whoever asks.',
    right: 'person',
    run: ({ services, app, account, now }) => sendSample(services, app, { channelId: null, accountId: account.id }, now),
  }),
  operation('GET /apps/{app}/messages', {
    does: 'The newest messages of an app: on their way, delivered, or given up, with what the receiver answered.',
    right: 'read',
    run: async ({ services, app }) => ({ messages: await loadMessages(services, app) }),
  }),
  operation('POST /apps/{app}/messages/{id}/again', {
    does: 'Sends a message once more that was given up.',
    right: 'change',
    run: async ({ services, app, path }) => {
      if (!(await sendAgain(services.database, app.id, rowNumber(path.id))))
        throw new ApiError('not-found', 'There is no message of this number that was given up.');
      return { waiting: true };
    },
  }),
  operation('GET /account/alerts', {
    does: 'How whoever asks wants to be told by rules.',
    right: 'person',
    run: async ({ services: { database, mailer }, account }) => {
      const found = await findAlertAccount(database, account.id);
      return { wantsMail: found?.wantsMail ?? true, quiet: found?.quiet ?? null, sendsMail: mailer !== null };
    },
  }),
  operation('PUT /account/alerts', {
    does: 'Chooses whether alerts come by mail, too, and the minutes of the day from and up to which none does.',
    right: 'person',
    body: z.strictObject({ wantsMail: z.boolean(), quiet: z.strictObject({ from: minuteOfDay, to: minuteOfDay }).nullable() }),
    run: async ({ services, account, body }) => {
      await changeAlertWishes(services.database, account.id, body);
      return body;
    },
  }),
  operation('GET /stand-ins/received', {
    does: 'What the stand-ins of the demo took in place of mail servers, rooms and gateways, the newest first.',
    right: 'owner',
    run: ({ services }) => loadReceived(services),
  }),
  operation('POST /apps/{app}/alert-rules/usual', {
    does: 'Gives an app the rules that every app begins with, beside those it has.',
    right: 'change',
    status: 201,
    run: async ({ services, app }) => {
      await addFirstRules(services.database, app.id);
      services.changes.note(app.id);
      return { made: true };
    },
  }),
] as const;
