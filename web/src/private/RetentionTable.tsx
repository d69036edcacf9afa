import { Button, NumberInput } from '@mantine/core';
import { type KeptThing, keptThings, type RetentionLimit } from '@rough-ember/core/report/retention';
import type { RetentionPreview, RetentionView } from '@rough-ember/server/privacy/retention';
import { useState } from 'react';
import { addressOf, request } from '../client/api';
import { useAttempt } from '../client/use-attempt';
import { useLive } from '../client/use-live';
import { ProblemNotice } from '../shell/Notice';
import { useTimes } from '../shell/use-times';
import { wordBytes, wordCount, wordNumber } from '../words/numbers';
import styles from './Private.module.css';
import { useAsked } from './use-asked';

const words: Readonly<Record<KeptThing, { readonly name: string; readonly goes: string; readonly one: string; readonly many: string }>> = {
  reports: {
    name: 'What reports hold',
    goes: 'Stacks, messages, trails, attributes, who it happened to, and attachments. The report stays, to be counted.',
    one: 'report',
    many: 'reports',
  },
  attachments: { name: 'Attachments', goes: 'Screenshots, logs and original crash files alone.', one: 'file', many: 'files' },
  intakeLog: { name: 'The intake log', goes: 'What came in and what became of it.', one: 'request', many: 'requests' },
};

/** How long an app keeps what, how much it holds now, and what would go as soon as the limits are as they are written. */
export function RetentionTable(props: { appSlug: string; view: RetentionView; isOwner: boolean }) {
  const { appSlug, isOwner } = props;
  const { data: view, problem: unread, refresh } = useLive(appSlug, addressOf('GET /apps/{app}/retention', { app: appSlug }), props.view);
  const [kept, setKept] = useState(view.retention);
  const [retention, setRetention] = useState(view.retention);
  const { problem, attempt } = useAttempt();
  const { answer: preview, problem: refusal } = useAsked('POST /apps/{app}/retention/preview', appSlug, retention, JSON.stringify(view));
  const isChanged = JSON.stringify(retention) !== JSON.stringify(kept);
  const change = (thing: KeptThing, part: Partial<RetentionLimit>) =>
    setRetention({ ...retention, [thing]: { ...retention[thing], ...part } });
  const save = async () => {
    if (!(await attempt(() => request('PUT /apps/{app}/retention', { app: appSlug }, { body: retention })))) return;
    setKept(retention);
    refresh();
  };
  return (
    <>
      <LimitsTable {...{ view, retention, preview, isOwner }} onChange={change} />
      <ProblemNotice problem={problem ?? refusal ?? unread} />
      {isOwner ? (
        <div className={styles.line}>
          <Button size="xs" onClick={() => void save()} disabled={!isChanged || refusal !== null}>
            {isChanged ? 'Keep things like this' : 'This is how they are kept'}
          </Button>
          <span className={styles.faint}>
            Days are counted from the arrival; the oldest goes first. Sizes are those of texts and files before the database compresses
            them. What has gone cannot be brought back; counts, figures and titles of cases stay.
          </span>
        </div>
      ) : (
        <p className={styles.faint}>Owners of this server can change how long things are kept.</p>
      )}
    </>
  );
}

interface LimitsProps {
  readonly view: RetentionView;
  readonly retention: RetentionView['retention'];
  readonly preview: RetentionPreview | null;
  readonly isOwner: boolean;
  readonly onChange: (thing: KeptThing, part: Partial<RetentionLimit>) => void;
}

function LimitsTable(props: LimitsProps) {
  return (
    <div className={styles.scroll}>
      <table className={styles.table}>
        <thead>
          <tr>
            <th scope="col">What</th>
            <th scope="col">Held now</th>
            <th scope="col">Kept for days</th>
            <th scope="col">At most MB</th>
            <th scope="col">Goes by these limits</th>
          </tr>
        </thead>
        <tbody>
          {keptThings.map((thing) => (
            <LimitsRow key={thing} thing={thing} {...props} />
          ))}
          <tr>
            <th scope="row">
              Sessions, one by one
              <div className={styles.faint}>Their sums by day and person stay, and with them every figure.</div>
            </th>
            <td />
            <td>{wordNumber(props.view.sessionDays)}</td>
            <td />
            <td className={styles.faint}>for all apps, by EMBER_SESSION_DAYS</td>
          </tr>
        </tbody>
      </table>
    </div>
  );
}

function LimitsRow({ thing, view, retention, preview, isOwner, onChange }: LimitsProps & { thing: KeptThing }) {
  return (
    <tr>
      <th scope="row">
        {words[thing].name}
        <div className={styles.faint}>{words[thing].goes}</div>
      </th>
      <td>
        <Held thing={thing} view={view} />
      </td>
      <td>
        <LimitInput
          label={`${words[thing].name}: kept for days`}
          value={retention[thing].days}
          most={3_650}
          isOwner={isOwner}
          onChange={(days) => onChange(thing, { days })}
        />
      </td>
      <td>
        <LimitInput
          label={`${words[thing].name}: at most megabytes`}
          value={retention[thing].megabytes}
          most={10_000_000}
          isOwner={isOwner}
          onChange={(megabytes) => onChange(thing, { megabytes })}
        />
      </td>
      <td role="status" aria-label={`What goes: ${words[thing].name}`}>
        {preview && wordGoing(thing, preview)}
      </td>
    </tr>
  );
}

/** A limit; left empty, there is none. */
function LimitInput(props: {
  label: string;
  value: number | null;
  most: number;
  isOwner: boolean;
  onChange: (value: number | null) => void;
}) {
  const { label, value, most, isOwner, onChange } = props;
  return (
    <NumberInput
      size="xs"
      w={96}
      aria-label={label}
      placeholder="no limit"
      min={1}
      max={most}
      allowDecimal={false}
      allowNegative={false}
      thousandSeparator=","
      disabled={!isOwner}
      value={value ?? ''}
      onChange={(given) => onChange(given === '' ? null : Number(given))}
    />
  );
}

function Held({ thing, view }: { thing: KeptThing; view: RetentionView }) {
  const { wordDate, wordTime } = useTimes();
  const held = view.holdings[thing];
  if (!held) return <span className={styles.faint}>not looked at yet</span>;
  if (held.items === 0) return <>nothing</>;
  return (
    <span title={`as of ${wordTime(held.measuredAt)}`}>
      {wordCount(held.items, words[thing].one, words[thing].many)}, {wordBytes(held.bytes)}
      {held.oldestAt !== null && <div className={styles.faint}>since {wordDate(held.oldestAt)}</div>}
    </span>
  );
}

function wordGoing(thing: KeptThing, preview: RetentionPreview): string {
  const going = preview[thing];
  return going === null ? 'nothing now' : `${wordCount(going.items, words[thing].one, words[thing].many)}, ${wordBytes(going.bytes)}`;
}
