import { MantineProvider } from '@mantine/core';
import type { ReactNode } from 'react';
import { cssVariables, theme } from '../theme/theme';
import styles from './CardPage.module.css';

/** A page that is one question on a card, without the frame around the places. */
export function CardPage({ title, wide = false, children }: { title: string; wide?: boolean; children: ReactNode }) {
  return (
    <MantineProvider theme={theme} cssVariablesResolver={cssVariables} defaultColorScheme="auto">
      <main className={styles.page}>
        <div className={styles.card} data-wide={wide}>
          <div className={styles.brand}>
            <span className={styles.coal} aria-hidden="true" />
            <h1>{title}</h1>
          </div>
          {children}
        </div>
      </main>
    </MantineProvider>
  );
}
