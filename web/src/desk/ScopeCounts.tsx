import { reportKinds } from '@rough-ember/core/report/report-kinds';
import type { CaseList } from '@rough-ember/server/desk/case-list';
import { wordCount, wordNumber } from '../words/numbers';

/** How many reports a scope holds, of how many people. */
export function ScopeCounts({ totals, sampling }: Pick<CaseList, 'totals' | 'sampling'>) {
  const isEstimate = totals.kept < totals.reports;
  const told = [
    ...(isEstimate ? [`${wordCount(totals.kept, 'report was', 'reports were')} kept, and stand for those that were sampled out`] : []),
    ...sampling.map(wordSampling),
  ];
  return (
    <>
      {isEstimate && 'about '}
      {wordCount(totals.reports, 'report', 'reports')}
      {wordHandled(totals.byKind)} · {wordCount(totals.people, 'person', 'people')}
      {totals.waiting > 0 && ` · ${wordCount(totals.waiting, 'report', 'reports')} being read`}
      {told.length > 0 && <span title={told.join('; ')}> · {isEstimate ? `${wordNumber(totals.kept)} kept` : 'sampled'}</span>}
    </>
  );
}

/** That a key keeps only some reports: sessions and crash-free count all of them. */
const wordSampling = ({ key, kind, percent }: CaseList['sampling'][number]): string =>
  `the key "${key}" keeps ${percent} % of ${kind} reports; sessions and crash-free count all`;

/** Says how many of the reports were handled, where fatal and handled ones are counted together. */
function wordHandled(byKind: readonly number[]): string {
  const handled = byKind[reportKinds.indexOf('error')] ?? 0;
  const fatal = byKind.reduce((sum, one) => sum + one, 0) - handled;
  return handled > 0 && fatal > 0 ? `, ${wordNumber(handled)} of them handled` : '';
}
