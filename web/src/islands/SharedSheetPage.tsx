import { MantineProvider } from '@mantine/core';
import type { AnswerOf } from '@rough-ember/server/api/registry';
import { useEffect, useState } from 'react';
import { ChartCard } from '../ask/ChartCard';
import styles from '../ask/Sheet.module.css';
import { useChartAnswer } from '../ask/use-chart-answer';
import { addressOf } from '../client/api';
import { cssVariables, theme } from '../theme/theme';

export type SharedSheet = AnswerOf<'GET /shared-sheets/{secret}'>;

const everyMs = 60_000;
const turnMs = 20_000;

/** A sheet for whoever has its link: all charts, or one after the other as large as the screen. */
export function SharedSheetPage({ sheet, secret, takesTurns }: { sheet: SharedSheet; secret: string; takesTurns: boolean }) {
  const [turns, setTurns] = useState(takesTurns);
  const [at, setAt] = useState(0);
  const { charts } = sheet;
  useEffect(() => {
    if (!turns) return;
    const timer = setTimeout(() => setAt((at + 1) % Math.max(1, charts.length)), turnMs);
    return () => clearTimeout(timer);
  }, [turns, at, charts.length]);
  useEffect(() => {
    const onKey = ({ key }: KeyboardEvent) => {
      if (key === 'ArrowRight') setAt((before) => (before + 1) % Math.max(1, charts.length));
      else if (key === 'ArrowLeft') setAt((before) => (before + charts.length - 1) % Math.max(1, charts.length));
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [charts.length]);
  return (
    <MantineProvider theme={theme} cssVariablesResolver={cssVariables} defaultColorScheme="auto">
      <main className={turns ? styles.turn : undefined}>
        <div className={styles.head}>
          <h1>{sheet.title}</h1>
          <span className={styles.faint}>{sheet.app}</span>
          <span className={styles.actions}>
            {turns && charts.length > 0 && (
              <span className={styles.faint}>
                {at + 1} of {charts.length}, ← →
              </span>
            )}
            <button type="button" onClick={() => setTurns(!turns)}>
              {turns ? 'All at once' : 'One after the other'}
            </button>
          </span>
        </div>
        <ol className={styles.charts}>
          {charts.map((chart, place) =>
            turns && place !== at ? null : (
              <li key={`${chart.title} ${chart.question}`} data-width={turns ? 'whole' : chart.width}>
                <SharedChart chart={chart} secret={secret} place={place} height={turns ? 480 : 220} />
              </li>
            ),
          )}
        </ol>
      </main>
    </MantineProvider>
  );
}

function SharedChart({
  chart,
  secret,
  place,
  height,
}: {
  chart: SharedSheet['charts'][number];
  secret: string;
  place: number;
  height: number;
}) {
  const { answer, problem } = useChartAnswer(
    addressOf('GET /shared-sheets/{secret}/charts/{place}', { secret, place: String(place) }),
    everyMs,
  );
  return <ChartCard chart={chart} answer={answer} problem={problem} height={height} />;
}
