import { UnstyledButton } from '@mantine/core';
import type { Answer } from '@rough-ember/core/ask/answer';
import { nameOfGroup, wordCounts, wordInterval, wordMeasure, wordSplitValue, wordValue } from '@rough-ember/core/ask/answer-words';
import { addsUp } from '@rough-ember/core/ask/charts';
import type { Question } from '@rough-ember/core/ask/question';
import { useState } from 'react';
import { wordShare } from '../words/numbers';
import styles from './AnswerTable.module.css';
import { GroupMenu } from './GroupMenu';
import type { Series } from './series';

const shownAtFirst = 20;

/** Every part of an answer with its value, how sure it is, and what it is made of. */
export function AnswerTable({ answer, measure, series }: { answer: Answer; measure: Question['measure']; series: readonly Series[] }) {
  const [shown, setShown] = useState(shownAtFirst);
  const { groups, splits, total } = answer;
  const hasIntervals = [total, ...groups.map((group) => group.sum)].some((figure) => figure.low !== null);
  const hasCounts = wordCounts(measure, total) !== null;
  const hasBefore = groups.some((group) => group.before !== null);
  const whole = addsUp(measure) && groups.length > 1 && (total.value ?? 0) > 0 ? total.value : null;
  const shadeOf = new Map(series.map(({ group, shade }) => [group, shade]));
  return (
    <div className={styles.tableRoom}>
      <table className={styles.table}>
        <thead>
          <tr>
            {splits.length === 0 && <th scope="col">what</th>}
            {splits.map((split) => (
              <th key={`${split.field} ${split.key}`} scope="col">
                {split.called}
              </th>
            ))}
            <th scope="col">{wordMeasure(measure)}</th>
            {whole !== null && <th scope="col">of all</th>}
            {hasBefore && <th scope="col">in the window before</th>}
            {hasIntervals && <th scope="col">with 95 %</th>}
            {hasCounts && <th scope="col">made of</th>}
          </tr>
        </thead>
        <tbody>
          {groups.slice(0, shown).map((group) => (
            <tr key={group.places.join()}>
              {splits.length === 0 && <th scope="row">all</th>}
              {splits.map((split, at) => (
                <th key={`${split.field} ${split.key}`} scope="row">
                  {at === 0 && shadeOf.has(group) && <i className={styles.swatch} style={{ background: shadeOf.get(group) }} />}
                  <GroupMenu answer={answer} group={group} label={at === 0 ? nameOfGroup(answer, group) : undefined}>
                    {wordSplitValue(split, split.values[group.places[at] as number] as string)}
                  </GroupMenu>
                </th>
              ))}
              <td>{wordValue(measure, group.sum.value)}</td>
              {whole !== null && <td className={styles.soft}>{wordShare((group.sum.value ?? 0) / whole)}</td>}
              {hasBefore && <td>{wordValue(measure, group.before?.value ?? null)}</td>}
              {hasIntervals && <td className={styles.soft}>{wordInterval(measure, group.sum) ?? ''}</td>}
              {hasCounts && <td className={styles.soft}>{wordCounts(measure, group.sum)}</td>}
            </tr>
          ))}
        </tbody>
        {groups.length > 1 && (
          <tfoot>
            <tr>
              <th scope="row" colSpan={Math.max(1, splits.length)}>
                all together
              </th>
              <td>{wordValue(measure, total.value)}</td>
              {whole !== null && <td />}
              {hasBefore && <td>{wordValue(measure, answer.before?.value ?? null)}</td>}
              {hasIntervals && <td className={styles.soft}>{wordInterval(measure, total) ?? ''}</td>}
              {hasCounts && <td className={styles.soft}>{wordCounts(measure, total)}</td>}
            </tr>
          </tfoot>
        )}
      </table>
      {groups.length > shown && (
        <UnstyledButton className={styles.more} onClick={() => setShown(groups.length)}>
          show all {groups.length}
        </UnstyledButton>
      )}
    </div>
  );
}
