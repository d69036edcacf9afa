import { success } from '../../../result.ts';
import type { CrashFormat } from '../crash-format.ts';
import { isAppleHead, readAppleIps } from './read.ts';

/** One document, or two: a line that says what the report is about, then the report. */
export const appleIps = {
  name: 'apple-ips',
  words: 'Apple crash report (.ips)',
  readJson: ({ whole, head, body }) => {
    if (whole) {
      const report = readAppleIps({}, whole);
      return report && success([report]);
    }
    // Older systems put the text form behind the same first line.
    if (!head || !isAppleHead(head) || !body) return null;
    const report = readAppleIps(head, body);
    return success(report ? [report] : []);
  },
} as const satisfies CrashFormat;
