import type { DeskColumn } from '@rough-ember/core/cases/desk-columns';
import type { CaseItem, CaseList } from '@rough-ember/server/desk/case-list';
import { useVirtualizer } from '@tanstack/react-virtual';
import { type RefObject, useEffect } from 'react';
import { CaseRow } from './CaseRow';
import styles from './CaseRows.module.css';
import type { LiveCaseList } from './use-case-list';
import { usePointing } from './use-pointing';

const usualRowHeight = 74;

/** The rows of a list of any length: only those in view are drawn, and fetched. */
export function CaseRows({
  live,
  columns,
  scroller,
  selectedAt,
  isMarked,
  selected,
  hrefOf,
  onSelect,
}: {
  live: LiveCaseList;
  /** What the person wants to see of each case. */
  columns: readonly DeskColumn[];
  scroller: RefObject<HTMLElement | null>;
  /** Place of the selected case, or -1; it is scrolled to when it changes. */
  selectedAt: number;
  isMarked: (ref: string) => boolean;
  selected: string | null;
  hrefOf: (ref: string) => string;
  onSelect: (ref: string, place: number) => void;
}) {
  const { list, at, need, hold } = live;
  const pointing = usePointing(hold);
  const virtual = useVirtualizer({
    count: list.total,
    getScrollElement: () => scroller.current,
    estimateSize: () => usualRowHeight,
    overscan: 8,
    // A row follows its case, with the focus that may be in it.
    getItemKey: (index) => at(index)?.ref ?? index,
    initialRect: { width: 480, height: 700 },
    scrollMargin: 0,
  });
  const isFirstOfSection = (index: number) => {
    const item = at(index);
    return item !== undefined && (index === 0 || at(index - 1)?.news !== item.news);
  };
  const rows = virtual.getVirtualItems();
  const first = rows[0]?.index ?? 0;
  const last = rows.at(-1)?.index ?? 0;
  useEffect(() => need(first, last), [need, first, last]);
  useEffect(() => {
    if (selectedAt >= 0) virtual.scrollToIndex(selectedAt, { align: 'auto' });
  }, [selectedAt, virtual]);
  return (
    <ul className={styles.rows} style={{ height: virtual.getTotalSize() }} aria-label={`${list.total} cases`} {...pointing}>
      {rows.map(({ index, start, key }) => (
        <li
          key={key}
          ref={virtual.measureElement}
          data-index={index}
          className={styles.row}
          style={{ transform: `translateY(${start}px)` }}
          aria-setsize={list.total}
          aria-posinset={index + 1}
        >
          {list.order === 'news' && isFirstOfSection(index) && <h3 className={styles.section}>{wordSection(at(index))}</h3>}
          <RowAt item={at(index)} list={list} index={index} {...{ columns, isMarked, selected, hrefOf, onSelect }} />
        </li>
      ))}
    </ul>
  );
}

const sections = { reopened: 'Reopened', new: 'New', worse: 'Getting worse' } as const;
const wordSection = (item: CaseItem | undefined): string => (item?.news ? sections[item.news] : 'The others');

function RowAt({
  item,
  list,
  index,
  columns,
  isMarked,
  selected,
  hrefOf,
  onSelect,
}: {
  item: CaseItem | undefined;
  columns: readonly DeskColumn[];
  list: CaseList;
  index: number;
  isMarked: (ref: string) => boolean;
  selected: string | null;
  hrefOf: (ref: string) => string;
  onSelect: (ref: string, place: number) => void;
}) {
  if (!item) return <div className={styles.coming}>…</div>;
  return (
    <CaseRow
      item={item}
      versions={list.stripVersions}
      columns={columns}
      selected={item.ref === selected}
      marked={isMarked(item.ref)}
      now={list.now}
      href={hrefOf(item.ref)}
      onSelect={() => onSelect(item.ref, index)}
    />
  );
}
