import { BroadcastChannel } from 'node:worker_threads';
import { onConflict } from '@rough-ember/store/database';

const channelName = 'ember-database-conflicts';

/** Tells the main thread of transactions of this one that were tried again. */
export function tellConflicts(): void {
  const channel = new BroadcastChannel(channelName);
  channel.unref();
  onConflict((errno) => channel.postMessage(errno));
}

/** Hears of transactions of any thread of this process that were tried again, until it is stopped. */
export function hearConflicts(note: (errno: number) => void): { stop(): void } {
  const channel = new BroadcastChannel(channelName);
  channel.unref();
  channel.onmessage = (event) => note(Number((event as { data: unknown }).data));
  onConflict(note);
  return { stop: () => channel.close() };
}
