import type { Database } from './database.ts';

/** A way that alerts of an app go. What its settings mean is the matter of its kind. */
export interface Channel {
  readonly id: number;
  readonly appId: number;
  readonly name: string;
  readonly kind: string;
  readonly settings: unknown;
  /** Encrypted. */
  readonly secret: Buffer | null;
  /** An owner lets it lead into the network of the server. */
  readonly mayReachPrivate: boolean;
  readonly madeBy: string;
  readonly madeAt: Date;
  readonly lastSentAt: Date | null;
  readonly failingSince: Date | null;
  /** Why the last message could not be delivered. */
  readonly problem: string | null;
}

const columns = {
  id: 'id',
  appId: 'app_id',
  name: 'name',
  kind: 'kind',
  settings: 'settings',
  secret: 'secret',
  mayReachPrivate: 'may_reach_private',
  madeBy: 'made_by',
  madeAt: 'made_at',
  lastSentAt: 'last_sent_at',
  failingSince: 'failing_since',
  problem: 'problem',
} as const;

type Row = Omit<Channel, 'mayReachPrivate'> & { readonly mayReachPrivate: number };
const toChannel = ({ mayReachPrivate, settings, ...row }: Row): Channel => ({
  ...row,
  settings: typeof settings === 'string' ? JSON.parse(settings) : settings,
  mayReachPrivate: mayReachPrivate === 1,
});

export async function listChannels(database: Database, appId: number): Promise<Channel[]> {
  return (await database('channels').where({ app_id: appId }).orderBy(['name', 'id']).select<Row[]>(columns)).map(toChannel);
}

export async function findChannel(database: Database, id: number): Promise<Channel | null> {
  const row: Row | undefined = await database('channels').where({ id }).first(columns);
  return row ? toChannel(row) : null;
}

type Written = Pick<Channel, 'name' | 'kind' | 'secret' | 'mayReachPrivate'> & { readonly settings: object };
const rowOf = ({ name, kind, settings, secret, mayReachPrivate }: Written) => ({
  name,
  kind,
  settings: JSON.stringify(settings),
  secret,
  may_reach_private: mayReachPrivate,
});

const mostChannels = 50;

/** Keeps a channel; null when the app has as many as it may have. */
export async function addChannel(
  database: Database,
  appId: number,
  channel: Written & { readonly madeBy: string },
): Promise<number | null> {
  const [row] = await database('channels').where({ app_id: appId }).count({ count: '*' });
  if (Number(row?.count) >= mostChannels) return null;
  const [id] = await database('channels').insert({ app_id: appId, made_by: channel.madeBy, ...rowOf(channel) });
  return id as number;
}

/** Changes a channel; what waits for it goes the new way. False when it is not there. */
export async function changeChannel(database: Database, appId: number, id: number, channel: Written): Promise<boolean> {
  const changed = await database('channels')
    .where({ app_id: appId, id })
    .update({ ...rowOf(channel), failing_since: null, problem: null });
  if (changed === 0) return false;
  await database('messages')
    .where({ channel_id: id, state: 'waiting' })
    .update({ run_after: database.raw('UTC_TIMESTAMP(3)') });
  return true;
}

/** Drops a channel with what waits for it. */
export async function removeChannel(database: Database, appId: number, id: number): Promise<boolean> {
  return (await database('channels').where({ app_id: appId, id }).delete()) > 0;
}
