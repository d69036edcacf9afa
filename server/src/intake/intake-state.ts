/** How intake of an app stands, the one question that brings people to its page. */
export type IntakeState = 'waiting' | 'live' | 'trouble';

export interface IntakeFacts {
  /** Whether a report was ever accepted. */
  readonly everAccepted: boolean;
  /** Requests of the last hour that had a line refused. */
  readonly refusedRequests: number;
  /** Items of the last hour. */
  readonly acceptedItems: number;
  readonly refusedItems: number;
}

/** From this share of refused items on, intake is in trouble; below it a few bad lines are told in the log alone. */
const troubledShare = 0.2;

/** An app whose requests are refused is in trouble also while it waits for its first report: that is when people look. */
export function judgeIntake({ everAccepted, refusedRequests, acceptedItems, refusedItems }: IntakeFacts): IntakeState {
  const share = refusedItems / Math.max(1, refusedItems + acceptedItems);
  if (refusedRequests > 0 && share >= troubledShare) return 'trouble';
  return everAccepted ? 'live' : 'waiting';
}
