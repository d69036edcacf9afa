import { failure, success } from '../../../result.ts';
import { printable } from '../../printable.ts';
import { isAppleHead } from '../apple-ips/read.ts';
import type { CrashFormat } from '../crash-format.ts';
import { isAppleCrashText, readAppleCrashText } from './read.ts';

/** Text; older systems put it behind the first line that a document has. */
export const appleCrashText = {
  name: 'apple-crash-text',
  words: 'Apple crash report (text)',
  readJson: ({ head, rest }) => {
    if (!head || !isAppleHead(head)) return null;
    const lines = printable(rest).split('\n');
    return isAppleCrashText(lines)
      ? success([readAppleCrashText(lines)])
      : failure('damaged', 'the file begins like an Apple crash report, but the JSON document after its first line cannot be read', 2);
  },
  readLines: (lines) => (isAppleCrashText(lines) ? [readAppleCrashText(lines)] : null),
} as const satisfies CrashFormat;
