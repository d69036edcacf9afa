import type { GroupingExplanation } from '@rough-ember/core/grouping/group-report';
import { skipRules } from '@rough-ember/core/grouping/skip-rules';
import type { ReportView } from '@rough-ember/server/desk/case-file';
import styles from './CaseFileView.module.css';

/** The grouping's own reasons: which exception decided, which functions were kept, and why the others were not. */
export function Explanation({ report, appSlug }: { report: ReportView; appSlug: string }) {
  const { explanation, readable } = report;
  if (!explanation) return <p className={styles.faint}>The report is not grouped yet.</p>;
  const deciding = explanation.exception === null ? null : readable.exceptions[explanation.exception];
  const thread = explanation.thread === null || explanation.thread === undefined ? null : readable.threads[explanation.thread];
  const lines = explanation.ruleLines ?? [];
  const counts = new Map<string, number>();
  for (const { rule } of explanation.skipped) counts.set(skipRules[rule], (counts.get(skipRules[rule]) ?? 0) + 1);
  return (
    <div className={styles.why}>
      {explanation.kept.length === 0 ? (
        <p>{wordBasis(explanation.basis, (explanation.ruleLines ?? []).length > 0)}</p>
      ) : (
        <>
          <p>
            Reports are in this case when{' '}
            {thread ? (
              <>
                the thread <code>{thread.name}</code>, which holds what the hung one waits for,
              </>
            ) : deciding ? (
              <code>{deciding.type}</code>
            ) : (
              'the crash'
            )}
            {deciding?.relation === 'cause' ? ', the innermost cause that our code had a part in,' : ''} came through{' '}
            {wordsOfStack[explanation.basis as keyof typeof wordsOfStack]}:
          </p>
          <ol>
            {explanation.kept.map((kept) => (
              <li key={kept.frame}>
                <code>{kept.function}</code>
              </li>
            ))}
          </ol>
        </>
      )}
      {counts.size > 0 && <p className={styles.faint}>Left out: {[...counts].map(([rule, count]) => `${count} × ${rule}`).join(', ')}.</p>}
      {(explanation.apart ?? []).length > 0 && <p>And only with {explanation.apart?.join(', ')}, as a rule of the app keeps them apart.</p>}
      <p className={styles.faint}>
        {lines.length > 0 ? `Rules of the app on line ${lines.join(', ')} had a say. ` : ''}
        Grouped by algorithm {explanation.algorithm ?? 1}. <a href={`/apps/${appSlug}/grouping`}>Rules of this app</a>
      </p>
    </div>
  );
}

const wordsOfStack = {
  'our-frames': 'these functions of ours',
  'outside-frames': 'these outside functions, since none of ours is on the stack',
  cycle: 'a stack that goes round in these functions, wherever it was cut',
} as const;

function wordBasis(basis: GroupingExplanation['basis'], byRule: boolean): string {
  if (basis === 'joined') return 'A rule of the app joins these reports, whatever their stacks.';
  if (basis === 'screen') return 'No stack and no message came with these reports, so they are grouped by the screen that was shown last.';
  return `${byRule ? 'By a rule of the app these reports' : 'No stack came with these reports, so they'} are grouped by type and message, with numbers, ids, paths and quoted parts left out.`;
}
