import type { Split } from '@rough-ember/core/cases/desk-settings';
import { dayMs } from '@rough-ember/core/durations';
import { compareVersions } from '@rough-ember/core/version/version-order';
import { wordDate } from '@rough-ember/core/words/time';
import type { CaseWhen } from '@rough-ember/server/desk/case-evidence';
import { Bar, BarChart, CartesianGrid, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { Value } from '../scope/Value';
import { wordNumber } from '../words/numbers';
import styles from './When.module.css';

/** From the oldest to the newest version, or from the commonest value down; told apart by the list of names, too. */
const shades = [
  'var(--ember-4)',
  'var(--ember-3)',
  'var(--ember-2)',
  'var(--ember-1)',
  'var(--cool)',
  'var(--ink-faint)',
  'var(--line-strong)',
];

/** Something that was changed, with its number and the step it lies in. */
type NumberedMark = CaseWhen['marks'][number] & { readonly number: number; readonly step: number };

export function WhenChart({ chart, split }: { chart: CaseWhen; split: Split }) {
  const { from, stepMs, series } = chart;
  const ordered = split.field.endsWith('version')
    ? [...series].sort((a, b) => (a.value === '' ? -1 : compareVersions(a.value, b.value)))
    : series;
  const steps = series[0]?.reports.length ?? 0;
  const stepOf = (at: string) => from + Math.min(steps - 1, Math.max(0, Math.floor((Date.parse(at) - from) / stepMs))) * stepMs;
  const marks = chart.marks.map((mark, place): NumberedMark => ({ ...mark, number: place + 1, step: stepOf(mark.at) }));
  const sum = (reports: readonly number[]) => reports.reduce((total, one) => total + one, 0);
  return (
    <>
      <div aria-hidden="true">
        <ResponsiveContainer width="100%" height={160} initialDimension={{ width: 700, height: 160 }}>
          {drawSteps({ ...chart, series: ordered }, marks)}
        </ResponsiveContainer>
      </div>
      {marks.length > 0 && (
        <ol className={styles.marks} aria-label="What was changed meanwhile">
          {marks.map(({ number, at, what, how }) => (
            <li key={number}>
              <b>{number}</b> {what} {how}, <time dateTime={at}>{wordDate(at)}</time>
            </li>
          ))}
        </ol>
      )}
      <ul className={styles.keys}>
        {ordered.map(({ value, reports }, place) => (
          <li key={value}>
            <i style={{ background: shades[place % shades.length] }} />
            {value === '' ? 'others' : <Value field={split.field} name={split.key} value={value} />}{' '}
            <small>{wordNumber(sum(reports))}</small>
          </li>
        ))}
      </ul>
    </>
  );
}

const tick = { fill: 'var(--ink-soft)', fontSize: 11 };

/** The drawing itself; the container measures its only child. */
function drawSteps({ from, stepMs, series }: CaseWhen, marks: readonly NumberedMark[]) {
  const steps = series[0]?.reports.length ?? 0;
  const rows = Array.from({ length: steps }, (_, step) => ({
    at: from + step * stepMs,
    ...Object.fromEntries(series.map(({ reports }, place) => [`s${place}`, reports[step] ?? 0])),
  }));
  const wordStep = (at: number) =>
    new Date(at).toLocaleString('en-GB', {
      timeZone: 'UTC',
      day: 'numeric',
      month: 'short',
      ...(stepMs < dayMs ? { hour: '2-digit', minute: '2-digit' } : {}),
    });
  const margin = { top: marks.length > 0 ? 16 : 6, right: 4, bottom: 0, left: -18 };
  return (
    <BarChart accessibilityLayer={false} data={rows} margin={margin} barCategoryGap={1}>
      <CartesianGrid vertical={false} stroke="var(--line)" />
      <XAxis dataKey="at" tickFormatter={wordStep} tick={tick} stroke="var(--line-strong)" minTickGap={40} />
      <YAxis allowDecimals={false} tick={tick} stroke="none" />
      <Tooltip
        cursor={{ fill: 'var(--cool-wash)' }}
        isAnimationActive={false}
        content={({ active, label, payload }) => (active ? <StepTip title={wordStep(Number(label))} values={payload} /> : null)}
      />
      {marks.map(({ step, number }) => (
        <ReferenceLine
          key={number}
          x={step}
          stroke="var(--cool)"
          strokeDasharray="2 3"
          label={{ value: number, position: 'top', fill: 'var(--cool)', fontSize: 10 }}
        />
      ))}
      {series.map(({ value }, place) => (
        <Bar
          key={value}
          dataKey={`s${place}`}
          name={value === '' ? 'others' : value}
          stackId="all"
          fill={shades[place % shades.length] as string}
          isAnimationActive={false}
        />
      ))}
    </BarChart>
  );
}

/** What the chart says of a step: each value that has reports in it. */
function StepTip({ title, values }: { title: string; values: readonly { readonly name?: unknown; readonly value?: unknown }[] }) {
  return (
    <div className={styles.tip}>
      <b>{title}</b>
      {values.map(({ name, value }) =>
        Number(value) > 0 ? (
          <div key={String(name)}>
            {String(name)}: {wordNumber(Number(value))}
          </div>
        ) : null,
      )}
    </div>
  );
}
