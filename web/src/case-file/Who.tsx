import { Button, Menu, UnstyledButton } from '@mantine/core';
import type { Split } from '@rough-ember/core/cases/desk-settings';
import { wordField } from '@rough-ember/core/fields/fields';
import type { StandingOut, StandOuts } from '@rough-ember/core/report-index/stand-out';
import type { CaseWho } from '@rough-ember/server/desk/case-evidence';
import { useState } from 'react';
import { request } from '../client/api';
import type { Answered } from '../client/use-answer';
import { useAttempt } from '../client/use-attempt';
import { useFields } from '../scope/use-fields';
import { Value } from '../scope/Value';
import { ProblemNotice } from '../shell/Notice';
import { wordCount, wordNumber, wordShare } from '../words/numbers';
import { wordTimes } from './status-words';
import styles from './Who.module.css';

/** Whom a case hits: what they have in common that others have not, and how they spread. */
export function Who({
  appSlug,
  who: { answer, problem, stale },
  total,
  mayAct,
}: {
  appSlug: string;
  who: Answered<CaseWho>;
  total: number;
  mayAct: boolean;
}) {
  if (!answer) return problem ? <ProblemNotice problem={problem} /> : <p className={styles.coming}>looking …</p>;
  return (
    <div aria-busy={stale} className={styles.who}>
      <StandingOuts {...answer.standOuts} />
      <Breakdowns appSlug={appSlug} breakdowns={answer.breakdowns} total={total} mayAct={mayAct} />
    </div>
  );
}

function StandingOuts({ people, others, everybodyElse, isSample, looks, values }: StandOuts) {
  const reporters = `${isSample ? 'about ' : ''}${wordNumber(others)} others who reported something`;
  const sampling = `${wordCount(people, 'person', 'people')} of this case with ${
    everybodyElse === null ? reporters : `${wordCount(everybodyElse, 'other', 'others')} who had the app open`
  }`;
  const mixed = everybodyElse !== null && values.some((one) => one.against === 'reporters');
  if ((others === 0 && everybodyElse === null) || people === 0)
    return <p className={styles.faint}>There is nobody else in the scope to compare these people with.</p>;
  if (values.length === 0)
    return (
      <p className={styles.faint}>
        Nothing stands out: {wordNumber(looks)} values compared, the {sampling}.
      </p>
    );
  return (
    <table className={styles.standOuts}>
      <caption>
        Stands out, comparing the {sampling}; {wordNumber(looks)} values looked at, intervals hold for all of them together.
        {mixed && ` What is marked ° sessions do not tell, so it is compared with ${reporters}.`}
      </caption>
      <thead>
        <tr>
          <th scope="col">Value</th>
          <th scope="col">Here</th>
          <th scope="col">Others</th>
          <th scope="col">More common</th>
        </tr>
      </thead>
      <tbody>
        {values.map((one) => (
          <StandingRow key={`${one.term.field} ${one.term.key} ${one.term.value}`} {...one} marks={mixed} />
        ))}
      </tbody>
    </table>
  );
}

function StandingRow({ term, share, shareOfOthers, lift, against, marks }: StandingOut & { marks: boolean }) {
  return (
    <tr>
      <th scope="row">
        <Value field={term.field} name={term.key} value={term.value}>
          {wordField(term.field, term.key || null)} <b>{term.value}</b>
        </Value>
      </th>
      <td>
        <span className={styles.pair}>
          <i className={styles.here} style={{ width: `${100 * share}%` }} />
          <i className={styles.others} style={{ width: `${100 * shareOfOthers}%` }} />
        </span>
        {wordShare(share)}
      </td>
      <td>
        {wordShare(shareOfOthers)}
        {marks && against === 'reporters' && ' °'}
      </td>
      <td>
        <b>{wordTimes(lift.value)}</b>{' '}
        <small>{lift.high > 50 ? `at least ${wordTimes(lift.low)}` : `${wordTimes(lift.low)} to ${wordTimes(lift.high)}`}</small>
      </td>
    </tr>
  );
}

