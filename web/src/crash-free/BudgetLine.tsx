import { printDay } from '@rough-ember/core/session-index/person-day';
import { wordFree } from '@rough-ember/core/stability/comparison-words';
import type { TargetBudget } from '@rough-ember/core/stability/target-budget';
import { wordDay } from '@rough-ember/core/words/time';
import { wordShare } from '../words/numbers';

const verdictWords: Readonly<Record<TargetBudget['verdict'], string>> = {
  'will-meet': 'will be met',
  'will-miss': 'will be missed',
  open: 'may be met or missed',
  missed: 'is missed already',
};

const monthFormat = new Intl.DateTimeFormat('en-GB', { month: 'long', timeZone: 'UTC' });

/** Whether the month will meet the target, and how much of what it allows is used up. */
export function BudgetLine({ budget }: { budget: TargetBudget }) {
  const { targetPercent, month, used, elapsed, atTheEnd, usedUpOn, verdict } = budget;
  const day = (at: number) => wordDay(printDay(at));
  return (
    <p>
      <b data-verdict={verdict === 'will-meet' ? 'better' : verdict === 'open' ? 'alike' : 'worse'}>
        The target of {targetPercent} % {verdictWords[verdict]} in {monthFormat.format(new Date(`${printDay(month.first)}T00:00:00Z`))}
      </b>
      : {wordShare(used)} of what it allows is used up, {wordShare(elapsed)} of the month is over. As in the last seven days it ends at{' '}
      {wordFree(atTheEnd.value)} ({wordFree(atTheEnd.low)} to {wordFree(atTheEnd.high)})
      {usedUpOn?.earliest != null && verdict !== 'missed' && (
        <>
          , and is used up {usedUpOn.day === null ? 'not before' : `about ${day(usedUpOn.day)}, at the earliest`} {day(usedUpOn.earliest)}
        </>
      )}
      .
    </p>
  );
}
