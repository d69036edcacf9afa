import type { Message } from '@rough-ember/core/alerts/compose-message';
import type { z } from 'zod';
import type { GuardedAnswer } from '../guarded-request.ts';

/** What is sent, and where to. */
export interface Sending<Settings> {
  readonly settings: Settings;
  /** What only the server knows; null where the kind has none, or none was given. */
  readonly secret: string | null;
  readonly message: Message;
  /** A UUID, the same at every attempt. */
  readonly messageId: string;
  /** When it was made, ISO in UTC. */
  readonly madeAt: string;
  readonly app: { readonly slug: string; readonly name: string };
  /** Sends mail. */
  readonly mail: Mailer | null;
  readonly mayReachPrivate: boolean;
}

export interface Letter {
  readonly to: readonly string[];
  readonly message: Message;
  readonly messageId: string;
  /** Path of the page where such mail is stopped. */
  readonly unsubscribePath: string;
  /** A request to it stops such mail at once (RFC 8058). */
  readonly isOneClick: boolean;
}

export interface Mailer {
  /** Gives what the server answered; throws a SendProblem. */
  send(letter: Letter): Promise<string>;
  close(): void;
}

/** Why something could not be sent. */
export class SendProblem extends Error {
  constructor(
    reason: string,
    /** Trying again would change nothing. */
    readonly isFinal = false,
    /** When the receiver wants to be asked again. */
    readonly retryAfterSeconds: number | null = null,
  ) {
    super(reason);
  }
}

/** A kind of channel: what one fills in, and how it sends. */
export interface ChannelKind<Settings = unknown> {
  readonly settings: z.ZodType<Settings>;
  /** What its secret is, for whoever fills it in; null when it has none. */
  readonly secretIs: string | null;
  /** Whether it cannot work without a secret. */
  readonly needsSecret: boolean;
  /** Makes a secret when none was given; undefined where only a person can give one. */
  readonly makeSecret?: () => string;
  /** Where it leads, in a few words, without secrets. */
  leadsTo(settings: Settings): string;
  /** Sends a message, and gives what the receiver answered; throws a SendProblem. */
  send(sending: Sending<Settings>): Promise<string>;
}

export const channelKind = <Settings>(kind: ChannelKind<Settings>): ChannelKind<Settings> => kind;

/** What an answer says: taken, to be tried again, or never. */
export function judgeAnswer({ status, text, retryAfterSeconds }: GuardedAnswer): string {
  const said = `${status}${text.trim() === '' ? '' : `: ${text.trim().replace(/\s+/g, ' ').slice(0, 300)}`}`;
  if (status >= 200 && status < 300) return said;
  // Gone is what a receiver says that wants no more (Standard Webhooks, "Operational considerations").
  throw new SendProblem(`the receiver answered ${said}`, status === 410, retryAfterSeconds);
}

/** The host of an address, which says where it leads without the secrets that paths hold. */
export const hostOf = (address: string): string => new URL(address).host;
