import type { Answer } from './answer.ts';
import { nameOfGroup, sayAnswer, wordCounts, wordInterval, wordStep, wordValue } from './answer-words.ts';
import type { Question } from './question.ts';

const shownGroups = 60;
const shownSteps = 40;

/** An answer as lines of plain text: what it is in all, each part in a line, and what it leaves out. */
export function answerText(answer: Answer, question: Question): string {
  const { groups, steps, from, to, error, unasked, undivided, notFilterable } = answer;
  const { measure } = question;
  const lines = [sayAnswer(answer, question), `${from ?? 'from the first one'} to ${to}, days of UTC, the last one so far`];
  const parts = groups.slice(0, shownGroups).map((group) => {
    const more = [wordInterval(measure, group.sum), wordCounts(measure, group.sum)].filter((one) => one !== null).join('; ');
    const before = group.before === null ? '' : `, ${wordValue(measure, group.before.value)} in the window before`;
    return {
      name: nameOfGroup(answer, group),
      value: `${wordValue(measure, group.sum.value)}${before}${more === '' ? '' : `  (${more})`}`,
      group,
    };
  });
  const width = Math.min(48, Math.max(0, ...parts.map(({ name }) => name.length)));
  for (const { name, value, group } of parts) {
    lines.push(`${name.padEnd(width)}  ${value}`);
    if (steps === null || group.course === null) continue;
    const first = Math.max(0, steps.starts.length - shownSteps);
    const course = group.course
      .slice(first)
      .map((one, at) => `${wordStep(steps.every, steps.starts[first + at] as number)} ${wordValue(measure, one.value)}`);
    lines.push(`  ${course.join(', ')}`);
  }
  if (groups.length > shownGroups) lines.push(`and ${groups.length - shownGroups} more`);
  if (error > 0) lines.push(`People and sessions are those of a sample, ± ${(100 * error).toFixed(2)} %.`);
  if (unasked.length > 0) lines.push(`Sessions do not tell ${unasked.join(', ')}; that narrows reports alone.`);
  if (undivided.length > 0) lines.push(`Sessions do not tell ${undivided.join(', ')}; each value is counted against all sessions.`);
  for (const name of notFilterable) lines.push(`Reports are not told apart by the attribute ${name}; make it filterable first.`);
  return lines.join('\n');
}
