import { wordStatus } from '@rough-ember/core/cases/case-words';
import type { DeskColumn } from '@rough-ember/core/cases/desk-columns';
import { wordAgo } from '@rough-ember/core/words/time';
import type { CaseItem, StripVersion } from '@rough-ember/server/desk/case-list';
import { wordNews } from '../case-file/status-words';
import { wordNumber, wordRate } from '../words/numbers';
import styles from './CaseRow.module.css';
import { Strip } from './Strip';
import { Trend } from './Trend';

export interface CaseRowProps {
  readonly item: CaseItem;
  readonly versions: readonly StripVersion[];
  readonly columns: readonly DeskColumn[];
  readonly selected: boolean;
  /** Taken into what is done to several cases. */
  readonly marked: boolean;
  readonly now: string;
  readonly href: string;
  readonly onSelect: () => void;
}

/** A case in the list: what and where, and of the rest what the person wants to see. */
export function CaseRow({ item, versions, columns, selected, marked, now, href, onSelect }: CaseRowProps) {
  const shows = (column: DeskColumn) => columns.includes(column);
  const figures = figuresOf(item).filter(({ column }) => shows(column));
  return (
    <div className={styles.row} data-selected={selected} data-marked={marked} data-case={item.ref}>
      <a
        className={styles.title}
        href={href}
        aria-current={selected ? 'true' : undefined}
        onClick={(event) => {
          // A plain click shows the evidence beside the list; with a modifier the browser opens the page as always.
          if (event.metaKey || event.ctrlKey || event.shiftKey || event.button !== 0) return;
          // In a narrow window there is no room beside the list.
          if (!window.matchMedia('(min-width: 861px)').matches) return;
          event.preventDefault();
          onSelect();
        }}
      >
        {marked && <span className={styles.mark}>✓ </span>}
        {item.what} <code>{item.where}</code>
      </a>
      <span className={styles.counts}>
        {figures.map(({ column, figure, unit }) => (
          <span key={column} className={styles.count}>
            <b>{figure}</b> <small>{unit}</small>
          </span>
        ))}
      </span>
      {shows('message') && <span className={styles.message}>{item.message ?? 'no message'}</span>}
      <span className={styles.foot}>
        {shows('versions') && <Strip versions={versions} reports={item.strip} />}
        {shows('trend') && <Trend trend={item.trend} />}
        <span className={styles.state}>
          {factsOf(item, now, shows).map(({ words, tone }, at) => (
            <span key={words} className={tone ? styles[tone] : undefined}>
              {at > 0 && ' · '}
              {words}
            </span>
          ))}
        </span>
      </span>
    </div>
  );
}

const figuresOf = (item: CaseItem): readonly { column: DeskColumn; figure: string; unit: string }[] => [
  { column: 'reports', figure: wordNumber(item.reports), unit: item.reports === 1 ? 'report' : 'reports' },
  { column: 'people', figure: wordNumber(item.people), unit: item.people === 1 ? 'person' : 'people' },
  ...(item.perThousand === null ? [] : [{ column: 'rate' as const, figure: wordRate(item.perThousand), unit: '/ 1,000' }]),
];

function factsOf(
  item: CaseItem,
  now: string,
  shows: (column: DeskColumn) => boolean,
): { words: string; tone?: 'status' | 'news' | 'provisional' }[] {
  const span = item.firstVersion === item.lastVersion ? item.firstVersion : `${item.firstVersion} → ${item.lastVersion}`;
  return [
    { words: item.ref },
    ...(shows('span') ? [{ words: span }] : []),
    ...(item.kind === 'crash' ? [] : [{ words: item.kind === 'error' ? 'handled' : item.kind }]),
    ...(item.state === 'open' ? [] : [{ words: wordStatus(item), tone: 'status' as const }]),
    ...(item.news !== null && item.state !== 'reopened' ? [{ words: wordNews(item), tone: 'news' as const }] : []),
    ...(item.assignee === null || !shows('assignee') ? [] : [{ words: item.assignee.split('@', 1)[0] ?? '' }]),
    ...(item.provisional ? [{ words: 'symbols missing', tone: 'provisional' as const }] : []),
    ...(shows('lastSeen') ? [{ words: wordAgo(item.lastAt, now) }] : []),
  ];
}
