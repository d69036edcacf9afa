import { writtenLine } from '../../written-line.ts';
import type { StackFormat } from '../crash-format.ts';
import type { FoundReport } from '../found-report.ts';
import { readJvmStacks } from './read.ts';

/**
 * Whether a report of the JVM says of any frame where it is, if only that this is not known. "A.B()" with nothing between the
 * parentheses is how .NET writes a method without parameters.
 */
const namesFiles = ({ exceptions }: FoundReport): boolean => {
  const lines = exceptions.flatMap(({ frames }) => frames.map((frame) => writtenLine(frame) ?? ''));
  return lines.length === 0 || lines.some((line) => !line.includes('()'));
};

export const jvmStack = {
  name: 'jvm-stack',
  words: 'JVM stack trace',
  readStacks: (lines) => readJvmStacks(lines).filter(namesFiles),
  isCarried: false,
} as const satisfies StackFormat;
