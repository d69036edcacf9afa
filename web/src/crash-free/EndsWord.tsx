import { Menu, UnstyledButton } from '@mantine/core';
import type { BadEnds } from '@rough-ember/core/stability/figures';
import styles from './CrashFree.module.css';
import { endWords } from './Headline';

/** What counts against a session: a word of the sentence, in the singular or the plural. */
export function EndsWord({
  ends,
  word = endWords,
  onChange,
}: {
  ends: BadEnds;
  word?: (ends: BadEnds) => string;
  onChange: (ends: BadEnds) => void;
}) {
  return (
    <Menu width={240} closeOnItemClick={false}>
      <Menu.Target>
        <UnstyledButton className={styles.word}>{word(ends)}</UnstyledButton>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.CheckboxItem checked={ends.hangs} onChange={() => onChange({ ...ends, hangs: !ends.hangs })}>
          Hangs count against a session
        </Menu.CheckboxItem>
        <Menu.CheckboxItem checked={ends.kills} onChange={() => onChange({ ...ends, kills: !ends.kills })}>
          Kills count against a session
        </Menu.CheckboxItem>
      </Menu.Dropdown>
    </Menu>
  );
}
