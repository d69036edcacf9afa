import type { CaseItem, StripVersion } from '@rough-ember/server/desk/case-list';
import { wordStanding } from '../case-file/standing-words';
import { wordNumber } from '../words/numbers';
import { wordAgo } from '../words/time';
import styles from './CaseRow.module.css';
import { Strip } from './Strip';
import { Trend } from './Trend';

export interface CaseRowProps {
  readonly item: CaseItem;
  readonly versions: readonly StripVersion[];
  readonly selected: boolean;
  /** Taken into what is done to several cases. */
  readonly marked: boolean;
  readonly now: string;
  readonly href: string;
  readonly onSelect: () => void;
}

/** A case in the list: what and where, how many, which versions, how it moves, and its state in words. */
export function CaseRow({ item, versions, selected, marked, now, href, onSelect }: CaseRowProps) {
  const span = item.firstVersion === item.lastVersion ? item.firstVersion : `${item.firstVersion} → ${item.lastVersion}`;
  return (
    <li className={styles.row} data-selected={selected} data-marked={marked} data-case={item.ref}>
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
      <span className={styles.count}>
        <b>{wordNumber(item.reports)}</b> <small>{item.reports === 1 ? 'report' : 'reports'}</small>
      </span>
      <span className={styles.message}>{item.message ?? 'no message'}</span>
      <span className={styles.count}>
        {wordNumber(item.people)} <small>{item.people === 1 ? 'person' : 'people'}</small>
      </span>
      <span className={styles.foot}>
        <Strip versions={versions} reports={item.strip} />
        <Trend trend={item.trend} />
        <span className={styles.state}>
          {item.ref} · {span}
          {item.kind === 'crash' ? '' : ` · ${item.kind === 'error' ? 'handled' : item.kind}`}
          {item.state === 'open' ? '' : <b> · {wordStanding(item)}</b>}
          {item.assignee === null ? '' : ` · ${item.assignee.split('@', 1)[0]}`}
          {item.provisional ? <b className={styles.provisional}> · symbols missing</b> : ''} · {wordAgo(item.lastAt, now)}
        </span>
      </span>
    </li>
  );
}
