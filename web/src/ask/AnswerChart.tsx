import type { Answer } from '@rough-ember/core/ask/answer';
import { wordCounts, wordInterval, wordMeasure, wordValue } from '@rough-ember/core/ask/answer-words';
import { chartOf, hasColours } from '@rough-ember/core/ask/charts';
import type { ChartName, Question } from '@rough-ember/core/ask/question';
import { lazy, Suspense, useState } from 'react';
import { useSeen } from '../client/use-seen';
import { wordNumber } from '../words/numbers';
import styles from './Ask.module.css';
import { BeforeAfter } from './BeforeAfter';
import { GroupMenu, type Pressed, PressedMenu } from './GroupMenu';
import { MatrixAnswer } from './MatrixAnswer';
import { pairsOf } from './pairs';
import { mostSeries, type Series } from './series';

// What draws comes when it is looked at.
const TimeDrawing = lazy(() => import('./TimeDrawing').then(({ TimeDrawing }) => ({ default: TimeDrawing })));
const BarsDrawing = lazy(() => import('./BarsDrawing').then(({ BarsDrawing }) => ({ default: BarsDrawing })));
const PairedBarsDrawing = lazy(() => import('./PairedBarsDrawing').then(({ PairedBarsDrawing }) => ({ default: PairedBarsDrawing })));
const RingDrawing = lazy(() => import('./RingDrawing').then(({ RingDrawing }) => ({ default: RingDrawing })));
const HistogramDrawing = lazy(() => import('./HistogramDrawing').then(({ HistogramDrawing }) => ({ default: HistogramDrawing })));
const WorldMap = lazy(() => import('./WorldMap').then(({ WorldMap }) => ({ default: WorldMap })));

interface AnswerChartProps {
  readonly answer: Answer;
  readonly question: Question;
  readonly series: readonly Series[];
  /** How high a drawing is that is as high as it likes. */
  readonly height?: number;
}

const mostBars = 24;

/** An answer as the chart that was asked for, or the one that suits. */
export function AnswerChart({ answer, question, series, height = 280 }: AnswerChartProps) {
  const [pressed, setPressed] = useState<Pressed | null>(null);
  const { ref, seen } = useSeen<HTMLDivElement>();
  const chart = chartOf(question);
  const { measure } = question;
  if (answer.groups.length === 0) return null;
  if (chart === 'table') return null;
  if (chart === 'matrix') return <MatrixAnswer answer={answer} measure={measure} />;
  if (chart === 'before and after') return <BeforeAfter answer={answer} measure={measure} />;
  const room = roomOf(chart, question, answer, height);
  return (
    <>
      {chart === 'number' && <NumberAnswer answer={answer} measure={measure} />}
      {room > 0 && (
        <div ref={ref} aria-hidden="true" className={styles.chart} style={{ minHeight: room }} data-drawing>
          {/* A server that waits for it would finish the page by a script of its own, which the policy does not know. */}
          {seen && (
            <Suspense>
              <Drawing {...{ answer, question, series, chart, height: room }} onPress={setPressed} />
            </Suspense>
          )}
        </div>
      )}
      <PressedMenu answer={answer} pressed={pressed} onClose={() => setPressed(null)} />
      {hasColours(question) && <Keys answer={answer} series={series} />}
      {isPaired(chart, question) && <PairKeys answer={answer} />}
    </>
  );
}

/** How much room a drawing takes; 0 where there is none. */
function roomOf(chart: ChartName, { splits, every }: Question, { groups }: Answer, height: number): number {
  if (chart === 'number') return every === null ? 0 : Math.min(height, 110);
  if (chart === 'map') return Math.min(height, 320);
  return chart === 'bars' && every === null && splits.length === 1 ? 34 + 24 * Math.min(mostBars, Math.max(1, groups.length)) : height;
}

const isPaired = (chart: ChartName, { splits, every }: Question): boolean =>
  every === null && splits.length > 1 && (chart === 'bars' || chart === 'stacked bars' || chart === 'shares');

/** Which colour is which value of the second field. */
function PairKeys({ answer }: { answer: Answer }) {
  const { colours, left } = pairsOf(answer);
  return (
    <ul className={styles.keys}>
      {colours.map(({ name, shade }) => (
        <li key={name}>
          <i style={{ background: shade }} />
          {name}
        </li>
      ))}
      {left > 0 && <li className={styles.soft}>{wordNumber(left)} more are in the table</li>}
    </ul>
  );
}

interface DrawingProps extends Required<AnswerChartProps> {
  readonly chart: ChartName;
  readonly onPress: (pressed: Pressed) => void;
}

function Drawing({ answer, question: { measure, splits, every }, series, chart, height, onPress }: DrawingProps) {
  const drawn = { answer, measure, series, height, onPress };
  if (chart === 'histogram')
    return answer.histogram && <HistogramDrawing histogram={answer.histogram} value={answer.total.value} height={height} />;
  if (chart === 'ring') return <RingDrawing {...drawn} />;
  if (chart === 'map') return <WorldMap {...drawn} />;
  if (chart === 'number') return every === null ? null : <TimeDrawing {...drawn} form="areas" />;
  if (chart === 'lines' || chart === 'areas') return <TimeDrawing {...drawn} form={chart} />;
  if (chart !== 'bars' && chart !== 'stacked bars' && chart !== 'shares') return null;
  if (every !== null) return <TimeDrawing {...drawn} form={chart} />;
  return splits.length > 1 ? <PairedBarsDrawing {...drawn} form={chart} /> : <BarsDrawing {...drawn} />;
}

/** One value, as large as it deserves. */
function NumberAnswer({ answer, measure }: { answer: Answer; measure: Question['measure'] }) {
  const interval = wordInterval(measure, answer.total);
  const counted = wordCounts(measure, answer.total);
  return (
    <p className={styles.number}>
      <b>{wordValue(measure, answer.total.value)}</b> {wordMeasure(measure)}
      <small>{[interval && `${interval}, with 95 %`, counted].filter(Boolean).join(' · ')}</small>
    </p>
  );
}

/** Which colour is what; each opens what can be done with it. */
function Keys({ answer, series }: { answer: Answer; series: readonly Series[] }) {
  const left = answer.groups.length - series.length;
  return (
    <ul className={styles.keys}>
      {series.map(({ name, group, shade }) => (
        <li key={name}>
          <i style={{ background: shade }} />
          <GroupMenu answer={answer} group={group}>
            {name}
          </GroupMenu>
        </li>
      ))}
      {left > 0 && (
        <li className={styles.soft}>
          {wordNumber(left)} more are in the table, of which a chart has room for {mostSeries}
        </li>
      )}
    </ul>
  );
}
