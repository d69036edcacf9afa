import { Progress } from '@mantine/core';
import { useEffect, useState } from 'react';
import { wordCount, wordNumber } from '../words/numbers';
import styles from './NamingWork.module.css';

/** Reports that are being named again; the total is the most that were seen waiting since the work began. */
export function NamingWork({ reports, of = '' }: { reports: number; of?: string }) {
  const [most, setMost] = useState(reports);
  useEffect(() => setMost((before) => (reports === 0 ? 0 : Math.max(before, reports))), [reports]);
  if (reports === 0) return null;
  const total = Math.max(most, reports);
  return (
    <section className={styles.work} aria-label="Under way">
      <span>
        Naming {wordCount(total, 'report', 'reports')} {of} · {wordNumber(total - reports)} done
      </span>
      <Progress value={(100 * (total - reports)) / total} aria-label="Reports named" className={styles.progress} />
    </section>
  );
}
