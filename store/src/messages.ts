import type { Message } from '@rough-ember/core/alerts/compose-message';
import { z } from 'zod';
import type { Recipient } from './alerts.ts';
import { type Database, inTransaction } from './database.ts';
import { readStored, type StoredForm, writeStored } from './stored-json.ts';
import { uuidBytes, uuidText } from './uuid.ts';

const messageForm: StoredForm<Message> = {
  column: 'messages.message',
  upgrades: [],
  schema: z.object({ subject: z.string(), text: z.string(), html: z.string(), thread: z.string() }),
};

const messageStates = ['waiting', 'sent', 'failed'] as const;
export type MessageState = (typeof messageStates)[number];

/** A message on its way. */
export interface KeptMessage {
  readonly id: number;
  /** A UUID, the same at every attempt. */
  readonly messageId: string;
  readonly appId: number;
  readonly to: Recipient;
  readonly message: Message;
  readonly state: MessageState;
  /** Counts this attempt. */
  readonly attempts: number;
  readonly madeAt: Date;
  readonly sentAt: Date | null;
  readonly answer: string | null;
}

const columns = {
  id: 'id',
  messageId: 'message_id',
  appId: 'app_id',
  channelId: 'channel_id',
  accountId: 'account_id',
  message: 'message',
  state: 'state',
  attempts: 'attempts',
  madeAt: 'made_at',
  sentAt: 'sent_at',
  answer: 'answer',
} as const;

type Row = Omit<KeptMessage, 'messageId' | 'to' | 'message'> & {
  readonly messageId: Buffer;
  readonly channelId: number | null;
  readonly accountId: number | null;
  readonly message: unknown;
};

const toMessage = ({ messageId, channelId, accountId, message, ...row }: Row): KeptMessage => ({
  ...row,
  messageId: uuidText(messageId),
  to: { channelId, accountId } as Recipient,
  message: readStored(messageForm, message),
});

/** Puts a message into the outbox; gives its row. */
export async function addMessage(
  transaction: Database,
  { messageId, appId, to, message }: Pick<KeptMessage, 'messageId' | 'appId' | 'to' | 'message'>,
): Promise<number> {
  const [id] = await transaction('messages').insert({
    message_id: uuidBytes(messageId),
    app_id: appId,
    channel_id: to.channelId,
    account_id: to.accountId,
    message: writeStored(messageForm, message),
  });
  return id as number;
}

/** Whoever dies with a message leaves it to the next after this: longer than the slowest receiver is waited for. */
const leaseSeconds = 300;

/** Takes messages that are due; nobody else sends them for a while. */
export async function takeMessages(database: Database, limit: number): Promise<KeptMessage[]> {
  return inTransaction(database, async (transaction) => {
    const rows = await transaction('messages')
      .where({ state: 'waiting' })
      .whereRaw('run_after <= UTC_TIMESTAMP(3)')
      .orderBy('id')
      .limit(limit)
      .forUpdate()
      .skipLocked()
      .select<Row[]>(columns);
    await transaction('messages')
      .whereIn(
        'id',
        rows.map((row) => row.id),
      )
      .update({
        attempts: transaction.raw('attempts + 1'),
        run_after: transaction.raw('UTC_TIMESTAMP(3) + INTERVAL ? SECOND', [leaseSeconds]),
      });
    return rows.map((row) => toMessage({ ...row, attempts: row.attempts + 1 }));
  });
}

const mostAnswer = 500;

/** Keeps that a message was taken, with the answer of the receiver. */
export async function markSent(database: Database, { id, to }: Pick<KeptMessage, 'id' | 'to'>, answer: string): Promise<void> {
  await inTransaction(database, async (transaction) => {
    await transaction('messages')
      .where({ id })
      .update({ state: 'sent', sent_at: transaction.raw('UTC_TIMESTAMP(3)'), answer: answer.slice(0, mostAnswer) });
    if (to.channelId !== null)
      await transaction('channels')
        .where({ id: to.channelId })
        .update({ last_sent_at: transaction.raw('UTC_TIMESTAMP(3)'), failing_since: null, problem: null });
  });
}

/** Keeps why a message could not be delivered; it is tried again after `retryAfterSeconds`, or given up when that is null. */
export async function markUnsent(
  database: Database,
  { id, to }: Pick<KeptMessage, 'id' | 'to'>,
  { reason, retryAfterSeconds }: { readonly reason: string; readonly retryAfterSeconds: number | null },
): Promise<void> {
  const answer = reason.slice(0, mostAnswer);
  await inTransaction(database, async (transaction) => {
    await transaction('messages')
      .where({ id })
      .update(
        retryAfterSeconds === null
          ? { state: 'failed', answer }
          : { answer, run_after: transaction.raw('UTC_TIMESTAMP(3) + INTERVAL ? SECOND', [Math.round(retryAfterSeconds)]) },
      );
    if (to.channelId !== null)
      await transaction('channels')
        .where({ id: to.channelId })
        .update({ failing_since: transaction.raw('COALESCE(failing_since, UTC_TIMESTAMP(3))'), problem: answer });
  });
}

/** Messages of all apps that have not left yet. */
export async function countWaitingMessages(database: Database): Promise<number> {
  const [row] = await database('messages').where({ state: 'waiting' }).count({ count: '*' });
  return Number(row?.count);
}

/** The messages of an app, the newest first. */
export async function listMessages(database: Database, appId: number, limit: number): Promise<KeptMessage[]> {
  return (await database('messages').where({ app_id: appId }).orderBy('id', 'desc').limit(limit).select<Row[]>(columns)).map(toMessage);
}

/** Sends what was given up once more. False when there is no such message. */
export async function sendAgain(database: Database, appId: number, id: number): Promise<boolean> {
  const changed: number = await database('messages')
    .where({ app_id: appId, id, state: 'failed' })
    .update({ state: 'waiting', attempts: 0, run_after: database.raw('UTC_TIMESTAMP(3)') });
  return changed > 0;
}
