import type { Answer } from '@rough-ember/core/ask/answer';
import { wordValue } from '@rough-ember/core/ask/answer-words';
import type { Question } from '@rough-ember/core/ask/question';
import { Cell, Pie, PieChart, ResponsiveContainer, Tooltip } from 'recharts';
import { wordShare } from '../words/numbers';
import styles from './Ask.module.css';
import type { Pressed } from './GroupMenu';
import type { Series } from './series';

interface RingDrawingProps {
  readonly answer: Answer;
  readonly measure: Question['measure'];
  readonly series: readonly Series[];
  readonly height: number;
  readonly onPress: (pressed: Pressed) => void;
}

/** Shares of a whole as a ring; what has no colour of its own is one part. */
export function RingDrawing({ answer, measure, series, height, onPress }: RingDrawingProps) {
  const whole = answer.total.value ?? 0;
  const parts = series.map(({ name, group, shade }) => ({ name, group, shade, value: group.sum.value ?? 0 }));
  const rest = whole - parts.reduce((sum, { value }) => sum + value, 0);
  const all = rest > 0 ? [...parts, { name: 'all others', group: null, shade: 'var(--line-strong)', value: rest }] : parts;
  return (
    <ResponsiveContainer width="100%" height={height} initialDimension={{ width: 320, height }}>
      <PieChart accessibilityLayer={false}>
        <Pie
          data={all}
          dataKey="value"
          rootTabIndex={-1}
          innerRadius="58%"
          outerRadius="96%"
          startAngle={90}
          endAngle={-270}
          stroke="var(--paper)"
          cursor="pointer"
          isAnimationActive={false}
          onClick={(_, at, event) => {
            const group = all[at]?.group;
            if (group) onPress({ group, x: event.clientX, y: event.clientY });
          }}
        >
          {all.map(({ name, shade }) => (
            <Cell key={name} fill={shade} />
          ))}
        </Pie>
        <Tooltip
          isAnimationActive={false}
          content={({ active, payload }) => {
            const part = payload?.[0]?.payload as { name: string; value: number } | undefined;
            return active && part ? (
              <div className={styles.tip}>
                <b>{part.name}</b>
                <div>
                  {wordValue(measure, part.value)}, {wordShare(whole > 0 ? part.value / whole : 0)}
                </div>
              </div>
            ) : null;
          }}
        />
      </PieChart>
    </ResponsiveContainer>
  );
}
