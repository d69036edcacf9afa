import type { Answer } from '@rough-ember/core/ask/answer';
import { wordInterval, wordStep, wordValue, wordWholeStep } from '@rough-ember/core/ask/answer-words';
import type { Question } from '@rough-ember/core/ask/question';
import { Area, Bar, CartesianGrid, ComposedChart, Line, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import styles from './Ask.module.css';
import type { Pressed } from './GroupMenu';
import type { Series } from './series';

/** How a course over time is drawn. */
export type TimeForm = 'lines' | 'areas' | 'bars' | 'stacked bars' | 'shares';

interface TimeDrawingProps {
  readonly answer: Answer;
  readonly measure: Question['measure'];
  readonly series: readonly Series[];
  readonly form: TimeForm;
  readonly height: number;
  readonly onPress: (pressed: Pressed) => void;
}

/** The course of an answer over time; it fills the room that is kept for it. */
export function TimeDrawing(props: TimeDrawingProps) {
  return (
    <ResponsiveContainer width="100%" height={props.height} initialDimension={{ width: 820, height: props.height }}>
      {drawCourse(props)}
    </ResponsiveContainer>
  );
}

export const tick = { fill: 'var(--ink-soft)', fontSize: 11 };

function drawCourse({ answer, measure, series, form, onPress }: TimeDrawingProps) {
  const { every, starts } = answer.steps as NonNullable<Answer['steps']>;
  const sums = starts.map((_, step) => series.reduce((sum, { group }) => sum + (group.course?.[step]?.value ?? 0), 0));
  const drawnOf = (value: number | null, step: number) =>
    form !== 'shares' || value === null ? value : sums[step] ? (100 * value) / (sums[step] as number) : null;
  const only = series.length === 1 ? series[0] : undefined;
  const rows = starts.map((start, step) => {
    const one = only?.group.course?.[step];
    return {
      start,
      range: form === 'lines' && one && one.low !== null && one.high !== null ? [one.low, one.high] : null,
      ...Object.fromEntries(series.map(({ group }, at) => [`s${at}`, drawnOf(group.course?.[step]?.value ?? null, step)])),
    };
  });
  const isStacked = form === 'stacked bars' || form === 'shares';
  const press = (at: number, event: { clientX: number; clientY: number }) =>
    onPress({ group: (series[at] as Series).group, x: event.clientX, y: event.clientY });
  return (
    <ComposedChart
      accessibilityLayer={false}
      data={rows}
      margin={{ top: 10, right: 10, bottom: 0, left: 4 }}
      barCategoryGap={rows.length > 60 ? 0 : '12%'}
    >
      <CartesianGrid vertical={false} stroke="var(--line)" />
      <XAxis
        dataKey="start"
        tickFormatter={(start: number) => wordStep(every, start)}
        tick={tick}
        stroke="var(--line-strong)"
        minTickGap={44}
      />
      <YAxis
        tick={tick}
        stroke="none"
        width={62}
        domain={form === 'shares' ? [0, 100] : measure.kind === 'crash-free' ? [(least: number) => Math.floor(least), 100] : [0, 'auto']}
        tickFormatter={(value: number) => (form === 'shares' ? `${value} %` : wordValue(measure, value))}
      />
      <Tooltip
        isAnimationActive={false}
        cursor={isStacked || form === 'bars' ? { fill: 'var(--cool-wash)' } : { stroke: 'var(--line-strong)' }}
        content={({ active, label }) =>
          active ? <StepTip step={starts.indexOf(Number(label))} answer={answer} measure={measure} series={series} /> : null
        }
      />
      <Area
        dataKey="range"
        stroke="none"
        fill={only?.shade ?? 'none'}
        fillOpacity={0.16}
        isAnimationActive={false}
        activeDot={false}
        connectNulls
      />
      {series.map(({ name, shade, dashes }, at) => {
        const key = `s${at}`;
        if (form === 'lines')
          return (
            <Line
              key={key}
              dataKey={key}
              name={name}
              stroke={shade}
              strokeWidth={at === 0 ? 2.4 : 1.8}
              strokeDasharray={dashes}
              dot={rows.length < 16 ? { r: 2.5, strokeDasharray: '0' } : false}
              activeDot={{ r: 5, cursor: 'pointer', onClick: (_, event) => press(at, event as unknown as MouseEvent) }}
              connectNulls
              isAnimationActive={false}
            />
          );
        if (form === 'areas')
          return (
            <Area
              key={key}
              dataKey={key}
              name={name}
              stroke={shade}
              strokeDasharray={dashes}
              strokeWidth={1.8}
              fill={shade}
              fillOpacity={series.length === 1 ? 0.28 : 0.12}
              activeDot={{ r: 5, cursor: 'pointer', onClick: (_, event) => press(at, event as unknown as MouseEvent) }}
              isAnimationActive={false}
            />
          );
        return (
          <Bar
            key={key}
            dataKey={key}
            name={name}
            fill={shade}
            stroke="var(--paper)"
            strokeWidth={isStacked ? 0.5 : 0}
            cursor="pointer"
            {...(isStacked ? { stackId: 'all' } : {})}
            onClick={(_, __, event) => press(at, event)}
            isAnimationActive={false}
          />
        );
      })}
    </ComposedChart>
  );
}

/** What the chart says of a step. */
function StepTip({
  step,
  answer,
  measure,
  series,
}: {
  step: number;
  answer: Answer;
  measure: Question['measure'];
  series: readonly Series[];
}) {
  const { every, starts } = answer.steps as NonNullable<Answer['steps']>;
  const start = starts[step];
  if (start === undefined) return null;
  return (
    <div className={styles.tip}>
      <b>{wordWholeStep(every, start)}</b>
      {step === starts.length - 1 && every !== 'day since release' && ' (so far)'}
      {series.map(({ name, group, shade }) => {
        const figure = group.course?.[step];
        if (!figure || (figure.value === null && figure.count === 0)) return null;
        const interval = wordInterval(measure, figure);
        return (
          <div key={name}>
            <i style={{ background: shade }} /> {name}: {wordValue(measure, figure.value)}
            {interval && ` (${interval})`}
            {figure.per !== null && ` · ${Math.round(figure.count)} of ${Math.round(figure.per)}`}
          </div>
        );
      })}
    </div>
  );
}
