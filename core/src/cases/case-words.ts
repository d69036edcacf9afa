import { wordCount } from '../words/count.ts';
import { wordDate } from '../words/time.ts';
import type { CaseState, Mute } from './case-status.ts';

/** The state of a case in a few words. */
export function wordStatus({
  state,
  closedIn,
  mute,
}: {
  readonly state: CaseState;
  readonly closedIn: string | null;
  readonly mute: Mute | null;
}): string {
  switch (state) {
    case 'open':
      return 'open';
    case 'closed':
      return `closed in ${closedIn}`;
    case 'reopened':
      return `reopened, was closed in ${closedIn}`;
    case 'muted':
      return mute ? `muted ${wordMute(mute)}` : 'muted';
  }
}

/** How long something is muted. */
export function wordMute(mute: Mute): string {
  switch (mute.until) {
    case 'further notice':
      return 'for good';
    case 'date':
      return `until ${wordDate(mute.date)}`;
    case 'reports':
      return `for ${wordCount(mute.more, 'more report', 'more reports')}`;
    case 'people':
      return `for ${wordCount(mute.more, 'more person', 'more people')}`;
    case 'version':
      return `until ${mute.version}`;
  }
}
