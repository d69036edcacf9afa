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
  wordWindow,
} from '@rough-ember/core/scope/scope';
import { type ReactNode, useState } from 'react';
import { useShortcuts } from '../desk/use-shortcuts';
import { useTimes } from '../shell/use-times';
import { Conditions } from './Conditions';
import { FilterForm } from './FilterForm';
import styles from './ScopeSentence.module.css';
import { ChoiceWord, KindsWord, VersionsWord } from './ScopeWords';
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
