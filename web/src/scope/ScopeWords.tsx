import { Menu, UnstyledButton } from '@mantine/core';
import { reportKinds } from '@rough-ember/core/report/report-kinds';
import { type Scope, wordKinds, wordVersions } from '@rough-ember/core/scope/scope';
import { capitalised } from '../words/sentence';
import styles from './ScopeSentence.module.css';

interface PartProps {
  readonly scope: Scope;
  readonly onChange: (scope: Scope) => void;
}

/** The kinds of reports; at least one. `words` say them otherwise, as within a sentence. */
export function KindsWord({ scope, onChange, words }: PartProps & { words?: string }) {
  const toggle = (kind: (typeof reportKinds)[number]) => {
    const kinds = reportKinds.filter((one) => (one === kind) !== scope.kinds.includes(one));
    if (kinds.length > 0) onChange({ ...scope, kinds });
  };
  return (
    <Menu width={220}>
      <Word>{words ?? wordKinds(scope.kinds)}</Word>
      <Menu.Dropdown>
        {reportKinds.map((kind) => (
          <Menu.CheckboxItem key={kind} checked={scope.kinds.includes(kind)} onChange={() => toggle(kind)}>
            {wordKinds([kind])}
          </Menu.CheckboxItem>
        ))}
      </Menu.Dropdown>
    </Menu>
  );
}

/** Any version, one, or one and those after it. */
export function VersionsWord({ scope, versions, onChange }: PartProps & { versions: readonly string[] }) {
  const newestFirst = [...versions].reverse();
  return (
    <Menu width={220}>
      <Word>{wordVersions(scope.versions)}</Word>
      <Menu.Dropdown className={styles.long}>
        <Menu.Item onClick={() => onChange({ ...scope, versions: { match: 'any' } })}>Any version</Menu.Item>
        <Menu.Divider />
        {newestFirst.map((version) => (
          <Menu.Item key={version} onClick={() => onChange({ ...scope, versions: { match: 'only', version } })}>
            {version} only
          </Menu.Item>
        ))}
        <Menu.Divider />
        {newestFirst.slice(1).map((version) => (
          <Menu.Item key={version} onClick={() => onChange({ ...scope, versions: { match: 'from', version } })}>
            {version} and later
          </Menu.Item>
        ))}
      </Menu.Dropdown>
    </Menu>
  );
}

/** A word that stands for one of a few choices. */
export function ChoiceWord<Choice extends string | number | null>({
  width,
  chosen,
  choices,
  wordOf,
  title,
  onChoose,
}: {
  width: number;
  chosen: Choice;
  choices: readonly Choice[];
  wordOf: (choice: Choice) => string;
  /** What the chosen word comes to. */
  title?: string;
  onChoose: (choice: Choice) => void;
}) {
  return (
    <Menu width={width}>
      <Word title={title}>{wordOf(chosen)}</Word>
      <Menu.Dropdown>
        {choices.map((choice) => (
          <Menu.Item key={choice} onClick={() => onChoose(choice)}>
            {capitalised(wordOf(choice))}
          </Menu.Item>
        ))}
      </Menu.Dropdown>
    </Menu>
  );
}

/** A word of a sentence that opens a menu. */
export function Word({ children, title }: { children: string; title?: string }) {
  return (
    <Menu.Target>
      <UnstyledButton className={styles.word} title={title}>
        {children}
      </UnstyledButton>
    </Menu.Target>
  );
}
