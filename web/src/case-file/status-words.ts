import type { CaseAction, Mute } from '@rough-ember/core/cases/case-status';
import { wordMute } from '@rough-ember/core/cases/case-words';
import type { CaseEventView } from '@rough-ember/server/desk/case-file';
import type { CaseItem } from '@rough-ember/server/desk/case-list';
import { wordCount } from '../words/numbers';

/** Why a case wants a look, in words: "new", or how much more often it happens than before. */
export function wordNews({ news, change }: Pick<CaseItem, 'news' | 'change'>): string {
  if (news !== 'worse' || change === null) return news ?? '';
  return `${wordTimes(change.value)} as often as before`;
}

/** A ratio as people say it: "1.8×", "12×". */
export const wordTimes = (ratio: number): string => `${ratio >= 10 ? Math.round(ratio) : ratio.toFixed(1).replace(/\.0$/, '')}×`;

/** What is about to be done to several cases, as a question. */
export function askAction(action: CaseAction, count: number): string {
  const cases = wordCount(count, 'case', 'cases');
  switch (action.action) {
    case 'close':
      return `Close ${cases} as cured in ${action.version}?`;
    case 'open':
      return `Open ${cases} again?`;
    case 'mute':
      return `Mute ${cases} ${wordMute(action.mute)}?`;
    case 'assign':
      return action.assignee === null
        ? `Take ${cases} from whoever looks after ${count === 1 ? 'it' : 'them'}?`
        : `Let ${action.assignee} look after ${cases}?`;
  }
}

/** What happened, to stand behind who did it; a report did what nobody did. */
export function wordEvent({ kind, detail, actor }: Pick<CaseEventView, 'kind' | 'detail' | 'actor'>): string {
  switch (kind) {
    case 'close':
      return `closed it in ${detail.version}`;
    case 'open':
      return 'opened it';
    case 'mute':
      return `muted it ${wordMute(detail.mute as Mute)}`;
    case 'assign':
      if (detail.assignee === actor) return 'looks after it';
      return detail.assignee === null ? 'took it from whoever looked after it' : `asked ${detail.assignee} to look after it`;
    case 'reopened':
      return `A report of ${detail.version} opened it again`;
    case 'unmuted':
      return `A report of ${detail.version} ended its being muted`;
    case 'undo':
      return 'took the change before back';
    case 'note':
      return 'noted';
    case 'merge':
      return `merged ${(detail.parts as { number: number }[]).map((part) => `number ${part.number}`).join(', ')} into it`;
    case 'split':
      return `took reports out, which are number ${detail.into} now`;
    case 'taken-out':
      return `took it out of number ${detail.of}`;
  }
}
