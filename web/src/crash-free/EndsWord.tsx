import { Menu, UnstyledButton } from '@mantine/core';
import type { BadEnds } from '@rough-ember/core/stability/figures';
import styles from './CrashFree.module.css';
import { endWords } from './Headline';

/** What counts against a session: a word of the sentence, in the singular or the plural. */
export function EndsWord({
  badEnds,
  word = endWords,
  onChange,
}: {
  badEnds: BadEnds;
  word?: (badEnds: BadEnds) => string;
  onChange: (badEnds: BadEnds) => void;
}) {
  return (
    <Menu width={240} closeOnItemClick={false}>
      <Menu.Target>
        <UnstyledButton className={styles.word}>{word(badEnds)}</UnstyledButton>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.CheckboxItem checked={badEnds.hangs} onChange={() => onChange({ ...badEnds, hangs: !badEnds.hangs })}>
          Hangs count against a session
        </Menu.CheckboxItem>
        <Menu.CheckboxItem checked={badEnds.kills} onChange={() => onChange({ ...badEnds, kills: !badEnds.kills })}>
          Kills count against a session
        </Menu.CheckboxItem>
      </Menu.Dropdown>
    </Menu>
  );
}
