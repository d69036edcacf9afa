import { ApiError } from '../errors.ts';
import type { Services } from '../services.ts';

/** Something that a stand-in of the demo took, in place of a server of somebody else. */
export interface ReceivedView {
  /** From 1, in the order in which things came. */
  readonly number: number;
  /** The same for one message however often it came. */
  readonly id: string;
  /** `mail`, `webhook`, `room`, `matrix`, `text-message` or `tracker`. */
  readonly way: string;
  readonly at: string;
  readonly to: string;
  readonly subject: string;
  readonly text: string;
  /** Mail alone has it. */
  readonly html: string | null;
  readonly remark: string;
}

/** What stands in for mail servers, rooms and gateways while the demo runs. */
export interface StandInReceivers {
  list(): readonly ReceivedView[];
}

const shown = 100;

/** What the stand-ins took, the newest first. */
export function loadReceived({ standIns }: Pick<Services, 'standIns'>): { received: readonly ReceivedView[] } {
  if (standIns === null) throw new ApiError('not-found', 'This server runs no stand-ins; they come with the demo.');
  return { received: standIns.list().slice(-shown).reverse() };
}
