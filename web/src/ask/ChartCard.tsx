import type { Answer } from '@rough-ember/core/ask/answer';
import { wordInterval, wordMeasure, wordValue } from '@rough-ember/core/ask/answer-words';
import { chartOf, hasColours } from '@rough-ember/core/ask/charts';
import { parseQuestion } from '@rough-ember/core/ask/question';
import type { SheetChart } from '@rough-ember/core/ask/sheet';
import type { ReactNode } from 'react';
import type { RequestProblem } from '../client/api';
import { ProblemNotice } from '../shell/Notice';
import { AnswerChart } from './AnswerChart';
import { AnswerTable } from './AnswerTable';
import styles from './Sheet.module.css';
import { seriesOf } from './series';

interface ChartCardProps {
  readonly chart: Pick<SheetChart, 'title' | 'note' | 'question' | 'width'>;
  readonly answer: Answer | null;
  readonly problem: RequestProblem | null;
  readonly height?: number;
  /** What can be done with it, beside its title. */
  readonly children?: ReactNode;
}

/** A kept chart with its title, the value of all, and how to read it. */
export function ChartCard({ chart: { title, note, question: text, width }, answer, problem, height = 220, children }: ChartCardProps) {
  const parsed = parseQuestion(text);
  if (!parsed.ok) return <p>{parsed.problem.message}</p>;
  const question = parsed.value;
  const series = answer ? seriesOf(answer) : [];
  const interval = answer && wordInterval(question.measure, answer.total);
  return (
    <section className={styles.card} data-width={width} aria-label={title} aria-busy={answer === null}>
      <header className={styles.cardHead}>
        <h2>{title}</h2>
        {children}
      </header>
      <ProblemNotice problem={problem} />
      {answer && (
        <>
          {chartOf(question) !== 'number' && (
            <p className={styles.value}>
              <b>{wordValue(question.measure, answer.total.value)}</b> {wordMeasure(question.measure)}
              {interval && <small> {interval}</small>}
            </p>
          )}
          {answer.groups.length === 0 ? (
            <p className={styles.faint}>No report or session of the scope tells it.</p>
          ) : (
            <AnswerChart answer={answer} question={question} series={series} height={height} />
          )}
          {chartOf(question) === 'table' && (
            <AnswerTable answer={answer} measure={question.measure} series={hasColours(question) ? series : []} />
          )}
          {answer.error > 0 && (
            <p className={styles.faint}>People and sessions are those of a sample, ± {(100 * answer.error).toFixed(2)} %.</p>
          )}
        </>
      )}
      {note !== '' && <p className={styles.note}>{note}</p>}
    </section>
  );
}
