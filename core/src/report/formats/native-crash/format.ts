import type { CrashFormat } from '../crash-format.ts';
import { isNativeCrash, readNativeCrash } from './read.ts';

export const nativeCrash = {
  name: 'native-crash',
  words: 'crash file of the native client',
  readBytes: (bytes) => (isNativeCrash(bytes) ? readNativeCrash(bytes) : null),
} as const satisfies CrashFormat;
