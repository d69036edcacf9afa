import { Menu, UnstyledButton } from '@mantine/core';
import type { Answer, AnswerGroup } from '@rough-ember/core/ask/answer';
import { nameOfGroup } from '@rough-ember/core/ask/answer-words';
import { printScope } from '@rough-ember/core/scope/scope';
import type { ReactNode } from 'react';
import { useScope } from '../scope/scope-context';
import styles from './Ask.module.css';
import { scopeOfGroup, scopeWithoutGroup } from './group-scope';

interface GroupProps {
  readonly answer: Answer;
  readonly group: AnswerGroup;
}

/** What can be done with a part of an answer: into the scope, out of it, or what is behind it. */
export function GroupItems({ answer, group }: GroupProps) {
  const holder = useScope();
  if (!holder) return null;
  const narrowed = scopeOfGroup(holder.scope, answer.splits, group);
  const without = scopeWithoutGroup(holder.scope, answer.splits, group);
  const here = `/apps/${holder.appSlug}`;
  const opened = narrowed && {
    cases: `${here}/cases?${printScope({ ...narrowed, cases: 'any' })}`,
    sessions: `${here}/sessions?${printScope(narrowed)}`,
  };
  return (
    <>
      <Menu.Label className={styles.menuName}>{nameOfGroup(answer, group)}</Menu.Label>
      {group.places.length > 0 && (
        <>
          <Menu.Item disabled={narrowed === null} onClick={() => narrowed && holder.change(narrowed)}>
            Only this
          </Menu.Item>
          <Menu.Item disabled={without === null} onClick={() => without && holder.change(without)}>
            Everything but this
          </Menu.Item>
        </>
      )}
      {opened && (
        <>
          <Menu.Item component="a" href={opened.cases}>
            The cases of it
          </Menu.Item>
          <Menu.Item component="a" href={opened.sessions}>
            The sessions of it, and whose they are
          </Menu.Item>
        </>
      )}
      {narrowed === null && <Menu.Item disabled>These are several values together; ask for fewer at once</Menu.Item>}
    </>
  );
}

/** A part of an answer that opens what can be done with it. */
export function GroupMenu({
  answer,
  group,
  className,
  children,
  label,
}: GroupProps & { className?: string | undefined; children: ReactNode; label?: string | undefined }) {
  return (
    <Menu width={250} position="bottom-start" withInitialFocusPlaceholder={false}>
      <Menu.Target>
        <UnstyledButton className={className ?? styles.part} aria-label={label}>
          {children}
        </UnstyledButton>
      </Menu.Target>
      <Menu.Dropdown>
        <GroupItems answer={answer} group={group} />
      </Menu.Dropdown>
    </Menu>
  );
}

/** Where something of a drawing was pressed. */
export interface Pressed {
  readonly group: AnswerGroup;
  readonly x: number;
  readonly y: number;
}

/** The same for what has no button of its own, such as a bar: where it was pressed. */
export function PressedMenu({ answer, pressed, onClose }: { answer: Answer; pressed: Pressed | null; onClose: () => void }) {
  if (pressed === null) return null;
  return (
    <Menu opened onChange={(isOpen) => !isOpen && onClose()} width={250} position="bottom-start" withInitialFocusPlaceholder={false}>
      <Menu.Target>
        <UnstyledButton
          aria-label={nameOfGroup(answer, pressed.group)}
          className={styles.pressed}
          style={{ left: pressed.x, top: pressed.y }}
        />
      </Menu.Target>
      <Menu.Dropdown>
        <GroupItems answer={answer} group={pressed.group} />
      </Menu.Dropdown>
    </Menu>
  );
}
