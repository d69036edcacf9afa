import { Button } from '@mantine/core';
import { useEffect, useRef } from 'react';
import styles from './CaseActions.module.css';

/** Asks before something is done to several cases; Enter does it, Escape leaves it. */
export function Confirmation({ words, onDo, onLeave }: { words: string; onDo: () => void; onLeave: () => void }) {
  const button = useRef<HTMLButtonElement>(null);
  // A menu gives the focus back to its button as it closes; this comes after it.
  useEffect(() => {
    const timer = setTimeout(() => button.current?.focus(), 50);
    return () => clearTimeout(timer);
  }, []);
  return (
    <fieldset
      className={styles.confirmation}
      aria-label={words}
      onKeyDown={(event) => {
        if (event.key !== 'Escape') return;
        event.stopPropagation();
        onLeave();
      }}
    >
      <b>{words}</b>
      <Button ref={button} size="compact-sm" onClick={onDo}>
        Do it
      </Button>
      <Button size="compact-sm" variant="subtle" onClick={onLeave}>
        Not now
      </Button>
    </fieldset>
  );
}
