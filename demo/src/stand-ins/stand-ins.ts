import { join } from 'node:path';
import { startMailServer } from './mail-server.ts';
import { type Received, ReceivedList } from './received.ts';
import { StandInTracker } from './tracker.ts';
import { startWebReceivers } from './web-receivers.ts';

/** Small servers that stand in for those of others: mail, webhooks, chat rooms, Matrix, text messages, a ticket tracker. They pass nothing on. */
export interface StandIns {
  /** How mail is handed in. */
  readonly smtpUrl: string;
  /** Where everything is received that goes over HTTP. */
  readonly address: string;
  readonly tracker: StandInTracker;
  /** What came, the oldest first. */
  list(): readonly Received[];
  /** While they are away, they refuse everything as a server does that is being restarted. */
  setAway(away: boolean): void;
  stop(): Promise<void>;
}

/** Starts the stand-ins on free ports of this machine; what they receive is kept in a folder, if one is named. */
export async function startStandIns(folder: string | null = null): Promise<StandIns> {
  const received = new ReceivedList(folder === null ? null : join(folder, 'stand-ins.jsonl'));
  const tracker = new StandInTracker(received);
  let away = false;
  const isAway = () => away;
  const [mail, web] = await Promise.all([startMailServer(received, { isAway }), startWebReceivers(received, tracker, { isAway })]);
  return {
    smtpUrl: mail.url,
    address: web.address,
    tracker,
    list: () => received.list(),
    setAway: (next) => {
      away = next;
    },
    stop: async () => {
      await Promise.all([mail.stop(), web.stop()]);
    },
  };
}
