import { Menu, UnstyledButton } from '@mantine/core';
import { reportKinds } from '@rough-ember/core/report/report-kinds';
import {
  assigneeScopes,
  beginOfWindow,
  buildScopes,
  caseScopes,
  type Scope,
  scopeDays,
  wordAssignee,
  wordBuilds,
  wordCases,
  wordDays,
  wordKinds,
  wordVersions,
  wordWindow,
} from '@rough-ember/core/scope/scope';
import { type ReactNode, useState } from 'react';
import { useShortcuts } from '../desk/use-shortcuts';
import { useTimes } from '../shell/use-times';
import { capitalised } from '../words/sentence';
import { Conditions } from './Conditions';
import { FilterForm } from './FilterForm';
import styles from './ScopeSentence.module.css';
import { Views } from './Views';

interface ScopeSentenceProps {
  /** Address of the app in the API. */
  readonly appSlug: string;
  readonly scope: Scope;
  /** Oldest first. */
  readonly versions: readonly string[];
  readonly onChange: (scope: Scope) => void;
  /** Whether it also says which cases a list shows. */
  readonly choosesCases?: boolean;
  /** Whether the scope can be kept as a view. */
  readonly mayKeep?: boolean;
  /** What the sentence is about, where it is not reports of some kinds. */
  readonly subject?: ReactNode;
  /** What the scope holds, at the right. */
  readonly children?: ReactNode;
}

/** The filter of the screen as a sentence whose words are its controls. */
export function ScopeSentence(props: ScopeSentenceProps) {
  const { appSlug, scope, versions, onChange, choosesCases = false, mayKeep = false, subject, children } = props;
  const windowWords = useWindowWords(scope.days);
  const [writes, setWrites] = useState(false);
  useShortcuts({ '/': () => setWrites(true) });
  return (
    <search className={styles.scope} aria-label="Scope">
      {subject ?? <KindsWord scope={scope} onChange={onChange} />}
      of
      <ChoiceWord
        width={200}
        chosen={scope.builds}
        choices={buildScopes}
        wordOf={wordBuilds}
        onChoose={(builds) => onChange({ ...scope, builds })}
      />
      in
      <VersionsWord scope={scope} versions={versions} onChange={onChange} />
      <span className={styles.comma}>,</span>
      <ChoiceWord
        width={180}
        chosen={scope.days}
        choices={[...scopeDays, null]}
        wordOf={wordDays}
        title={windowWords}
        onChoose={(days) => onChange({ ...scope, days })}
      />
      {choosesCases && (
        <>
          <span className={styles.comma}>:</span>
          <ChoiceWord
            width={200}
            chosen={scope.cases}
            choices={caseScopes}
            wordOf={wordCases}
            onChoose={(cases) => onChange({ ...scope, cases })}
          />
          <span className={styles.comma}>,</span>
          <ChoiceWord
            width={220}
            chosen={scope.assignee}
            choices={[...assigneeScopes, ...(assigneeScopes.some((one) => one === scope.assignee) ? [] : [scope.assignee])]}
            wordOf={wordAssignee}
            title="who looks after them"
            onChoose={(assignee) => onChange({ ...scope, assignee })}
          />
        </>
      )}
      {!writes && <Conditions appSlug={appSlug} scope={scope} onChange={onChange} onWrite={() => setWrites(true)} />}
      <span className={styles.holds}>
        {children}
        {choosesCases && ' · '}
        {choosesCases && <Views appSlug={appSlug} scope={scope} mayKeep={mayKeep} />}
      </span>
      {writes && (
        <FilterForm
          appSlug={appSlug}
          scope={scope}
          onDone={(filter) => {
            setWrites(false);
            onChange({ ...scope, filter });
          }}
          onLeave={() => setWrites(false)}
        />
      )}
    </search>
  );
}

/** The days of a window, and where a day of UTC begins by the clock of whoever reads. */
function useWindowWords(days: Scope['days']): string {
  const { zone, wordTime } = useTimes();
  const now = Date.now();
  const words = wordWindow(days, now);
  return days === null || zone === 'UTC' ? words : `${words}: since ${wordTime(new Date(beginOfWindow(days, now)).toISOString())}`;
}

interface PartProps {
  readonly scope: Scope;
  readonly onChange: (scope: Scope) => void;
}

/** The kinds of reports; at least one. */
function KindsWord({ scope, onChange }: PartProps) {
  const toggle = (kind: (typeof reportKinds)[number]) => {
    const kinds = reportKinds.filter((one) => (one === kind) !== scope.kinds.includes(one));
    if (kinds.length > 0) onChange({ ...scope, kinds });
  };
  return (
    <Menu width={220}>
      <Word>{wordKinds(scope.kinds)}</Word>
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
function VersionsWord({ scope, versions, onChange }: PartProps & { versions: readonly string[] }) {
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
function ChoiceWord<Choice extends string | number | null>({
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

function Word({ children, title }: { children: string; title?: string }) {
  return (
    <Menu.Target>
      <UnstyledButton className={styles.word} title={title}>
        {children}
      </UnstyledButton>
    </Menu.Target>
  );
}
