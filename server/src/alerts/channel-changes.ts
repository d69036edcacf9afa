import { randomUUID } from 'node:crypto';
import { isDeepStrictEqual } from 'node:util';
import { composeMessage } from '@rough-ember/core/alerts/compose-message';
import type { AccountRole } from '@rough-ember/store/accounts';
import type { App } from '@rough-ember/store/apps';
import { addChannel, type Channel, changeChannel, findChannel, removeChannel } from '@rough-ember/store/channels';
import { z } from 'zod';
import { ApiError } from '../errors.ts';
import type { Services } from '../services.ts';
import { SendProblem } from './channels/channel-kind.ts';
import { channelKindNames, channelKinds } from './channels/channel-kinds.ts';
import { deliver, type OutboxServices } from './outbox.ts';

/** A channel as it is given. */
export const channelSchema = z.strictObject({
  name: z.string().trim().min(1, { error: 'give it a name' }).max(100),
  kind: z.enum(channelKindNames),
  settings: z.record(z.string(), z.unknown()).describe('What the kind of the channel asks for; docs/alerts.md lists it.'),
  secret: z
    .string()
    .max(3_000)
    .optional()
    .describe('Kept encrypted and shown to nobody. Left out: the one there is stays while the settings do, or one is made.'),
  mayReachPrivate: z.boolean().default(false).describe('It may lead into the network of the server; only an owner may say so.'),
});
type GivenChannel = z.infer<typeof channelSchema>;

type ChannelServices = Pick<Services, 'database' | 'changes' | 'serverKey'>;

/** What was made: the secret is told once, where the server made it. */
export interface MadeChannel {
  readonly id: number;
  readonly secret: string | null;
}

function checked({ serverKey }: ChannelServices, given: GivenChannel, role: AccountRole, before: Channel | null) {
  const { name, kind: kindName, mayReachPrivate } = given;
  const kind = channelKinds[kindName];
  const settings = kind.settings.safeParse(given.settings);
  if (!settings.success) {
    const [issue] = settings.error.issues;
    throw new ApiError('bad-request', `settings.${issue?.path.join('.')}: ${issue?.message}.`);
  }
  // Whoever could change where such a channel leads could reach anything there.
  if (mayReachPrivate && role !== 'owner')
    throw new ApiError('not-allowed', 'Only an owner makes or changes a channel that leads into the network of the server.');
  // A secret goes nowhere else than where whoever gave it wanted it to.
  const isSamePlace = before?.kind === kindName && isDeepStrictEqual(before.settings, JSON.parse(JSON.stringify(settings.data)));
  const stays = isSamePlace ? before.secret : null;
  const made = given.secret === undefined && stays === null ? (kind.makeSecret?.() ?? null) : null;
  const secret = given.secret ?? made;
  if (secret === null && stays === null && kind.needsSecret) throw new ApiError('bad-request', `secret: ${kind.secretIs} is missing.`);
  if (kindName === 'room' && secret !== null && !/^https?:\/\/\S+$/.test(secret))
    throw new ApiError('bad-request', 'secret: the address of a room begins with https://.');
  if (kindName === 'webhook' && secret !== null && !/^whsec_[A-Za-z0-9+/]{32,}={0,2}$/.test(secret))
    throw new ApiError('bad-request', 'secret: it must be "whsec_" and 24 to 64 bytes in Base64, as Standard Webhooks says.');
  const kept = secret === null ? stays : serverKey.encrypt(secret);
  return { written: { name, kind: kindName, settings: settings.data as object, secret: kept, mayReachPrivate }, made };
}

/** Keeps a channel. */
export async function makeChannel(
  services: ChannelServices,
  app: App,
  given: GivenChannel,
  { by, role }: { readonly by: string; readonly role: AccountRole },
): Promise<MadeChannel> {
  const { written, made } = checked(services, given, role, null);
  const id = await addChannel(services.database, app.id, { ...written, madeBy: by });
  if (id === null) throw new ApiError('bad-request', `${app.name} has as many channels as there can be. Drop one first.`);
  services.changes.note(app.id);
  return { id, secret: made };
}

async function requireChannel({ database }: Pick<Services, 'database'>, app: App, id: number): Promise<Channel> {
  const channel = await findChannel(database, id);
  if (channel?.appId !== app.id) throw new ApiError('not-found', 'There is no such channel; somebody may have dropped it.');
  return channel;
}

/** Changes a channel; what waits for it goes the new way at once. */
export async function alterChannel(
  services: ChannelServices,
  app: App,
  { id, given, role }: { readonly id: number; readonly given: GivenChannel; readonly role: AccountRole },
): Promise<MadeChannel> {
  const before = await requireChannel(services, app, id);
  const { written, made } = checked(services, given, role, before);
  await changeChannel(services.database, app.id, id, written);
  services.changes.note(app.id);
  return { id, secret: made };
}

export async function dropChannel(services: ChannelServices, app: App, id: number): Promise<void> {
  await requireChannel(services, app, id);
  await removeChannel(services.database, app.id, id);
  services.changes.note(app.id);
}

/** Sends a sample by a channel, or to whoever asks by mail, and gives what was answered. */
export async function sendSample(
  services: OutboxServices,
  app: App,
  to: { readonly channelId: number; readonly accountId: null } | { readonly channelId: null; readonly accountId: number },
  now: Date,
): Promise<{ readonly answer: string }> {
  if (to.channelId !== null) await requireChannel(services, app, to.channelId);
  const link = `${services.publicUrl}/apps/${app.slug}/alerts`;
  const message = composeMessage(
    [
      {
        kind: 'case-begins',
        at: now.toISOString(),
        app: app.name,
        version: null,
        case: null,
        told: { headline: `A sample: alerts of ${app.name} come this way`, facts: ['Nothing happened. Somebody tried the channel.'] },
        link,
        acts: [],
      },
    ],
    { text: `${app.name} sent this since somebody asked for it.`, link },
  );
  try {
    return { answer: await deliver(services, { to, message, messageId: randomUUID(), madeAt: now, appId: app.id }) };
  } catch (error) {
    const reason = error instanceof SendProblem || error instanceof Error ? error.message : String(error);
    throw new ApiError('undelivered', `The sample could not be delivered: ${reason}.`);
  }
}
