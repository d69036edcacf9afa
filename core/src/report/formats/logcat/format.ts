import { success } from '../../../result.ts';
import type { CrashFormat } from '../crash-format.ts';
import { isLogcat, readLogcat, readLogcatFile } from './read.ts';

/** As the system prints it, and as the development environment shows and saves it. */
export const logcat = {
  name: 'logcat',
  words: 'Android logcat',
  readJson: ({ whole }, context) => {
    const reports = whole && readLogcatFile(whole, context);
    return reports && success(reports);
  },
  readLines: (lines, context) => (isLogcat(lines) ? readLogcat(lines, context) : null),
} as const satisfies CrashFormat;
