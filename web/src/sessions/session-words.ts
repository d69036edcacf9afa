import type { SessionItem } from '@rough-ember/server/stability/sessions';

/** How long something took: `8 s`, `4 min 10 s`, `1 h 5 min`. */
export function wordDuration(ms: number): string {
  const seconds = Math.round(ms / 1_000);
  if (seconds < 60) return `${seconds} s`;
  const minutes = Math.floor(seconds / 60);
  if (minutes < 60) return seconds % 60 === 0 ? `${minutes} min` : `${minutes} min ${seconds % 60} s`;
  return minutes % 60 === 0 ? `${minutes / 60} h` : `${Math.floor(minutes / 60)} h ${minutes % 60} min`;
}

const words = { open: 'not yet', ended: 'well', killed: 'by the system', hung: 'hung', crashed: 'crashed' } as const;

/** How a session ended, and how soon when that was a crash. */
export const endedWords = ({ state, crashedAfterMs }: Pick<SessionItem, 'state' | 'crashedAfterMs'>): string =>
  state === 'crashed' && crashedAfterMs !== null ? `crashed after ${wordDuration(crashedAfterMs)}` : words[state];

/** A moment of a session by the time since its start: `+0:42.3`. */
export function wordOffset(at: string, startedAt: string): string {
  const ms = Math.max(0, Date.parse(at) - Date.parse(startedAt));
  const minutes = Math.floor(ms / 60_000);
  return `+${minutes}:${((ms % 60_000) / 1_000).toFixed(1).padStart(4, '0')}`;
}
