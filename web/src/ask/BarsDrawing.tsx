import type { Answer } from '@rough-ember/core/ask/answer';
import { nameOfGroup, wordCounts, wordInterval, wordValue } from '@rough-ember/core/ask/answer-words';
import type { Question } from '@rough-ember/core/ask/question';
import { Bar, BarChart, CartesianGrid, ErrorBar, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import styles from './Ask.module.css';
import type { Pressed } from './GroupMenu';
import { tick } from './TimeDrawing';

interface BarsDrawingProps {
  readonly answer: Answer;
  readonly measure: Question['measure'];
  readonly onPress: (pressed: Pressed) => void;
}

/** So many bars are drawn; the table beneath has the rest. */
export const mostBars = 24;
const barHeight = 24;
export const heightOfBars = (bars: number): number => 34 + barHeight * Math.min(mostBars, Math.max(1, bars));

/** A bar for each value, with the interval it lies in. */
export function BarsDrawing({ answer, measure, onPress }: BarsDrawingProps) {
  const shown = answer.groups.slice(0, mostBars);
  const height = heightOfBars(shown.length);
  const rows = shown.map((group) => {
    const { value, low, high } = group.sum;
    return {
      name: nameOfGroup(answer, group),
      group,
      value,
      error: value !== null && low !== null && high !== null ? [value - low, high - value] : [0, 0],
    };
  });
  const longest = rows.reduce((most, { name }) => Math.max(most, name.length), 0);
  return (
    <ResponsiveContainer width="100%" height={height} initialDimension={{ width: 820, height }}>
      <BarChart
        accessibilityLayer={false}
        data={rows}
        layout="vertical"
        margin={{ top: 0, right: 40, bottom: 0, left: 0 }}
        barCategoryGap={5}
      >
        <CartesianGrid horizontal={false} stroke="var(--line)" />
        <XAxis
          type="number"
          tick={tick}
          stroke="var(--line-strong)"
          domain={measure.kind === 'crash-free' ? [(least: number) => Math.floor(least), 100] : [0, 'auto']}
          tickFormatter={(value: number) => wordValue(measure, value)}
        />
        <YAxis
          type="category"
          dataKey="name"
          tick={tick}
          stroke="none"
          interval={0}
          width={Math.min(190, 16 + 6.2 * longest)}
          tickFormatter={(name: string) => (name.length > 28 ? `${name.slice(0, 27)}…` : name)}
        />
        <Tooltip
          isAnimationActive={false}
          cursor={{ fill: 'var(--cool-wash)' }}
          content={({ active, payload }) => {
            const row = payload?.[0]?.payload as (typeof rows)[number] | undefined;
            return active && row ? <FigureTip name={row.name} measure={measure} figure={row.group.sum} /> : null;
          }}
        />
        <Bar
          dataKey="value"
          fill="var(--ember-3)"
          cursor="pointer"
          isAnimationActive={false}
          onClick={(_, at, event) => onPress({ group: (rows[at] as (typeof rows)[number]).group, x: event.clientX, y: event.clientY })}
        >
          {rows.some(({ error }) => error[1] !== 0) && (
            <ErrorBar dataKey="error" isAnimationActive={false} width={5} stroke="var(--ink)" strokeWidth={1.2} />
          )}
        </Bar>
      </BarChart>
    </ResponsiveContainer>
  );
}

export function FigureTip({ name, measure, figure }: { name: string; measure: Question['measure']; figure: Answer['total'] }) {
  const interval = wordInterval(measure, figure);
  const counted = wordCounts(measure, figure);
  return (
    <div className={styles.tip}>
      <b>{name}</b>
      <div>
        {wordValue(measure, figure.value)}
        {interval && ` (${interval}, with 95 %)`}
      </div>
      {counted && <div>{counted}</div>}
    </div>
  );
}
