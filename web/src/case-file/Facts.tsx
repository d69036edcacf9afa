import { Button } from '@mantine/core';
import type { AttributeValue } from '@rough-ember/core/report/limits';
import { wordAgo } from '@rough-ember/core/words/time';
import type { ReportView } from '@rough-ember/server/desk/case-file';
import { type ReactNode, useState } from 'react';
import { request } from '../client/api';
import { Value } from '../scope/Value';
import { useTimes } from '../shell/use-times';
import styles from './CaseFileView.module.css';

/** Everything told of the report; what can be filtered by can be clicked. */
export function Facts({
  report,
  now,
  appSlug,
  filterable,
  mayAct,
}: {
  report: ReportView;
  now: string;
  appSlug: string;
  filterable: readonly string[];
  mayAct: boolean;
}) {
  const { wordTime } = useTimes();
  const facts: [string, ReactNode][] = [
    ['Happened', `${wordTime(report.occurredAt)}, ${wordAgo(report.occurredAt, now)}`],
    ['Arrived', wordTime(report.receivedAt)],
    [
      'Version',
      <span key="version">
        <Value field="version" value={report.version} /> (<Value field="build" value={report.build} />)
        {report.buildType === 'release' ? '' : `, ${report.buildType}`}
      </span>,
    ],
    [
      'System',
      report.os ? (
        <span key="os">
          <Value field="os.name" value={report.os.name} /> <Value field="os.version" value={report.os.version} />
        </span>
      ) : (
        'not told'
      ),
    ],
    ['Device', report.device ? <Value key="device" field="device.model" value={deviceName(report.device)} /> : 'not told'],
    ['Thread', report.readable.threads.find((thread) => thread.crashed)?.name ?? 'not told'],
    ['Person', report.personId ? <PersonLink key="person" appSlug={appSlug} id={report.personId} /> : 'not told'],
    ['Installation', report.installationId ? <PersonLink key="installation" appSlug={appSlug} id={report.installationId} /> : 'not told'],
    ['Report', <code key="id">{report.id}</code>],
    ...report.circumstances.map(({ name, value }): [string, ReactNode] => [name, value]),
    ...Object.entries(report.flags).map(([name, variant]): [string, ReactNode] => [
      `flag ${name}`,
      <Value key={name} field="flags" name={name} value={variant} />,
    ]),
    ...Object.entries(report.attributes).map(([name, value]): [string, ReactNode] => [
      name,
      <Attribute key={name} appSlug={appSlug} name={name} value={value} isFilterable={filterable.includes(name)} mayAct={mayAct} />,
    ]),
  ];
  return (
    <dl className={styles.facts}>
      {facts.map(([name, value]) => (
        <div key={name}>
          <dt>{name}</dt>
          <dd>{value}</dd>
        </div>
      ))}
    </dl>
  );
}

const deviceName = ({ manufacturer, model }: NonNullable<ReportView['device']>): string => [manufacturer, model].filter(Boolean).join(' ');

const PersonLink = ({ appSlug, id }: { appSlug: string; id: string }) => (
  <a href={`/apps/${appSlug}/person?id=${encodeURIComponent(id)}`}>
    <code>{id}</code>
  </a>
);

const shownCharacters = 300;

/** A value of thousands of characters shows its beginning, and the rest to whoever asks. */
function Long({ text }: { text: string }) {
  if (text.length <= shownCharacters) return text;
  return (
    <details>
      <summary style={{ wordBreak: 'break-all' }}>{text.slice(0, shownCharacters)}…</summary>
      {text.slice(shownCharacters)}
    </details>
  );
}

/** An attribute: filterable ones can be clicked into the scope, the others can be made so. */
function Attribute({
  appSlug,
  name,
  value,
  isFilterable,
  mayAct,
}: {
  appSlug: string;
  name: string;
  value: AttributeValue;
  isFilterable: boolean;
  mayAct: boolean;
}) {
  const [said, setSaid] = useState<string | null>(null);
  const elements = Array.isArray(value) ? value : [value];
  const ask = () =>
    request('POST /apps/{app}/attributes', { app: appSlug }, { body: { name } }).then(
      () => setSaid('all reports are being looked at'),
      (error: Error) => setSaid(error.message),
    );
  return (
    <span className={styles.attribute}>
      {elements.map((element, at) => (
        <span key={String(element)}>
          {at > 0 && ', '}
          {isFilterable ? <Value field="attributes" name={name} value={String(element)} /> : <Long text={String(element)} />}
        </span>
      ))}
      {said !== null && <small role="status"> {said}</small>}
      {!isFilterable && mayAct && said === null && (
        <Button size="compact-xs" variant="subtle" className={styles.makeFilterable} onClick={() => void ask()}>
          filter by it
        </Button>
      )}
    </span>
  );
}
