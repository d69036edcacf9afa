import { Menu, UnstyledButton } from '@mantine/core';
import { type CaseOrder, caseOrders, wordCaseOrder } from '@rough-ember/core/cases/case-order';
import type { DeskColumn } from '@rough-ember/core/cases/desk-columns';
import { wordCount } from '../words/numbers';
import { capitalised } from '../words/sentence';
import styles from './CaseListTitle.module.css';
import { ColumnsMenu } from './ColumnsMenu';

/** How many cases a list has, in which order, with what of each. */
export function CaseListTitle({
  total,
  order,
  columns,
  onOrder,
  onColumns,
}: {
  total: number;
  order: CaseOrder;
  columns: readonly DeskColumn[];
  onOrder: (order: CaseOrder) => void;
  onColumns: (columns: readonly DeskColumn[]) => void;
}) {
  return (
    <h2 className={styles.title}>
      <span>
        {wordCount(total, 'case', 'cases')},{' '}
        <Menu width={200} withInitialFocusPlaceholder={false}>
          <Menu.Target>
            <UnstyledButton className={styles.order}>{wordCaseOrder(order)}</UnstyledButton>
          </Menu.Target>
          <Menu.Dropdown>
            {caseOrders.map((one) => (
              <Menu.Item key={one} onClick={() => onOrder(one)}>
                {capitalised(wordCaseOrder(one))}
              </Menu.Item>
            ))}
          </Menu.Dropdown>
        </Menu>
      </span>
      <ColumnsMenu columns={columns} onChange={onColumns} />
      <span className={styles.keys}>
        <kbd>j</kbd> <kbd>k</kbd> move · <kbd>o</kbd> open · <kbd>?</kbd> keys
      </span>
    </h2>
  );
}
