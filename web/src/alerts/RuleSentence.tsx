import { Menu, MultiSelect, NumberInput } from '@mantine/core';
import {
  type AlertKind,
  type AlertRule,
  type AlertSubject,
  alertKindNames,
  alertKinds,
  narrowedWhere,
  scopeOfRule,
} from '@rough-ember/core/alerts/alert-rule';
import { kindChoices } from '@rough-ember/core/alerts/kind-words';
import { wordPace } from '@rough-ember/core/alerts/word-rule';
import { wordKinds } from '@rough-ember/core/scope/scope';
import type { RuleList } from '@rough-ember/server/alerts/rule-views';
import { useState } from 'react';
import { addressOf } from '../client/api';
import { useAnswer } from '../client/use-answer';
import { Conditions } from '../scope/Conditions';
import { FilterForm } from '../scope/FilterForm';
import { ChoiceWord, KindsWord, VersionsWord, Word } from '../scope/ScopeWords';
import { capitalised } from '../words/sentence';
import styles from './Alerts.module.css';

interface SentenceProps {
  readonly appSlug: string;
  readonly rule: AlertRule;
  readonly list: Pick<RuleList, 'channels' | 'people'>;
  /** Oldest first. */
  readonly versions: readonly string[];
  readonly onChange: (rule: AlertRule) => void;
}

/** What each kind begins with when it is chosen. */
const subjectOf = (kind: AlertKind): AlertSubject => {
  switch (kind) {
    case 'count':
      return { kind, of: 'people', atLeast: 20, days: 1 };
    case 'symbols':
      return { kind, reports: 1 };
    case 'silence':
      return { kind, hours: 6 };
    case 'refusals':
      return { kind, percent: 10 };
    case 'sheet':
      return { kind, sheet: 'monday' };
    default:
      return { kind };
  }
};

/** A rule as a sentence whose words are its controls. */
export function RuleSentence(props: SentenceProps) {
  const { rule, onChange } = props;
  return (
    <div className={styles.sentence}>
      <div>
        When{' '}
        <ChoiceWord
          width={320}
          chosen={rule.what.kind}
          choices={alertKindNames}
          wordOf={(kind) => kindChoices[kind]}
          onChoose={(kind) => onChange({ ...rule, what: subjectOf(kind) })}
        />
        <Bounds appSlug={props.appSlug} what={rule.what} onChange={(what) => onChange({ ...rule, what })} />
        {alertKinds[rule.what.kind].hasScope && <WhereWords {...props} />},
      </div>
      <div>
        tell <WhomWords {...props} />,
      </div>
      <div>
        <PaceWords {...props} />
        <UntilWord rule={rule} onChange={onChange} />
      </div>
    </div>
  );
}

/** The bounds that a kind has. */
function Bounds({ appSlug, what, onChange }: { appSlug: string; what: AlertSubject; onChange: (what: AlertSubject) => void }) {
  switch (what.kind) {
    case 'count':
      return (
        <>
          : <Amount label="At least" value={what.atLeast} onChange={(atLeast) => onChange({ ...what, atLeast })} />{' '}
          <ChoiceWord
            width={140}
            chosen={what.of}
            choices={['people', 'reports'] as const}
            wordOf={(of) => of}
            onChoose={(of) => onChange({ ...what, of })}
          />{' '}
          or more{' '}
          <ChoiceWord
            width={180}
            chosen={what.days}
            choices={[1, 7] as const}
            wordOf={(days) => (days === 1 ? 'since yesterday' : 'in 7 days')}
            onChoose={(days) => onChange({ ...what, days })}
          />
        </>
      );
    case 'symbols':
      return (
        <>
          {' '}
          that <Amount label="Reports" value={what.reports} onChange={(reports) => onChange({ ...what, reports })} /> or more reports ask
          for
        </>
      );
    case 'silence':
      return (
        <>
          {' '}
          for <Amount label="Hours" value={what.hours} most={168} onChange={(hours) => onChange({ ...what, hours })} /> hours
        </>
      );
    case 'refusals':
      return (
        <>
          : over <Amount label="Percent" value={what.percent} most={100} onChange={(percent) => onChange({ ...what, percent })} /> % of an
          hour’s requests
        </>
      );
    case 'sheet':
      return (
        <>
          : <SheetWord appSlug={appSlug} chosen={what.sheet} onChoose={(sheet) => onChange({ ...what, sheet })} />
        </>
      );
    default:
      return null;
  }
}

/** The sheet whose figures are told; one that somebody keeps for themselves is none of them. */
function SheetWord({ appSlug, chosen, onChoose }: { appSlug: string; chosen: string; onChoose: (sheet: string) => void }) {
  const { answer } = useAnswer(addressOf('GET /apps/{app}/sheets', { app: appSlug }));
  const sheets = (answer ?? []).filter((one) => one.forTeam);
  const titleOf = (name: string) => sheets.find((one) => one.name === name)?.title ?? name;
  return <ChoiceWord width={260} chosen={chosen} choices={sheets.map((one) => one.name)} wordOf={titleOf} onChoose={onChoose} />;
}

function Amount({
  label,
  value,
  most = 1_000_000,
  onChange,
}: {
  label: string;
  value: number;
  most?: number;
  onChange: (value: number) => void;
}) {
  return (
    <NumberInput
      className={styles.amount}
      size="xs"
      aria-label={label}
      value={value}
      min={1}
      max={most}
      allowDecimal={false}
      hideControls
      onChange={(given) => typeof given === 'number' && given >= 1 && onChange(given)}
    />
  );
}

