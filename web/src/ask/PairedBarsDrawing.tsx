import type { Answer, AnswerGroup } from '@rough-ember/core/ask/answer';
import { wordInterval, wordValue } from '@rough-ember/core/ask/answer-words';
import type { Question } from '@rough-ember/core/ask/question';
import { Bar, BarChart, CartesianGrid, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import styles from './Ask.module.css';
import type { Pressed } from './GroupMenu';
import { pairsOf } from './pairs';
import { tick } from './TimeDrawing';

interface PairedBarsDrawingProps {
  readonly answer: Answer;
  readonly measure: Question['measure'];
  readonly form: 'bars' | 'stacked bars' | 'shares';
  readonly height: number;
  readonly onPress: (pressed: Pressed) => void;
}

/** The values of the first field with a bar for each value of the second: side by side, one upon the other, or as shares. */
export function PairedBarsDrawing({ answer, measure, form, height, onPress }: PairedBarsDrawingProps) {
  const { rows, colours } = pairsOf(answer);
  const data = rows.map(({ name, groups }) => {
    const sum = groups.reduce((total, group) => total + (group?.sum.value ?? 0), 0);
    const drawnOf = (value: number | null) => (form === 'shares' && value !== null && sum > 0 ? (100 * value) / sum : value);
    return { name, groups, ...Object.fromEntries(groups.map((group, at) => [`s${at}`, drawnOf(group?.sum.value ?? null)])) };
  });
  return (
    <ResponsiveContainer width="100%" height={height} initialDimension={{ width: 820, height }}>
      <BarChart accessibilityLayer={false} data={data} margin={{ top: 8, right: 10, bottom: 0, left: 4 }}>
        <CartesianGrid vertical={false} stroke="var(--line)" />
        <XAxis dataKey="name" tick={tick} stroke="var(--line-strong)" minTickGap={4} />
        <YAxis
          tick={tick}
          stroke="none"
          width={62}
          domain={form === 'shares' ? [0, 100] : [0, 'auto']}
          tickFormatter={(value: number) => (form === 'shares' ? `${value} %` : wordValue(measure, value))}
        />
        <Tooltip
          isAnimationActive={false}
          cursor={{ fill: 'var(--cool-wash)' }}
          content={({ active, payload }) => {
            const row = payload?.[0]?.payload as (typeof data)[number] | undefined;
            return active && row ? <PairTip name={row.name} groups={row.groups} colours={colours} measure={measure} /> : null;
          }}
        />
        {colours.map(({ name, shade }, at) => (
          <Bar
            key={name}
            dataKey={`s${at}`}
            name={name}
            fill={shade}
            stroke="var(--paper)"
            strokeWidth={form === 'bars' ? 0 : 0.5}
            cursor="pointer"
            isAnimationActive={false}
            {...(form === 'bars' ? {} : { stackId: 'all' })}
            onClick={(_, row, event) => {
              const group = data[row]?.groups[at];
              if (group) onPress({ group, x: event.clientX, y: event.clientY });
            }}
          />
        ))}
      </BarChart>
    </ResponsiveContainer>
  );
}

function PairTip({
  name,
  groups,
  colours,
  measure,
}: {
  name: string;
  groups: readonly (AnswerGroup | undefined)[];
  colours: readonly { readonly name: string; readonly shade: string }[];
  measure: Question['measure'];
}) {
  return (
    <div className={styles.tip}>
      <b>{name}</b>
      {colours.map(({ name: colour, shade }, at) => {
        const figure = groups[at]?.sum;
        const interval = figure && wordInterval(measure, figure);
        return figure ? (
          <div key={colour}>
            <i style={{ background: shade }} /> {colour}: {wordValue(measure, figure.value)}
            {interval && ` (${interval})`}
          </div>
        ) : null;
      })}
    </div>
  );
}
