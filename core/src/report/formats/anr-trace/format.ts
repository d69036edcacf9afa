import type { CrashFormat } from '../crash-format.ts';
import { isAnrTrace, readAnrTraces } from './read.ts';

export const anrTrace = {
  name: 'anr-trace',
  words: 'Android ANR trace',
  readLines: (lines) => (isAnrTrace(lines) ? readAnrTraces(lines) : null),
} as const satisfies CrashFormat;
