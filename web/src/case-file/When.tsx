import { Menu, UnstyledButton } from '@mantine/core';
import type { Split } from '@rough-ember/core/cases/desk-settings';
import { dayMs } from '@rough-ember/core/durations';
import { wordField } from '@rough-ember/core/fields/fields';
import { lazy, Suspense, useState } from 'react';
import { useSeen } from '../client/use-seen';
import { ProblemNotice } from '../shell/Notice';
import { useEvidence } from './use-evidence';
import styles from './When.module.css';
import { FieldItems } from './Who';

// The chart brings a library along that the first view does without.
const WhenChart = lazy(() => import('./WhenChart').then(({ WhenChart }) => ({ default: WhenChart })));

/** When it happened, each step split by the version or by another field. */
export function When({ appSlug, refName }: { appSlug: string; refName: string }) {
  const [split, setSplit] = useState<Split>({ field: 'version', key: '' });
  const [opened, setOpened] = useState(false);
  const { ref, seen } = useSeen<HTMLDivElement>();
  const { answer, problem, stale } = useEvidence(appSlug, refName, 'when', { ...split });
  const step = answer === null ? '' : answer.stepMs < dayMs ? 'hour' : answer.stepMs === dayMs ? 'day' : 'week';
  return (
    <div className={styles.when} aria-busy={stale} ref={ref}>
      <p className={styles.words}>
        Reports per {step || '…'} by{' '}
        <Menu opened={opened} onChange={setOpened} width={240} withInitialFocusPlaceholder={false}>
          <Menu.Target>
            <UnstyledButton className={styles.word}>{wordField(split.field, split.key || null)}</UnstyledButton>
          </Menu.Target>
          <Menu.Dropdown className={styles.long}>{opened && <FieldItems appSlug={appSlug} onTake={setSplit} />}</Menu.Dropdown>
        </Menu>
      </p>
      <ProblemNotice problem={problem} />
      <Suspense fallback={<div className={styles.room} />}>
        {answer && seen ? <WhenChart chart={answer} split={split} /> : <div className={styles.room} />}
      </Suspense>
    </div>
  );
}
