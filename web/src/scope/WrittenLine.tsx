import { TextInput } from '@mantine/core';
import type { Result } from '@rough-ember/core/result';
import { useState } from 'react';
import styles from './WrittenLine.module.css';

interface WrittenLineProps<Value> {
  readonly label: string;
  readonly text: string;
  readonly placeholder: string;
  readonly parse: (text: string) => Result<Value>;
  readonly onDone: (value: Value) => void;
  readonly onLeave: () => void;
}

/** A sentence as it is written, in place of its words: Enter reads it and says what was not understood, Escape leaves it as it was. */
export function WrittenLine<Value>({ label, text: first, placeholder, parse, onDone, onLeave }: WrittenLineProps<Value>) {
  const [text, setText] = useState(first);
  const [problem, setProblem] = useState<string | null>(null);
  return (
    <form
      className={styles.form}
      onSubmit={(event) => {
        event.preventDefault();
        const parsed = parse(text);
        if (parsed.ok) onDone(parsed.value);
        else setProblem(parsed.problem.message);
      }}
    >
      <TextInput
        className={styles.text}
        aria-label={label}
        autoFocus
        value={text}
        error={problem}
        placeholder={placeholder}
        onChange={(event) => setText(event.currentTarget.value)}
        onKeyDown={(event) => event.key === 'Escape' && onLeave()}
      />
    </form>
  );
}
