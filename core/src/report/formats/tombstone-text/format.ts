import type { CrashFormat } from '../crash-format.ts';
import { isTombstone, readTombstoneText } from './read.ts';

export const tombstoneText = {
  name: 'tombstone-text',
  words: 'Android tombstone (text)',
  readLines: (lines) => (isTombstone(lines) ? [readTombstoneText(lines)] : null),
} as const satisfies CrashFormat;
