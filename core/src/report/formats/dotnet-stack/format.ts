import type { StackFormat } from '../crash-format.ts';
import { readDotnetStacks } from './read.ts';

export const dotnetStack = {
  name: 'dotnet-stack',
  words: '.NET stack trace',
  readStacks: readDotnetStacks,
  isCarried: true,
} as const satisfies StackFormat;
