import { Button } from '@mantine/core';
import { type Scope, wordCases } from '@rough-ember/core/scope/scope';
import type { CaseList } from '@rough-ember/server/desk/case-list';
import type { PageShell } from '../shell/page-shell';
import { wordCount } from '../words/numbers';
import styles from './NoCases.module.css';

/** Why a list is empty: no report lies in the scope, or only those of cases in another state. */
export const wordNoCases = (scope: Scope, { totals }: Pick<CaseList, 'totals'>): string =>
  totals.reports > 0 ? `No ${wordCases(scope.cases).replace('cases', 'case')} in this scope` : 'No report lies in this scope';

/** In place of an empty list: why it is empty, and what to do. */
export function NoCases({ shell, scope, list, onWiden }: { shell: PageShell; scope: Scope; list: CaseList; onWiden: () => void }) {
  const { totals, versions } = list;
  if (versions.length === 0)
    return (
      <section className={styles.nothing}>
        <h1>No report of {shell.app.name} has arrived yet</h1>
        <p>
          Send one from the app, or hand over a stack trace by hand. The key and a command to copy are on{' '}
          <a href={`/apps/${shell.app.slug}/intake`}>Intake</a>, and so is every request that was refused, with its reason. This page shows
          the first report by itself.
        </p>
      </section>
    );
  return (
    <section className={styles.nothing}>
      <h1>{wordNoCases(scope, list)}</h1>
      <p>
        {totals.reports > 0 && `The ${wordCount(totals.reports, 'report', 'reports')} in it are of cases in another state. `}
        {shell.app.name} sent reports in {versions.slice(-8).reverse().join(', ')}
        {versions.length > 8 ? ' and older versions' : ''}. Change the words of the sentence above, or
      </p>
      <Button variant="default" onClick={onWiden}>
        Look at everything
      </Button>
    </section>
  );
}