function Breakdowns({
  appSlug,
  breakdowns,
  total,
  mayAct,
}: {
  appSlug: string;
  breakdowns: CaseWho['breakdowns'];
  total: number;
  mayAct: boolean;
}) {
  const { problem, attempt } = useAttempt();
  const path = { app: appSlug };
  const change = (next: (before: readonly Split[]) => readonly Split[]) =>
    attempt(async () => {
      const settings = await request('GET /apps/{app}/desk-settings', path);
      await request('PUT /apps/{app}/desk-settings', path, { body: { ...settings, breakdowns: [...next(settings.breakdowns)] } });
    });
  return (
    <>
      <ProblemNotice problem={problem} />
      <div className={styles.spreads}>
        {breakdowns.map((one) => (
          <OneBreakdown
            key={`${one.field} ${one.key}`}
            breakdown={one}
            total={total}
            onDrop={
              mayAct ? () => void change((before) => before.filter(({ field, key }) => field !== one.field || key !== one.key)) : null
            }
          />
        ))}
        {mayAct && breakdowns.length < 12 && (
          <AddBreakdown appSlug={appSlug} onTake={(split) => void change((before) => [...before, split])} />
        )}
      </div>
    </>
  );
}

/** The reports of a case by the values of one field, the most frequent first. */
function OneBreakdown({
  breakdown: { field, key, values, different, without },
  total,
  onDrop,
}: {
  breakdown: CaseWho['breakdowns'][number];
  total: number;
  /** Null for whoever may not change what is broken down. */
  onDrop: (() => void) | null;
}) {
  const name = wordField(field, key || null);
  return (
    <section aria-label={name}>
      <h3 className={styles.spreadTitle}>
        {name}
        {onDrop && (
          <UnstyledButton className={styles.drop} aria-label={`Break down by ${name} no more`} onClick={onDrop}>
            ×
          </UnstyledButton>
        )}
      </h3>
      {values.length === 0 && <div className={styles.faint}>not told by these reports</div>}
      {values.map(({ value, reports, people }) => (
        <div
          key={value}
          className={styles.spreadRow}
          title={`${wordNumber(reports)} of ${wordNumber(total)} reports, ${wordNumber(people)} people`}
        >
          <Value field={field} name={key} value={value} />
          <span className={styles.bar}>
            <i style={{ width: `${(100 * reports) / total}%` }} />
          </span>
          <span className={styles.count}>{wordNumber(reports)}</span>
        </div>
      ))}
      {different > values.length && <div className={styles.faint}>and {wordNumber(different - values.length)} more values</div>}
      {values.length > 0 && without > 0 && <div className={styles.faint}>not told by {wordCount(without, 'report', 'reports')}</div>}
    </section>
  );
}

function AddBreakdown({ appSlug, onTake }: { appSlug: string; onTake: (split: Split) => void }) {
  const [opened, setOpened] = useState(false);
  return (
    <Menu opened={opened} onChange={setOpened} width={240} withInitialFocusPlaceholder={false}>
      <Menu.Target>
        <Button size="compact-xs" variant="subtle">
          Break down by …
        </Button>
      </Menu.Target>
      <Menu.Dropdown className={styles.long}>{opened && <FieldItems appSlug={appSlug} onTake={onTake} />}</Menu.Dropdown>
    </Menu>
  );
}

/** A menu item for each field that things can be split by. */
export function FieldItems({ appSlug, onTake }: { appSlug: string; onTake: (split: Split) => void }) {
  const overview = useFields(appSlug);
  if (!overview) return <Menu.Item disabled>looking …</Menu.Item>;
  return overview.fields
    .filter(({ field }) => !['kind', 'stack', 'message', 'trail', 'person', 'installation'].includes(field))
    .map(({ field, key }) => (
      <Menu.Item key={`${field} ${key}`} onClick={() => onTake({ field, key })}>
        {wordField(field, key || null)}
      </Menu.Item>
    ));
}