/** The kinds of rules that are about reports of some kinds. */
const ofKinds: ReadonlySet<AlertKind> = new Set(['case-begins', 'case-returns', 'case-worse', 'report', 'count']);

/** The scope of a rule, in the words of every other scope. */
function WhereWords({ appSlug, rule, versions, onChange }: SentenceProps) {
  const [writes, setWrites] = useState(false);
  const read = scopeOfRule(rule);
  const scope = read.ok ? read.value : null;
  if (scope === null) return <> in a scope that cannot be read any more</>;
  const change = (next: typeof scope) => onChange({ ...rule, where: narrowedWhere(next) });
  return (
    <>
      {ofKinds.has(rule.what.kind) && (
        <>
          {rule.what.kind === 'report' || rule.what.kind === 'count' ? ' of ' : ', of '}
          <KindsWord scope={scope} onChange={change} words={wordKinds(scope.kinds).toLowerCase()} />
        </>
      )}{' '}
      in <VersionsWord scope={scope} versions={versions} onChange={change} />{' '}
      {writes ? (
        <FilterForm
          appSlug={appSlug}
          scope={scope}
          onDone={(filter) => {
            setWrites(false);
            change({ ...scope, filter });
          }}
          onLeave={() => setWrites(false)}
        />
      ) : (
        <Conditions appSlug={appSlug} scope={scope} onChange={change} onWrite={() => setWrites(true)} />
      )}
    </>
  );
}

const peopleWords = {
  everybody: 'everybody who sees the app',
  'looking-after': 'whoever looks after the case',
  nobody: 'nobody by name',
} as const;

function WhomWords({ rule, list, onChange }: SentenceProps) {
  const { people, channels } = rule.whom;
  const named = typeof people === 'string' ? [] : people;
  const tell = (next: Partial<AlertRule['whom']>) => onChange({ ...rule, whom: { ...rule.whom, ...next } });
  return (
    <>
      <Menu width={260}>
        <Word>{typeof people === 'string' ? peopleWords[people] : named.join(', ')}</Word>
        <Menu.Dropdown>
          {(['everybody', 'looking-after', 'nobody'] as const).map((one) => (
            <Menu.Item key={one} onClick={() => tell({ people: one })}>
              {capitalised(peopleWords[one])}
            </Menu.Item>
          ))}
          <Menu.Divider />
          {list.people.map(({ email }) => (
            <Menu.CheckboxItem
              key={email}
              checked={named.includes(email)}
              onChange={() => {
                const next = named.includes(email) ? named.filter((one) => one !== email) : [...named, email];
                tell({ people: next.length === 0 ? 'nobody' : next });
              }}
            >
              {email}
            </Menu.CheckboxItem>
          ))}
        </Menu.Dropdown>
      </Menu>
      {list.channels.length > 0 && (
        <>
          {' '}
          and{' '}
          <MultiSelect
            className={styles.channels}
            size="xs"
            aria-label="Channels"
            placeholder={channels.length === 0 ? 'no channel' : ''}
            data={list.channels.map(({ id, name }) => ({ value: String(id), label: name }))}
            value={channels.map(String)}
            onChange={(ids) => tell({ channels: ids.map(Number) })}
          />
        </>
      )}
    </>
  );
}

function PaceWords({ rule, onChange }: SentenceProps) {
  const { pace } = rule;
  const change = (next: Partial<AlertRule['pace']>) => onChange({ ...rule, pace: { ...pace, ...next } });
  return (
    <>
      <ChoiceWord
        width={260}
        chosen={pace.when}
        choices={['at-once', 'hourly', 'daily'] as const}
        wordOf={(when) => (when === 'at-once' ? 'at once' : wordPace({ ...pace, when, workingDays: false }))}
        onChoose={(when) => change({ when })}
      />
      {pace.when === 'at-once' && (
        <>
          , at most every{' '}
          <Amount label="Minutes" value={pace.everyMinutes} most={1_440} onChange={(everyMinutes) => change({ everyMinutes })} /> minutes
        </>
      )}
      ,{' '}
      <ChoiceWord
        width={200}
        chosen={pace.workingDays ? 'working' : 'any'}
        choices={['any', 'working'] as const}
        wordOf={(days) => (days === 'any' ? 'on any day' : 'on working days')}
        onChoose={(days) => change({ workingDays: days === 'working' })}
      />
    </>
  );
}

/** Until when a rule holds; days from now, since nobody chooses an hour for it. */
function UntilWord({ rule, onChange }: Pick<SentenceProps, 'rule' | 'onChange'>) {
  const inDays = (days: number) => new Date(Date.now() + days * 86_400_000).toISOString();
  return (
    <>
      ,{' '}
      <Menu width={200}>
        <Word>{rule.until === null ? 'for good' : `until ${rule.until.slice(0, 10)}`}</Word>
        <Menu.Dropdown>
          <Menu.Item onClick={() => onChange({ ...rule, until: null })}>For good</Menu.Item>
          {[1, 7, 30].map((days) => (
            <Menu.Item key={days} onClick={() => onChange({ ...rule, until: inDays(days) })}>
              {days === 1 ? 'For a day' : `For ${days} days`}
            </Menu.Item>
          ))}
        </Menu.Dropdown>
      </Menu>
      .
    </>
  );
}
