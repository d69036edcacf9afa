import type { CrashFormat } from '../crash-format.ts';
import { isExitInfo, readExitInfo } from './read.ts';

export const exitInfo = {
  name: 'exit-info',
  words: 'Android exit information',
  readLines: (lines) => (isExitInfo(lines) ? readExitInfo(lines) : null),
} as const satisfies CrashFormat;
