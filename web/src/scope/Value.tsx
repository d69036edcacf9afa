import { Menu, UnstyledButton } from '@mantine/core';
import type { FieldName } from '@rough-ember/core/fields/fields';
import type { ReactNode } from 'react';
import { hasValue, useScope, withCondition } from './scope-context';
import styles from './Value.module.css';

/** A value that can be clicked into the scope of the screen, or out of it. */
export function Value({ field, name = '', value, children }: { field: FieldName; name?: string; value: string; children?: ReactNode }) {
  const holder = useScope();
  const shown = children ?? value;
  if (!holder) return shown;
  const condition = hasValue(field, name, value);
  const take = (isIn: boolean) => holder.change(withCondition(holder.scope, isIn ? condition : { kind: 'not', part: condition }));
  return (
    <Menu withInitialFocusPlaceholder={false} width={230} position="bottom-start">
      <Menu.Target>
        <UnstyledButton className={styles.value} title={value}>
          {shown}
        </UnstyledButton>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Item onClick={() => take(true)}>Only reports with this</Menu.Item>
        <Menu.Item onClick={() => take(false)}>Only reports without this</Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
}
