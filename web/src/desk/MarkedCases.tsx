import { Button } from '@mantine/core';
import type { CaseScope } from '@rough-ember/core/scope/scope';
import type { CaseList } from '@rough-ember/server/desk/case-list';
import { CaseActions } from '../case-file/CaseActions';
import { Confirmation } from '../case-file/Confirmation';
import type { PageShell } from '../shell/page-shell';
import { wordCount, wordNumber } from '../words/numbers';
import styles from './MarkedCases.module.css';
import type { MarkedCasesHolder } from './use-marked-cases';

/** What is done to all marked cases together. */
export function MarkedCases({
  shell,
  list,
  cases,
  colleagues,
  marked,
}: {
  shell: PageShell;
  list: CaseList;
  cases: CaseScope;
  colleagues: readonly string[];
  marked: MarkedCasesHolder;
}) {
  const { refs, isWholeScope, mergeTarget } = marked;
  return (
    <section className={styles.marked} aria-label="Marked cases">
      <span>
        <b>
          {isWholeScope
            ? `All ${wordCount(list.total, 'case', 'cases')} of the scope`
            : `${wordCount(refs.length, 'case', 'cases')} marked`}
        </b>{' '}
        {!isWholeScope && list.total > refs.length && (
          <Button size="compact-xs" variant="subtle" onClick={marked.markWholeScope}>
            take all {wordNumber(list.total)}
          </Button>
        )}
        <Button size="compact-xs" variant="subtle" onClick={marked.clear}>
          none
        </Button>
      </span>
      <span className={styles.actions}>
        {mergeTarget !== null && (
          <Button size="compact-sm" variant="default" aria-keyshortcuts="g" onClick={() => marked.askMerge(true)}>
            Merge into {mergeTarget}
          </Button>
        )}
        <CaseActions
          appSlug={shell.app.slug}
          target={isWholeScope ? { scope: list.address } : { cases: refs }}
          count={isWholeScope ? list.total : refs.length}
          versions={list.stripVersions.map((one) => one.version)}
          colleagues={colleagues}
          me={shell.account.email}
          isDone={cases !== 'open'}
          assignee={null}
          hasKeys
          onDone={marked.clear}
        />
        {marked.asksMerge && (
          <Confirmation
            words={`Make ${wordCount(refs.length, 'case', 'cases')} one, ${mergeTarget}?`}
            onDo={() => void marked.merge()}
            onLeave={() => marked.askMerge(false)}
          />
        )}
      </span>
    </section>
  );
}
