import type { AlertKind } from '@rough-ember/core/alerts/alert-rule';
import { openings } from '@rough-ember/core/alerts/kind-words';
import type { ToldItem } from '@rough-ember/server/told/load-told';
import { wordEvent } from '../case-file/status-words';

type Words = Pick<ToldItem, 'reason' | 'kind' | 'actor' | 'detail'>;

/** What happened, from the side of the one who is told: "Perdita mentioned you". */
export function wordTold({ reason, kind, actor, detail }: Words, self: string): string {
  if (reason === 'rule') return openings[kind as AlertKind];
  if (reason === 'mentioned') return `${actor} mentioned you`;
  if (reason === 'assigned') return `${actor} asked you to look after it`;
  if (kind === 'assign' && detail.assignee === null) return `${actor} took it from whoever looked after it`;
  if (kind === 'note') return `${actor} noted`;
  if (kind === 'assign' && detail.assignee === self) return `${actor} asked you to look after it`;
  const event = wordEvent({ kind: kind as Parameters<typeof wordEvent>[0]['kind'], detail, actor });
  return actor === '' ? event : `${actor} ${event}`;
}

/** Why it is theirs to know, where the sentence does not say so itself. */
export const wordReason = ({ reason }: Pick<ToldItem, 'reason'>): string | null => reasonWords[reason];

const reasonWords: Readonly<Record<ToldItem['reason'], string | null>> = {
  mentioned: null,
  assigned: null,
  'takes-part': 'you take part in it',
  follows: 'you follow it',
  rule: 'a rule tells you',
};

const longestNote = 280;

/** The note that came with it, shortened; null where there is none. */
export function noteOf({ kind, detail }: Pick<ToldItem, 'kind' | 'detail'>): string | null {
  if (kind !== 'note') return null;
  const text = String(detail.text ?? '');
  return text.length > longestNote ? `${text.slice(0, longestNote).trimEnd()} …` : text;
}
