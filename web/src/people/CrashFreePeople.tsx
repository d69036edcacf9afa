import { dayMs } from '@rough-ember/core/durations';
import { printDay } from '@rough-ember/core/session-index/person-day';
import { wordFree } from '@rough-ember/core/stability/comparison-words';
import { shareOf } from '@rough-ember/core/stability/share';
import { wordDay } from '@rough-ember/core/words/time';
import type { PeopleOverTimeView } from '@rough-ember/server/stability/people-over-time';
import { Area, CartesianGrid, ComposedChart, Line, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { wordCount } from '../words/numbers';
import styles from './People.module.css';

/** On a day of fewer people a share says nothing. */
const enoughPeople = 20;

interface DayOfPeople {
  readonly at: number;
  readonly people: number;
  readonly free: number | null;
  readonly band: readonly [number, number] | null;
}

/** The share of each day's people who met no crash on it, with its interval; the present day is not over and is left out. */
export default function CrashFreePeople({ daily: { first, people, crashed } }: Pick<PeopleOverTimeView, 'daily'>) {
  const days = people.slice(0, -1).map((count, at): DayOfPeople => {
    const met = crashed[at] ?? 0;
    const { value, low, high } = shareOf(count - met, count);
    const isTold = count >= enoughPeople;
    return { at: (first + at) * dayMs, people: count, free: isTold ? 100 * value : null, band: isTold ? [100 * low, 100 * high] : null };
  });
  const lowest = Math.min(100, ...days.flatMap(({ band }) => band?.[0] ?? []));
  const floor = Math.max(0, Math.floor(lowest - 0.2));
  return (
    <div aria-hidden="true" className={styles.chart}>
      <ResponsiveContainer width="100%" height={170} initialDimension={{ width: 820, height: 170 }}>
        <ComposedChart accessibilityLayer={false} data={days} margin={{ top: 6, right: 8, bottom: 0, left: 0 }}>
          <CartesianGrid stroke="var(--line)" vertical={false} />
          <XAxis
            dataKey="at"
            type="number"
            domain={['dataMin', 'dataMax']}
            scale="time"
            tickFormatter={(at: number) => wordDay(printDay(at / dayMs))}
            tick={{ fill: 'var(--ink-soft)', fontSize: 12 }}
            stroke="var(--line-strong)"
            minTickGap={48}
          />
          <YAxis
            domain={[floor, 100]}
            width={52}
            tickFormatter={(percent: number) => `${Number(percent.toFixed(2))} %`}
            tick={{ fill: 'var(--ink-soft)', fontSize: 12 }}
            stroke="none"
          />
          <Tooltip
            content={({ active, payload }) => {
              const day = active ? (payload?.[0]?.payload as DayOfPeople | undefined) : undefined;
              return day ? <DayTip day={day} /> : null;
            }}
          />
          <Area dataKey="band" stroke="none" fill="var(--ember-1)" isAnimationActive={false} connectNulls={false} />
          <Line dataKey="free" stroke="var(--ember-3)" strokeWidth={2} dot={false} isAnimationActive={false} connectNulls={false} />
        </ComposedChart>
      </ResponsiveContainer>
    </div>
  );
}

const DayTip = ({ day }: { day: DayOfPeople }) => (
  <div className={styles.tip}>
    <b>{wordDay(printDay(day.at / dayMs))}</b>, {wordCount(day.people, 'person', 'people')}
    <br />
    {day.free === null || day.band === null
      ? 'too few to say'
      : `${wordFree(day.free / 100)} met no crash (95 %: ${wordFree(day.band[0] / 100)} to ${wordFree(day.band[1] / 100)})`}
  </div>
);
