import type { ChannelKind } from './channel-kind.ts';
import { mail } from './mail.ts';
import { matrix } from './matrix.ts';
import { room } from './room.ts';
import { textMessage } from './text-message.ts';
import { webhook } from './webhook.ts';

/** Every kind of channel. */
export const channelKinds = {
  mail: mail as ChannelKind,
  webhook: webhook as ChannelKind,
  room: room as ChannelKind,
  matrix: matrix as ChannelKind,
  'text-message': textMessage as ChannelKind,
} as const satisfies Readonly<Record<string, ChannelKind>>;
export type ChannelKindName = keyof typeof channelKinds;
export const channelKindNames = Object.keys(channelKinds) as [ChannelKindName, ...ChannelKindName[]];
