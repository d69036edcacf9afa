import { Button, NumberInput, TextInput } from '@mantine/core';
import { wordRolloutStatus, wordRolloutStep } from '@rough-ember/core/rollouts/rollouts';
import type { Alignment } from '@rough-ember/core/stability/version-comparison';
import { wordSymbolFile } from '@rough-ember/core/symbols/families';
import type { Sent } from '@rough-ember/server/api/registry';
import type { NamedCase, VersionItem, VersionList } from '@rough-ember/server/versions/load-versions';
import { type ReactNode, type SubmitEvent, useState } from 'react';
import { addressOf, request } from '../client/api';
import { useAnswer } from '../client/use-answer';
import { type Attempt, useAttempt } from '../client/use-attempt';
import { useLive } from '../client/use-live';
import { ProblemNotice } from '../shell/Notice';
import type { PageShell } from '../shell/page-shell';
import { Shell } from '../shell/Shell';
import { SidePage } from '../shell/SidePage';
import { useTimes } from '../shell/use-times';
import { CompareWith } from '../versions/CompareWith';
import { ConditionsDrawer } from '../versions/ConditionsDrawer';
import { RolloutCheckView } from '../versions/RolloutCheck';
import { VersionRow } from '../versions/VersionRow';
import styles from '../versions/Versions.module.css';
import { VersionVerdict } from '../versions/VersionVerdict';
import { wordCount } from '../words/numbers';

export interface VersionsPageProps {
  readonly shell: PageShell;
  readonly list: VersionList;
  /** The version that the address names, or null for the newest. */
  readonly chosen: string | null;
}

export function VersionsPage(props: VersionsPageProps) {
  return (
    <Shell shell={props.shell} place="versions">
      <Versions {...props} />
    </Shell>
  );
}

/** Every version, newest first, and of one of them whether it may go further, its rollout, and the cases it changed. */
function Versions({ shell, list: initial, chosen: first }: VersionsPageProps) {
  const here = `/apps/${shell.app.slug}`;
  const { data: list, problem: liveProblem } = useLive(
    shell.app.slug,
    addressOf('GET /apps/{app}/versions', { app: shell.app.slug }),
    initial,
  );
  const [chosen, setChosen] = useState(first);
  const { problem, attempt } = useAttempt();
  const newestFirst = [...list.versions].reverse();
  const item = newestFirst.find((one) => one.version === chosen) ?? newestFirst.find((one) => one.counts.sessions > 0) ?? newestFirst[0];
  const choose = (version: string) => {
    setChosen(version);
    window.history.replaceState(null, '', `${here}/versions?version=${encodeURIComponent(version)}`);
  };
  const usedBut = (item: VersionItem) => newestFirst.filter((one) => one !== item && one.counts.sessions > 0).map((one) => one.version);
  return (
    <SidePage
      sentence={<ListSentence versions={newestFirst} appName={shell.app.name} />}
      problem={problem ?? liveProblem}
      sideLabel="The chosen version"
      side={item && <Chosen key={item.version} item={item} others={usedBut(item)} shell={shell} here={here} attempt={attempt} />}
    >
      <div className={styles.list}>
        {newestFirst.map((one) => (
          <VersionRow key={one.version} item={one} selected={one === item} onSelect={() => choose(one.version)} />
        ))}
      </div>
    </SidePage>
  );
}

function ListSentence({ versions, appName }: { versions: readonly VersionItem[]; appName: string }): ReactNode {
  const newest = versions.find((one) => one.counts.sessions > 0);
  if (!newest) return <>No session of {appName} has arrived yet, so there is nothing to say of its versions.</>;
  const { comparison, rollout } = newest;
  return (
    <>
      <b>{newest.version}</b>
      {(rollout.halted || rollout.percent !== null) && ` ${wordRolloutStatus(rollout)}`}
      {rollout.halted && rollout.note && ` (“${rollout.note}”)`}
      {comparison && (
        <>
          {rollout.percent === null && !rollout.halted ? ' is ' : ' and '}
          <VersionVerdict comparison={comparison} />
        </>
      )}
      . Figures are of the last 30 days of released builds, comparisons of the days since a version came out.
    </>
  );
}

/** One version: the check, its rollout with what can be recorded, and the cases it changed. */
function Chosen({
  item,
  others,
  shell,
  here,
  attempt,
}: {
  item: VersionItem;
  /** Versions that it can be compared with. */
  others: readonly string[];
  shell: PageShell;
  here: string;
  attempt: Attempt;
}) {
  const [turn, setTurn] = useState(0);
  const checkAgain = () => setTurn((before) => before + 1);
  const scope = `version=${encodeURIComponent(item.version)}`;
  const record = (step: Omit<NonNullable<Sent<'POST /apps/{app}/rollouts'>['body']>, 'version'>) =>
    attempt(() => request('POST /apps/{app}/rollouts', { app: shell.app.slug }, { body: { version: item.version, ...step } })).then(
      checkAgain,
    );
  return (
    <>
      <Check version={item.version} others={others} shell={shell} here={here} turn={turn} onAgain={checkAgain} />
      <section className={styles.part}>
        <h2>Rollout</h2>
        <Steps steps={item.steps} />
        {shell.account.role !== 'viewer' && <RecordForm rollout={item.rollout} onRecord={record} />}
      </section>
      <CaseList title="Cases that began in it" cases={item.began} here={here} scope={scope} />
      <CaseList title="Cases that came back in it" cases={item.returned} here={here} scope={scope} />
      <MissingFiles missing={item.missing} here={here} />
      <p className={styles.part}>
        <a href={`${here}/crash-free?${scope}`}>Its sessions and people</a> · <a href={`${here}/cases?${scope}`}>Its cases</a>
      </p>
    </>
  );
}

