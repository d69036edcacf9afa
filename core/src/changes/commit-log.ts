/** A commit as git tells of it. */
export interface Commit {
  readonly hash: string;
  readonly authorName: string;
  readonly authorEmail: string;
  /** ISO time. */
  readonly at: string;
  readonly subject: string;
  /** Paths it changed, from the root of the repository; what was merged or renamed too. */
  readonly paths: readonly string[];
}

/** What git is asked to print of each commit: fields behind NUL, and a record separator before each (git-log, "PRETTY FORMATS"). */
export const commitFormat = '%x1e%H%x00%an%x00%ae%x00%aI%x00%s%x00';

/** Reads what `git log -z --name-only` printed in this form. What is cut off at the end is left out. */
export function parseCommits(printed: string): Commit[] {
  return printed.split('\x1e').flatMap((record): Commit[] => {
    const [hash = '', authorName = '', authorEmail = '', at = '', subject = '', ...names] = record.split('\0');
    if (!/^[0-9a-f]{40,64}$/.test(hash) || Number.isNaN(Date.parse(at))) return [];
    const paths = names.map((name) => name.replace(/^\n+/, '')).filter((name) => name !== '');
    return [{ hash, authorName, authorEmail: authorEmail.toLowerCase(), at, subject, paths }];
  });
}
