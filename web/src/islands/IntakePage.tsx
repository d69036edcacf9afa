import { Button } from '@mantine/core';
import { hourMs } from '@rough-ember/core/durations';
import { wordAgo } from '@rough-ember/core/words/time';
import type { IntakeOverview } from '@rough-ember/server/intake/intake-overview';
import { useEffect, useRef, useState } from 'react';
import { addressOf } from '../client/api';
import { useLive } from '../client/use-live';
import { Keys, Tokens } from '../intake/Credentials';
import { Failures } from '../intake/Failures';
import { HourBars } from '../intake/HourBars';
import { ImportFile } from '../intake/ImportFile';
import { filterWords, IntakeLog, type OutcomeFilter, OutcomeFilterBar } from '../intake/IntakeLog';
import { QuietReasons, SetUp, TestReport } from '../intake/SetUp';
import type { PageShell } from '../shell/page-shell';
import { Shell } from '../shell/Shell';
import { SidePage } from '../shell/SidePage';
import { useTimes } from '../shell/use-times';
import { wordCount } from '../words/numbers';
import { wordScrub } from '../words/scrub';
import { sentence } from '../words/sentence';
import styles from './IntakePage.module.css';

export interface IntakePageProps {
  readonly shell: PageShell;
  readonly overview: IntakeOverview;
  readonly outcome: OutcomeFilter;
}

const shownHours = 48;
const quietHours = 12;

export function IntakePage(props: IntakePageProps) {
  return (
    <Shell shell={props.shell} place="intake">
      <Intake {...props} />
    </Shell>
  );
}

/** What came in and what became of it, with the reason of every refusal; keys, tokens and rules beside it. */
function Intake({ shell, overview: initial, outcome: firstOutcome }: IntakePageProps) {
  const [outcome, setOutcome] = useState(firstOutcome);
  const path = addressOf('GET /apps/{app}/intake', { app: shell.app.slug }, outcome === null ? {} : { outcome });
  const { data: overview, problem, refresh } = useLive(shell.app.slug, path, initial);
  const choose = (chosen: OutcomeFilter) => {
    setOutcome(chosen);
    window.history.replaceState(null, '', chosen === null ? window.location.pathname : `?outcome=${chosen}`);
  };
  const waiting = overview.first === null;
  const side = (
    <>
      <Keys shell={shell} overview={overview} onChange={refresh} />
      <TestReport shell={shell} overview={overview} onSent={refresh} />
      <Tokens shell={shell} overview={overview} onChange={refresh} />
      <section>
        <h2>Private</h2>
        <p>{wordScrub(overview.scrub)}</p>
        <Button component="a" size="xs" variant="default" mt={6} href={`/apps/${shell.app.slug}/private`}>
          What is taken out, kept and deleted
        </Button>
      </section>
      <ImportFile shell={shell} onDone={refresh} />
      {!waiting && <SetUp shell={shell} overview={overview} />}
    </>
  );
  return (
    <SidePage sentence={wordIntake(overview)} problem={problem} side={side} sideLabel="Keys, tokens and rules">
      <FirstArrival overview={overview} waitedAtFirst={initial.first === null} appSlug={shell.app.slug} />
      {overview.state === 'trouble' && <Trouble overview={overview} />}
      <Failures
        failures={overview.failures}
        now={overview.now}
        appSlug={shell.app.slug}
        mayAct={shell.account.role !== 'viewer'}
        onChange={refresh}
      />
      {waiting ? (
        <Waiting shell={shell} overview={overview} onLookAgain={refresh} />
      ) : (
        <>
          <Quiet overview={overview} serverAddress={shell.serverAddress} />
          <HourBars hours={overview.hours} shown={shownHours} />
        </>
      )}
      {(!waiting || overview.log.length > 0 || outcome !== null) && (
        <Log overview={overview} appSlug={shell.app.slug} outcome={outcome} onChoose={choose} />
      )}
    </SidePage>
  );
}

/** A request with a wrong key changes no app, so whoever waits for a first one looks again by itself. */
const lookAgainMs = 4_000;

/** Before the first report: what to do, and what usually is the matter. */
function Waiting({ shell, overview, onLookAgain }: { shell: PageShell; overview: IntakeOverview; onLookAgain: () => void }) {
  const lookAgain = useRef(onLookAgain);
  lookAgain.current = onLookAgain;
  useEffect(() => {
    const timer = setInterval(() => document.visibilityState === 'visible' && lookAgain.current(), lookAgainMs);
    return () => clearInterval(timer);
  }, []);
  return (
    <div className={styles.alone}>
      <section className={styles.waiting}>
        <h2>Waiting for the first report of {shell.app.name}</h2>
        <p>This page turns by itself when it arrives. If nothing comes:</p>
        <QuietReasons overview={overview} serverAddress={shell.serverAddress} />
      </section>
      <SetUp shell={shell} overview={overview} />
    </div>
  );
}

