/** A change in a line: what it was, by whom, and why it is likely to have brought a case. */
export const wordChange = (change: {
  readonly subject: string;
  readonly hash: string;
  readonly authorName: string;
  readonly reason: string;
}): string => `${change.subject} (${change.hash.slice(0, 9)} by ${change.authorName}), ${change.reason}`;
