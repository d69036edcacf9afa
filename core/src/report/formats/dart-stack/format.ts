import type { StackFormat } from '../crash-format.ts';
import { readDartStacks } from './read.ts';

export const dartStack = {
  name: 'dart-stack',
  words: 'Dart stack trace',
  readStacks: readDartStacks,
  isCarried: true,
} as const satisfies StackFormat;
