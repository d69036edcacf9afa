import { UnstyledButton } from '@mantine/core';
import type { IntakeOverview } from '@rough-ember/server/intake/intake-overview';
import { useState } from 'react';
import { useTimes } from '../shell/use-times';
import { wordCount } from '../words/numbers';
import { sentence } from '../words/sentence';
import styles from './IntakeLog.module.css';

type Entry = IntakeOverview['log'][number];

export const outcomeWords = {
  accepted: 'accepted',
  duplicate: 'duplicate',
  excluded: 'excluded',
  'sampled-out': 'sampled out',
  'passed-over': 'passed over',
  refused: 'refused',
} as const;
export const filterWords = { ...outcomeWords, remarked: 'put right' } as const;
export type OutcomeFilter = keyof typeof filterWords | null;

/** Which requests are shown: those with an item of one outcome, or all. */
export function OutcomeFilterBar({ outcome, onChange }: { outcome: OutcomeFilter; onChange: (outcome: OutcomeFilter) => void }) {
  const choices: readonly (readonly [OutcomeFilter, string])[] = [
    [null, 'all'],
    ...(Object.entries(filterWords) as [OutcomeFilter, string][]),
  ];
  return (
    <fieldset className={styles.filter}>
      <legend>Requests with items</legend>
      {choices.map(([value, word]) => (
        <UnstyledButton key={word} aria-pressed={outcome === value} onClick={() => onChange(value)}>
          {word}
        </UnstyledButton>
      ))}
    </fieldset>
  );
}

/** Every request, newest first, with what became of it and why. */
export function IntakeLog({ log, now, appSlug }: { log: readonly Entry[]; now: string; appSlug: string }) {
  return (
    <ol className={styles.log}>
      {log.map((entry) => (
        <LogEntry key={entry.id} entry={entry} now={now} appSlug={appSlug} />
      ))}
    </ol>
  );
}

function LogEntry({ entry, now, appSlug }: { entry: Entry; now: string; appSlug: string }) {
  const { wordClock, wordTime } = useTimes();
  const [open, setOpen] = useState(false);
  return (
    <li className={styles.entry} data-refused={entry.refused > 0} data-stranger={entry.appId === null}>
      <time dateTime={entry.at} title={wordTime(entry.at)}>
        {wordClock(entry.at, now)}
      </time>
      <code className={styles.key}>{entry.keyName ?? 'no key'}</code>
      <div className={styles.about}>
        {entry.what} <span className={styles.client}>{entry.client ?? 'unknown client'}</span>
        {entry.appId === null && entry.keyName !== null && (
          <div className={styles.reason}>This key belongs to no app of this server: was the app built for another one?</div>
        )}
        {entry.reason && (
          <div className={styles.reason}>
            {sentence(entry.reason)} {entry.refused > 0 && entry.remedy && <span className={styles.remedy}>{entry.remedy}</span>}
          </div>
        )}
        {(entry.lines.length > 1 || entry.lines.some((line) => (line.remarks?.length ?? 0) > 1)) && (
          <UnstyledButton className={styles.more} aria-expanded={open} onClick={() => setOpen(!open)}>
            {open ? 'Hide the lines' : `${wordCount(entry.lines.length, 'line was', 'lines were')} not simply accepted`}
          </UnstyledButton>
        )}
        {open && (
          <ul className={styles.lines}>
            {entry.lines.map((line) => (
              <li key={line.line}>
                line {line.line}, {line.what}: <b>{outcomeWords[line.outcome]}</b> {line.reason}
                {line.remarks && line.remarks.length > 0 && (
                  <ul className={styles.lines}>
                    {line.remarks.map((remark) => (
                      <li key={remark}>{sentence(remark)}</li>
                    ))}
                  </ul>
                )}
              </li>
            ))}
          </ul>
        )}
      </div>
      <div className={styles.outcome}>
        <b>{wordOutcome(entry)}</b>
        {entry.reportId && <a href={`/apps/${appSlug}/reports/${entry.reportId}`}>open</a>}
      </div>
    </li>
  );
}

function wordOutcome({ accepted, duplicates, excluded, sampledOut, passedOver, refused, remarked }: Entry): string {
  const parts = [
    [accepted, 'accepted'],
    [duplicates, duplicates === 1 ? 'duplicate' : 'duplicates'],
    [excluded, 'excluded'],
    [sampledOut, 'sampled out'],
    [passedOver, 'passed over'],
    [refused, 'refused'],
  ] as const;
  const single = parts.reduce((sum, [count]) => sum + count, 0) === 1;
  const words = parts.flatMap(([count, word]) => (count === 0 ? [] : [single ? word : `${count} ${word}`])).join(', ') || 'nothing in it';
  return remarked === 0 ? words : `${words}, ${single ? '' : `${remarked} `}put right`;
}
