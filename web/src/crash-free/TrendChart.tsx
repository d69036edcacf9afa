import { dayMs } from '@rough-ember/core/durations';
import { trendPoints } from '@rough-ember/core/stability/trend-points';
import { wordDay } from '@rough-ember/core/words/time';
import type { CrashFreeOverview } from '@rough-ember/server/stability/crash-free';
import { lazy, Suspense } from 'react';
import { askAddress } from '../ask/ask-address';
import { useSeen } from '../client/use-seen';
import styles from './CrashFree.module.css';
import type { TrendLine } from './TrendDrawing';

/** What draws it comes when it is looked at; everything else of the page stands where it is meanwhile. */
const TrendDrawing = lazy(() => import('./TrendDrawing').then(({ TrendDrawing }) => ({ default: TrendDrawing })));

/** From the oldest to the newest version: quiet ones first, the newest glowing. */
const shades = ['var(--line-strong)', 'var(--ink-faint)', 'var(--cool)', 'var(--ember-2)', 'var(--ember-3)', 'var(--ember-4)'];

/** Crashes for 1,000 sessions by day, a line for each version, with the sessions behind them. */
export function TrendChart({ overview, here }: { overview: CrashFreeOverview; here: string }) {
  const { ref, seen } = useSeen<HTMLDivElement>();
  const { trend, badEnds, marks } = overview;
  const shown = trend.versions.slice(-shades.length);
  const lines = shown.map(
    ({ version, days }, at): TrendLine => ({
      version,
      shade: shades[shades.length - shown.length + at] as string,
      points: trendPoints(days, badEnds),
    }),
  );
  const numbered = marks.map((mark, at) => ({ ...mark, number: at + 1, day: Math.floor(Date.parse(mark.at) / dayMs) * dayMs }));
  return (
    <>
      <div aria-hidden="true" className={styles.chart} ref={ref}>
        {/* A server that waits for it would finish the page by a script of its own, which the policy does not know. */}
        {seen && (
          <Suspense>
            <TrendDrawing overview={overview} lines={lines} marks={numbered} />
          </Suspense>
        )}
      </div>
      <ul className={styles.keys}>
        {lines.map(({ version, shade }) => (
          <li key={version}>
            <i style={{ background: shade }} />
            {version}
          </li>
        ))}
        <li className={styles.faint}>
          columns: sessions of the day, today’s so far; a point of few sessions takes in the days before it
          {lines.length === 1 && '; shaded: where the rate lies, with 95 %'}
        </li>
        <li>
          <a href={askAddress(here, 'crashed sessions per 1000 sessions by version per day as lines', overview.scope)}>
            on Ask, to be kept
          </a>
        </li>
      </ul>
      {numbered.length > 0 && (
        <ol className={styles.marks} aria-label="What was changed meanwhile">
          {numbered.map(({ number, what, how, at, ref }) => (
            <li key={number}>
              <b>{number}</b> {ref ? <a href={`${here}/cases/${ref}`}>{what}</a> : what} {how}, <time dateTime={at}>{wordDay(at)}</time>
            </li>
          ))}
        </ol>
      )}
    </>
  );
}
