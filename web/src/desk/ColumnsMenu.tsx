import { Menu, UnstyledButton } from '@mantine/core';
import { type DeskColumn, deskColumnNames, deskColumns } from '@rough-ember/core/cases/desk-columns';
import { useRef } from 'react';
import { request } from '../client/api';
import { capitalised } from '../words/sentence';
import styles from './CaseListTitle.module.css';

/** What each row shows, chosen by whoever looks and kept with their account. */
export function ColumnsMenu({ columns, onChange }: { columns: readonly DeskColumn[]; onChange: (columns: readonly DeskColumn[]) => void }) {
  // One after the other, so that what was chosen last is what is kept.
  const saved = useRef<Promise<unknown>>(Promise.resolve());
  const toggle = (column: DeskColumn) => {
    const next = deskColumnNames.filter((one) => (one === column ? !columns.includes(one) : columns.includes(one)));
    onChange(next);
    // A choice that cannot be kept still holds on this page.
    saved.current = saved.current.then(() => request('PUT /account/desk-columns', {}, { body: { columns: [...next] } })).catch(() => {});
  };
  return (
    <Menu width={230} withInitialFocusPlaceholder={false}>
      <Menu.Target>
        <UnstyledButton className={styles.order}>columns</UnstyledButton>
      </Menu.Target>
      <Menu.Dropdown>
        {deskColumnNames.map((column) => (
          <Menu.CheckboxItem key={column} checked={columns.includes(column)} onChange={() => toggle(column)}>
            {capitalised(deskColumns[column])}
          </Menu.CheckboxItem>
        ))}
      </Menu.Dropdown>
    </Menu>
  );
}
