import { Button } from '@mantine/core';
import { useEffect, useRef } from 'react';
import styles from './CaseActions.module.css';

/** Asks before something is done to several cases; Enter does it, Escape leaves it. What cannot be taken back takes a press of its own. */
export function Confirmation(props: { words: string; isFinal?: boolean; onDo: () => void; onLeave: () => void }) {
  const { words, isFinal = false, onDo, onLeave } = props;
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
      <Button ref={isFinal ? null : button} size="compact-sm" onClick={onDo}>
        {isFinal ? 'Delete' : 'Do it'}
      </Button>
      <Button ref={isFinal ? button : null} size="compact-sm" variant="subtle" onClick={onLeave}>
        Not now
      </Button>
    </fieldset>
  );
}
