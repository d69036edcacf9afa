/** What became of an item. */
export const intakeOutcomes = ['accepted', 'duplicate', 'excluded', 'sampled-out', 'passed-over', 'refused'] as const;
export type IntakeOutcome = (typeof intakeOutcomes)[number];

/** A line of a request that was not simply accepted, or not as it came. */
export interface LoggedLine {
  readonly line: number;
  readonly outcome: IntakeOutcome;
  readonly what: string;
  readonly reason: string | null;
  /** Of the item, so that what is said of it can go with it; lines of before have none. */
  readonly id?: string;
  /** What was changed so that it could be kept; lines of before this was told have none. */
  readonly remarks?: readonly string[];
}
