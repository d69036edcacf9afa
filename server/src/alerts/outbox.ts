import { randomUUID } from 'node:crypto';
import { type AlertNews, composeMessage } from '@rough-ember/core/alerts/compose-message';
import { findAlertAccount } from '@rough-ember/store/accounts';
import { type Alert, markDelivered, putOff, type Recipient, takeDue } from '@rough-ember/store/alerts';
import { type App, findAppById } from '@rough-ember/store/apps';
import { findChannel } from '@rough-ember/store/channels';
import { inTransaction } from '@rough-ember/store/database';
import { databaseFault, reasonOf } from '@rough-ember/store/database-errors';
import { addMessage, type KeptMessage, markSent, markUnsent, takeMessages } from '@rough-ember/store/messages';
import { reaches } from '../accounts/reach.ts';
import type { DeskServices, Services } from '../services.ts';
import { SendProblem } from './channels/channel-kind.ts';
import { type ChannelKindName, channelKinds } from './channels/channel-kinds.ts';
import { newsOfAlerts } from './news-of-alerts.ts';
import { unsubscribePath } from './unsubscribe.ts';

export type OutboxServices = DeskServices & Pick<Services, 'publicUrl' | 'settings' | 'mailer' | 'serverKey' | 'log'>;

/** Writes the message of one recipient who is to be told now into the outbox; false when nobody is. */
export async function writeDueMessage(services: OutboxServices): Promise<boolean> {
  return inTransaction(services.database, async (transaction) => {
    const due = await takeDue(transaction);
    if (!due) return false;
    const app = await findAppById(transaction, due.appId);
    const news = app && (await mayBeTold(services, due.to, app)) ? await newsOf(services, app, due.alerts) : [];
    if (news === null) {
      await putOff(transaction, due.deliveryIds, putOffMinutes);
      return true;
    }
    const footer = footerOf(services, due.to, app);
    const row =
      app && news.length > 0
        ? await addMessage(transaction, { messageId: randomUUID(), appId: app.id, to: due.to, message: composeMessage(news, footer) })
        : null;
    await markDelivered(transaction, due.deliveryIds, row);
    return true;
  });
}

/** What cannot be told now is looked at again later, so that it holds up nobody else's message. */
const putOffMinutes = 10;

/** What there is to tell; null when it cannot be found out for a reason that lies in it. */
async function newsOf(services: OutboxServices, app: App, alerts: readonly Alert[]): Promise<AlertNews[] | null> {
  try {
    return await newsOfAlerts(services, app, alerts);
  } catch (error) {
    if (databaseFault(error) !== null) throw error;
    services.log.warn({ err: error, app: app.slug, alerts: alerts.map(({ id }) => id) }, 'what is to be told could not be found out');
    return null;
  }
}

/** Somebody may have lost sight of the app, or want no mail any more, since they were to be told. */
async function mayBeTold({ database }: OutboxServices, { accountId }: Recipient, app: App): Promise<boolean> {
  if (accountId === null) return true;
  const account = await findAlertAccount(database, accountId);
  return account?.wantsMail === true && reaches(account, app.id);
}

function footerOf({ publicUrl }: OutboxServices, { accountId }: Recipient, app: App | null) {
  return accountId === null
    ? { text: `A rule of ${app?.name} sends this here.`, link: `${publicUrl}/apps/${app?.slug}/alerts` }
    : { text: `A rule of ${app?.name} tells you this, and your account says that you want mail.`, link: `${publicUrl}/account#alerts` };
}

const messagesAtOnce = 20;
/** After the first attempts it is tried again after so long, and at last every hour. */
const retrySeconds = [5, 30, 120, 600, 1_800, 3_600];
/** A channel that is away for longer loses the message. */
const givenUpAfterMs = 3 * 24 * 3_600_000;

/** Sends messages that are due; gives how many were tried. One that cannot be delivered holds up no other. */
export async function sendDueMessages(services: OutboxServices): Promise<number> {
  const messages = await takeMessages(services.database, messagesAtOnce);
  await Promise.all(messages.map((one) => sendMessage(services, one)));
  return messages.length;
}

async function sendMessage(services: OutboxServices, message: KeptMessage): Promise<void> {
  const { database, log } = services;
  try {
    await markSent(database, message, await deliver(services, message));
  } catch (error) {
    const problem = error instanceof SendProblem ? error : new SendProblem(reasonOf(error));
    const isLate = Date.now() - message.madeAt.getTime() > givenUpAfterMs;
    const wait = Math.max(problem.retryAfterSeconds ?? 0, retrySeconds[Math.min(message.attempts, retrySeconds.length) - 1] ?? 5);
    log.info({ message: message.messageId, attempt: message.attempts, reason: problem.message }, 'a message could not be delivered');
    await markUnsent(database, message, { reason: problem.message, retryAfterSeconds: problem.isFinal || isLate ? null : wait });
  }
}

/** Hands a message to its channel, or to somebody by mail; gives what was answered. */
export async function deliver(
  services: OutboxServices,
  kept: Pick<KeptMessage, 'to' | 'message' | 'messageId' | 'madeAt' | 'appId'>,
): Promise<string> {
  const { database, mailer, serverKey } = services;
  const { to, message, messageId, madeAt, appId } = kept;
  const app = await findAppById(database, appId);
  if (!app) throw new SendProblem('the app is gone', true);
  if (to.accountId !== null) {
    const account = await findAlertAccount(database, to.accountId);
    if (!account) throw new SendProblem('the account is gone', true);
    if (mailer === null) throw new SendProblem('this server sends no mail: EMBER_SMTP_URL is not set');
    return mailer.send({
      to: [account.email],
      message,
      messageId,
      unsubscribePath: unsubscribePath(serverKey, account.id),
      isOneClick: true,
    });
  }
  const channel = await findChannel(database, to.channelId);
  if (!channel) throw new SendProblem('the channel is gone', true);
  const kind = channelKinds[channel.kind as ChannelKindName];
  if (!kind) throw new SendProblem(`a newer version of the program made this channel: ${channel.kind}`);
  const secret = channel.secret === null ? null : serverKey.decrypt(channel.secret);
  if (channel.secret !== null && secret === null)
    throw new SendProblem('its secret was encrypted by another key of the server; give it again, or set EMBER_SECRET_KEY as it was');
  return kind.send({
    settings: kind.settings.parse(channel.settings),
    secret,
    message,
    messageId,
    madeAt: madeAt.toISOString(),
    app: { slug: app.slug, name: app.name },
    mail: mailer,
    mayReachPrivate: channel.mayReachPrivate,
  });
}
