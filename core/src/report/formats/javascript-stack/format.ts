import type { StackFormat } from '../crash-format.ts';
import { readJavascriptStacks } from './read.ts';

export const javascriptStack = {
  name: 'javascript-stack',
  words: 'JavaScript stack trace',
  readStacks: readJavascriptStacks,
  isCarried: true,
} as const satisfies StackFormat;
