import type { CrashFormat } from '../crash-format.ts';
import { isTombstoneProtobuf, readTombstoneProtobuf } from './read.ts';

export const tombstoneProtobuf = {
  name: 'tombstone-protobuf',
  words: 'Android tombstone (protobuf)',
  readBytes: (bytes) => (isTombstoneProtobuf(bytes) ? readTombstoneProtobuf(bytes) : null),
} as const satisfies CrashFormat;
