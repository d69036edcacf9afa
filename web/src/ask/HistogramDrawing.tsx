import type { Histogram } from '@rough-ember/core/ask/number-cells';
import { Bar, BarChart, CartesianGrid, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { wordNumber } from '../words/numbers';
import styles from './Ask.module.css';
import { tick } from './TimeDrawing';

/** How values are spread, with a line where the value lies that was asked for. */
export function HistogramDrawing({ histogram, value, height }: { histogram: Histogram; value: number | null; height: number }) {
  const { bounds, counts } = histogram;
  const rows = counts.map((count, at) => ({ middle: ((bounds[at] as number) + (bounds[at + 1] as number)) / 2, at, count }));
  return (
    <ResponsiveContainer width="100%" height={height} initialDimension={{ width: 820, height }}>
      <BarChart accessibilityLayer={false} data={rows} margin={{ top: 14, right: 10, bottom: 0, left: 4 }} barCategoryGap={1}>
        <CartesianGrid vertical={false} stroke="var(--line)" />
        <XAxis
          dataKey="middle"
          type="number"
          domain={[bounds[0] as number, bounds.at(-1) as number]}
          ticks={bounds.filter((_, at) => at % Math.ceil(bounds.length / 12) === 0)}
          tickFormatter={(one: number) => wordNumber(one)}
          tick={tick}
          stroke="var(--line-strong)"
        />
        <YAxis tick={tick} stroke="none" width={62} allowDecimals={false} tickFormatter={wordNumber} />
        <Tooltip
          isAnimationActive={false}
          cursor={{ fill: 'var(--cool-wash)' }}
          content={({ active, payload }) => {
            const row = payload?.[0]?.payload as (typeof rows)[number] | undefined;
            return active && row ? (
              <div className={styles.tip}>
                <b>
                  {wordNumber(bounds[row.at] as number)} up to {wordNumber(bounds[row.at + 1] as number)}
                </b>
                <div>{wordNumber(Math.round(row.count))}</div>
              </div>
            ) : null;
          }}
        />
        <Bar dataKey="count" fill="var(--ember-2)" isAnimationActive={false} />
        {value !== null && <ReferenceLine x={value} stroke="var(--cool)" strokeDasharray="4 3" />}
      </BarChart>
    </ResponsiveContainer>
  );
}
