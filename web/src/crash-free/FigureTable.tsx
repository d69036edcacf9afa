import { UnstyledButton } from '@mantine/core';
import { type ReactNode, useState } from 'react';
import { Wide } from '../shell/Wide';
import { wordNumber } from '../words/numbers';
import styles from './CrashFree.module.css';
import { SortButton } from './StabilityMatrixTable';

/** A column of a table of figures: what it shows of a line, and what its lines are ordered by. */
export interface FigureColumn<Line> {
  readonly name: string;
  readonly show: (line: Line) => ReactNode;
  /** The highest first; null for a column that orders nothing. */
  readonly weigh: ((line: Line) => number) | null;
}

const shownAtFirst = 12;
const mostShown = 200;

interface FigureTableProps<Line> {
  /** What a line is. */
  readonly label: string;
  readonly nameOf: (line: Line) => string;
  readonly showName: (line: Line) => ReactNode;
  readonly columns: readonly FigureColumn<Line>[];
  readonly lines: readonly Line[];
  /** The column that orders at first. */
  readonly first: string;
  readonly chosen: string | null;
  readonly onChoose: (name: string) => void;
}

/** Lines of figures that can be ordered by their columns and chosen; a long table shows its first lines until more are asked for. */
export function FigureTable<Line>(props: FigureTableProps<Line>) {
  const { label, nameOf, columns, lines, first } = props;
  const [order, setOrder] = useState(first);
  const [isOpen, setOpen] = useState(false);
  const weigh = columns.find((one) => one.name === order)?.weigh;
  const sorted = weigh ? [...lines].sort((a, b) => weigh(b) - weigh(a)) : [...lines].sort((a, b) => (nameOf(a) < nameOf(b) ? -1 : 1));
  const shown = sorted.slice(0, isOpen ? mostShown : shownAtFirst);
  return (
    <Wide>
      <table className={styles.versions}>
        <thead>
          <tr>
            <th scope="col" aria-sort={weigh ? undefined : 'ascending'}>
              <SortButton label={label} isSorted={!weigh} onSort={() => setOrder('')} />
            </th>
            {columns.map((column) => (
              <th key={column.name} scope="col" aria-sort={order === column.name ? 'descending' : undefined}>
                {column.weigh ? (
                  <SortButton label={column.name} isSorted={order === column.name} onSort={() => setOrder(column.name)} />
                ) : (
                  column.name
                )}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {shown.map((line) => (
            <FigureRow key={nameOf(line)} line={line} {...props} />
          ))}
        </tbody>
      </table>
      {lines.length > shown.length && (
        <p className={styles.faint}>
          {isOpen ? (
            `${wordNumber(shown.length)} of ${wordNumber(lines.length)} lines; the CSV file has them all.`
          ) : (
            <UnstyledButton className={styles.open} onClick={() => setOpen(true)}>
              {wordNumber(lines.length - shown.length)} more
            </UnstyledButton>
          )}
        </p>
      )}
    </Wide>
  );
}

function FigureRow<Line>({ line, nameOf, showName, columns, chosen, onChoose }: FigureTableProps<Line> & { line: Line }) {
  const name = nameOf(line);
  return (
    <tr data-chosen={chosen === name}>
      <th scope="row">
        <UnstyledButton className={styles.open} aria-pressed={chosen === name} title={name} onClick={() => onChoose(name)}>
          {showName(line)}
        </UnstyledButton>
      </th>
      {columns.map((column) => (
        <td key={column.name}>{column.show(line)}</td>
      ))}
    </tr>
  );
}
