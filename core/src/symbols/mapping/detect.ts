import { failure, type Result, success } from '../../result.ts';
import { describeFile } from '../identify.ts';
import { parseMappingLine } from './parse.ts';

/** How many bytes of a file the decision needs at most. */
export const detectHeadBytes = 64 * 1024;

/**
 * Whether a file can be a mapping, from its first bytes: its first line that is no comment names a class. A head of
 * nothing but comments leaves it open and passes.
 */
export function detectMapping(head: Uint8Array): Result<null, 'not-a-mapping'> {
  const lines = new TextDecoder().decode(head.subarray(0, detectHeadBytes)).split('\n');
  if (head.length >= detectHeadBytes) lines.pop(); // cut in the middle
  for (const line of lines) {
    const { type } = parseMappingLine(line);
    if (type === 'class') return success(null);
    if (type !== 'comment' && type !== 'blank') return notAMapping(head);
  }
  return lines.some((line) => line.trim() !== '') ? success(null) : notAMapping(head);
}

const notAMapping = (head: Uint8Array) =>
  failure(
    'not-a-mapping',
    `This is no mapping: it does not begin with a class line ("original.Name -> a.b:") and looks like ${describeFile(head)}.`,
  );