/** The requests of the last days, of all outcomes or of one. */
function Log(props: { overview: IntakeOverview; appSlug: string; outcome: OutcomeFilter; onChoose: (outcome: OutcomeFilter) => void }) {
  const { overview, appSlug, outcome, onChoose } = props;
  return (
    <>
      <OutcomeFilterBar outcome={outcome} onChange={onChoose} />
      {overview.log.length === 0 && (
        <p className={styles.none}>No request of the last days had an item {outcome === null ? '' : filterWords[outcome]}.</p>
      )}
      <IntakeLog log={overview.log} now={overview.now} appSlug={appSlug} />
      {overview.more && <p className={styles.none}>There are older ones; choose an outcome to look further back.</p>}
    </>
  );
}

/** Says, while one watches, that the first report is there, and how long ago. */
function FirstArrival({ overview, waitedAtFirst, appSlug }: { overview: IntakeOverview; waitedAtFirst: boolean; appSlug: string }) {
  const { first } = overview;
  const [seconds, setSeconds] = useState(0);
  const since = useRef<number | null>(null);
  useEffect(() => {
    if (!first || !waitedAtFirst) return;
    // Counted from the server's own two times, since the clock of this browser may differ.
    since.current ??= performance.now() - (Date.parse(overview.now) - Date.parse(first.at));
    const tick = () => setSeconds((performance.now() - (since.current as number)) / 1000);
    tick();
    const timer = setInterval(tick, 1_000);
    return () => clearInterval(timer);
  }, [first, waitedAtFirst, overview.now]);
  if (!first || !waitedAtFirst) return null;
  return (
    <div className={styles.arrived} role="status">
      <b>The first report arrived {seconds < 60 ? `${seconds.toFixed(1)} s` : `${Math.floor(seconds / 60)} min`} ago.</b>{' '}
      <a href={`/apps/${appSlug}/reports/${first.reportId}`}>Open it</a>
    </div>
  );
}

function Trouble({ overview }: { overview: IntakeOverview }) {
  const { wordTime } = useTimes();
  return (
    <section className={styles.trouble}>
      <h2>Requests of the last hour were refused</h2>
      <ul>
        {overview.refusals.map((one) => (
          <li key={`${one.reason} ${one.lastAt}`}>
            <b>{wordCount(one.requests, 'request', 'requests')}:</b> {sentence(one.reason)} {one.remedy}{' '}
            <time dateTime={one.lastAt} title={wordTime(one.lastAt)}>
              {wordAgo(one.lastAt, overview.now)}
            </time>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Quiet({ overview, serverAddress }: { overview: IntakeOverview; serverAddress: string }) {
  const { wordTime } = useTimes();
  const { lastAcceptedAt, now } = overview;
  if (lastAcceptedAt === null || Date.parse(now) - Date.parse(lastAcceptedAt) < quietHours * hourMs) return null;
  return (
    <details className={styles.quiet}>
      <summary>Nothing was accepted since {wordTime(lastAcceptedAt)}. Why could that be?</summary>
      <QuietReasons overview={overview} serverAddress={serverAddress} />
    </details>
  );
}

function wordIntake({ log, hours, state, first }: IntakeOverview): string {
  if (first === null && log.length === 0) return 'Nothing has come in yet.';
  const sum = (pick: (counts: IntakeOverview['hours'][number]['counts']) => number) =>
    hours.reduce((total, one) => total + pick(one.counts), 0);
  const parts = [
    [sum((one) => one.accepted), 'accepted'],
    [sum((one) => one.duplicate), 'duplicates'],
    [sum((one) => one.excluded), 'excluded'],
    [sum((one) => one['sampled-out']), 'sampled out'],
    [sum((one) => one['passed-over']), 'passed over'],
    [sum((one) => one.refused), 'refused'],
  ] as const;
  const words =
    parts.flatMap(([count, word]) => (count === 0 ? [] : [`${count.toLocaleString('en')} ${word}`])).join(', ') || 'nothing came';
  return `${state === 'trouble' ? 'Something is wrong' : first === null ? 'Waiting for the first report' : 'Reports come in'}. Last ${shownHours} hours: ${words}.`;
}
