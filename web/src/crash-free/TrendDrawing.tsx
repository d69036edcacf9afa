import { dayMs } from '@rough-ember/core/durations';
import { wordFree, wordRange, wordThousandth } from '@rough-ember/core/stability/comparison-words';
import type { Estimate } from '@rough-ember/core/stability/share';
import { wordDay } from '@rough-ember/core/words/time';
import type { CrashFreeOverview } from '@rough-ember/server/stability/crash-free';
import { Area, Bar, CartesianGrid, Cell, ComposedChart, Line, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { wordNumber } from '../words/numbers';
import styles from './CrashFree.module.css';

const dashes = { rollout: '3 3', flag: '1 3', case: '6 2' } as const;

/** So many labels fit above the chart side by side. */
const roomForLabels = 32;

/** The labels of marks by their number: marks that lie closer than that share the label of the first of them. */
function labelsOf(marks: readonly { readonly number: number; readonly day: number }[], closeMs: number): Map<number, string> {
  const labels = new Map<number, string>();
  let first: (typeof marks)[number] | undefined;
  for (const mark of marks) {
    if (first && mark.day - first.day < closeMs) labels.set(first.number, `${first.number}–${mark.number}`);
    else {
      first = mark;
      labels.set(mark.number, String(mark.number));
    }
  }
  return labels;
}

/** A version's points, one a day. */
export interface TrendLine {
  readonly version: string;
  readonly shade: string;
  readonly points: readonly (Estimate | null)[];
}

/** Something that was changed, with its number in the chart. */
export type NumberedMark = CrashFreeOverview['marks'][number] & { readonly number: number; readonly day: number };

/** The drawing of the trend, which is as high as the room that is kept for it. */
export function TrendDrawing({
  overview,
  lines,
  marks,
}: {
  overview: CrashFreeOverview;
  lines: readonly TrendLine[];
  marks: readonly NumberedMark[];
}) {
  return (
    <ResponsiveContainer width="100%" height={210} initialDimension={{ width: 820, height: 210 }}>
      {drawTrend(overview, lines, marks)}
    </ResponsiveContainer>
  );
}

const tick = { fill: 'var(--ink-soft)', fontSize: 11 };

/** The drawing itself; the container measures its only child. */
function drawTrend({ trend, settings, now }: CrashFreeOverview, lines: readonly TrendLine[], marks: readonly NumberedMark[]) {
  const { first, sessions } = trend;
  const target = settings.targetPercent === null ? null : 10 * (100 - settings.targetPercent);
  const today = Math.floor(Date.parse(now) / dayMs) - first;
  const rows = rowsOf(first, sessions, lines);
  return (
    <ComposedChart accessibilityLayer={false} data={rows} margin={{ top: 18, right: 8, bottom: 0, left: -14 }}>
      <CartesianGrid vertical={false} stroke="var(--line)" />
      <XAxis
        dataKey="at"
        tickFormatter={(at: number) => wordDay(new Date(at).toISOString())}
        tick={tick}
        stroke="var(--line-strong)"
        minTickGap={48}
      />
      <YAxis yAxisId="rate" tick={tick} stroke="none" tickFormatter={wordThousandth} domain={[0, 'auto']} />
      <YAxis yAxisId="sessions" orientation="right" hide domain={[0, (most: number) => most * 4]} />
      <Bar yAxisId="sessions" dataKey="sessions" fill="var(--ember-0)" isAnimationActive={false}>
        {rows.map(({ at }, day) => (
          <Cell key={at} fillOpacity={day === today ? 0.45 : 1} />
        ))}
      </Bar>
      {target !== null && drawTarget(target)}
      {drawMarks(marks, (rows.length * dayMs) / roomForLabels)}
      {drawLines(lines)}
      <Tooltip
        isAnimationActive={false}
        content={({ active, label }) =>
          active ? <DayTip day={Number(label) / dayMs - first} first={first} sessions={sessions} lines={lines} /> : null
        }
      />
    </ComposedChart>
  );
}

/** What is drawn of each day; one line leaves room for how sure it is. */
function rowsOf(first: number, sessions: readonly number[], lines: readonly TrendLine[]) {
  const only = lines.length === 1 ? lines[0] : undefined;
  return sessions.map((count, day) => ({
    at: (first + day) * dayMs,
    sessions: count,
    ...Object.fromEntries(lines.map(({ points }, at) => [`v${at}`, points[day]?.value ?? null])),
    range: only?.points[day] ? [only.points[day].low, only.points[day].high] : null,
  }));
}

const drawTarget = (target: number) => (
  <ReferenceLine
    yAxisId="rate"
    y={target}
    stroke="var(--cool)"
    strokeDasharray="5 4"
    label={{ value: `target ${wordThousandth(target)}`, position: 'insideTopLeft', fill: 'var(--cool)', fontSize: 11 }}
  />
);

function drawMarks(marks: readonly NumberedMark[], closeMs: number) {
  const labels = labelsOf(marks, closeMs);
  return marks.map(({ number, day, kind }) => (
    <ReferenceLine
      key={number}
      yAxisId="rate"
      x={day}
      stroke="var(--line-strong)"
      strokeDasharray={dashes[kind]}
      label={{ value: labels.get(number) ?? '', position: 'top', fill: 'var(--ink-soft)', fontSize: 10 }}
    />
  ));
}

const drawLines = (lines: readonly TrendLine[]) => [
  ...(lines.length === 1
    ? [
        <Area
          key="range"
          yAxisId="rate"
          dataKey="range"
          stroke="none"
          fill={lines[0]?.shade ?? ''}
          fillOpacity={0.16}
          connectNulls
          isAnimationActive={false}
        />,
      ]
    : []),
  ...lines.map(({ version, shade }, at) => (
    <Line
      key={version}
      yAxisId="rate"
      dataKey={`v${at}`}
      name={version}
      stroke={shade}
      strokeWidth={at === lines.length - 1 ? 2.6 : 1.8}
      dot={false}
      connectNulls
      isAnimationActive={false}
    />
  )),
];

/** What the chart says of a day. */
function DayTip({ day, first, sessions, lines }: { day: number; first: number; sessions: readonly number[]; lines: readonly TrendLine[] }) {
  return (
    <div className={styles.tip}>
      <b>{wordDay(new Date((first + day) * dayMs).toISOString())}</b>
      <div>{wordNumber(sessions[day] ?? 0)} sessions</div>
      {lines.map(({ version, points }) => {
        const point = points[day];
        return point ? (
          <div key={version}>
            {version}: {wordThousandth(point.value)} for 1,000 ({wordRange(point)}), {wordFree(1 - point.value / 1_000)} free
          </div>
        ) : null;
      })}
    </div>
  );
}