/** Whether the version may go further, against a version that can be chosen. */
function Check({
  version,
  others,
  shell,
  here,
  turn,
  onAgain,
}: {
  version: string;
  others: readonly string[];
  shell: PageShell;
  here: string;
  /** Counts how often something was changed that the check depends on. */
  turn: number;
  onAgain: () => void;
}) {
  const [asksConditions, setAsksConditions] = useState(false);
  const [against, setAgainst] = useState<string | null>(null);
  const [align, setAlign] = useState<Alignment>('days');
  const place = { app: shell.app.slug, version };
  const { answer, problem } = useAnswer(
    addressOf('GET /apps/{app}/versions/{version}/check', place, { align, ...(against === null ? {} : { against }) }),
    { turn },
  );
  if (!answer) return problem ? <ProblemNotice problem={problem} /> : <p className={styles.looking}>looking …</p>;
  return (
    <>
      {asksConditions && <ConditionsDrawer appSlug={shell.app.slug} onClose={() => setAsksConditions(false)} onSaved={onAgain} />}
      <RolloutCheckView
        check={answer}
        here={here}
        onConditions={shell.account.role !== 'viewer' ? () => setAsksConditions(true) : undefined}
        comparing={
          <CompareWith
            versions={others}
            chosen={against}
            usual={answer.comparison?.than ?? null}
            alignment={align}
            onVersion={setAgainst}
            onAlignment={setAlign}
          />
        }
      />
    </>
  );
}

/** What was recorded of a rollout, the latest first. */
function Steps({ steps }: Pick<VersionItem, 'steps'>) {
  const { wordTime } = useTimes();
  if (steps.length === 0) return <p>No step was recorded. A pipeline can do it: {'ember record-rollout'}.</p>;
  return (
    <ol>
      {[...steps].reverse().map((step) => (
        <li key={step.id}>
          <b>{wordRolloutStep(step)}</b>, {wordTime(step.at)}, {step.by}
          {step.commit && (
            <>
              {' '}
              <code>{step.commit.slice(0, 12)}</code>
            </>
          )}
          {step.note && <div className={styles.faint}>{step.note}</div>}
        </li>
      ))}
    </ol>
  );
}

function MissingFiles({ missing, here }: Pick<VersionItem, 'missing'> & { here: string }) {
  if (missing.length === 0) return null;
  return (
    <section className={styles.part}>
      <h2>Symbol files it lacks</h2>
      <ul>
        {missing.map((one) => (
          <li key={`${one.kind} ${one.name} ${one.symbolId} ${one.build}`}>
            <a href={`${here}/symbols`}>{wordSymbolFile(one)}</a> of build {one.build}: {wordCount(one.reports, 'report', 'reports')}
          </li>
        ))}
      </ul>
    </section>
  );
}

function CaseList({ title, cases, here, scope }: { title: string; cases: readonly NamedCase[]; here: string; scope: string }) {
  if (cases.length === 0) return null;
  return (
    <section className={styles.part}>
      <h2>{title}</h2>
      <ul>
        {cases.map(({ ref, what, where, people, likelyChange }) => (
          <li key={ref} className={styles.case}>
            <a href={`${here}/cases/${ref}?${scope}`}>{ref}</a> {what} <code>{where}</code>
            {people > 0 && `, ${wordCount(people, 'person', 'people')}`}
            {likelyChange !== null && <div className={styles.change}>Likely change: {likelyChange}</div>}
          </li>
        ))}
      </ul>
    </section>
  );
}

function RecordForm({ rollout, onRecord }: { rollout: VersionItem['rollout']; onRecord: (body: object) => Promise<void> }) {
  const record = (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = event.currentTarget;
    const values = new FormData(form);
    void onRecord({ percent: Number(values.get('percent')), note: String(values.get('note')) }).then(() => form.reset());
  };
  return (
    <form className={styles.form} onSubmit={record}>
      <NumberInput name="percent" size="xs" w={92} label="To percent" min={0} max={100} decimalScale={2} required hideControls />
      <TextInput name="note" size="xs" label="Note" maxLength={2_000} />
      <Button type="submit" size="xs" variant="default">
        Record
      </Button>
      {rollout.percent !== null && (
        <Button
          size="xs"
          variant="default"
          onClick={() => void onRecord({ action: rollout.halted ? 'resume' : 'halt', percent: rollout.percent })}
        >
          {rollout.halted ? 'It goes on' : `Halted at ${Number(rollout.percent.toFixed(2))} %`}
        </Button>
      )}
    </form>
  );
}
