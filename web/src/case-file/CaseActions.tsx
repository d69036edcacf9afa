import { Button, Menu, TextInput } from '@mantine/core';
import type { CaseAction, Mute } from '@rough-ember/core/cases/case-status';
import { wordMute } from '@rough-ember/core/cases/case-words';
import { dayMs } from '@rough-ember/core/durations';
import { nextVersion } from '@rough-ember/core/version/version-order';
import { type ReactNode, useState } from 'react';
import { request } from '../client/api';
import { useAttempt } from '../client/use-attempt';
import { useShortcuts } from '../desk/use-shortcuts';
import { capitalised } from '../words/sentence';
import styles from './CaseActions.module.css';
import { Confirmation } from './Confirmation';
import { askAction } from './status-words';

export interface CaseActionsProps {
  readonly appSlug: string;
  /** The cases it is done to, or the scope that holds them. */
  readonly target: { readonly cases: readonly string[] } | { readonly scope: string };
  /** How many cases that are; more than one are asked about first. */
  readonly count?: number;
  /** Versions that were seen, oldest first. */
  readonly versions: readonly string[];
  readonly colleagues: readonly string[];
  /** Mail address of whoever acts. */
  readonly me: string;
  readonly isDone: boolean;
  readonly assignee: string | null;
  /** Whether the keys c, m and a open these menus. */
  readonly hasKeys: boolean;
  readonly onDone?: (changed: number) => void;
}

const mutes = (now: number, newest: string | undefined): readonly Mute[] => [
  { until: 'date', date: new Date(now + 7 * dayMs).toISOString() },
  { until: 'date', date: new Date(now + 30 * dayMs).toISOString() },
  { until: 'reports', more: 10 },
  { until: 'reports', more: 100 },
  { until: 'people', more: 10 },
  ...(newest === undefined ? [] : [{ until: 'version' as const, version: nextVersion(newest) }]),
  { until: 'further notice' },
];

/** Closes, mutes and assigns: for one case, for those that are marked, or for all of a scope. */
export function CaseActions(props: CaseActionsProps) {
  const { appSlug, target, count = 1, versions, colleagues, me, isDone, assignee, hasKeys, onDone } = props;
  const [opened, setOpened] = useState<ActionMenuName | null>(null);
  const { problem, attempt } = useAttempt();
  const [asks, setAsks] = useState(false);
  const [pending, setPending] = useState<CaseAction | null>(null);
  const toggle = (menu: ActionMenuName) => setOpened((before) => (before === menu ? null : menu));
  useShortcuts(hasKeys ? { c: () => toggle('close'), m: () => toggle('mute'), a: () => toggle('assign') } : {});

  const act = async (action: CaseAction) => {
    setOpened(null);
    setAsks(false);
    if (count > 1) setPending(action);
    else await run(action);
  };
  const run = async (action: CaseAction) => {
    setPending(null);
    await attempt(async () => {
      const { changed } = await request('POST /apps/{app}/cases/actions', { app: appSlug }, { body: { ...target, action } });
      onDone?.(changed);
    });
  };
  const closeIn = (version: string) => void act({ action: 'close', version });
  const menuOf = (name: ActionMenuName, key: string) => ({
    opened: opened === name,
    onChange: (isOpen: boolean) => setOpened(isOpen ? name : null),
    keyShortcut: hasKeys ? key : undefined,
  });
  return (
    <>
      {isDone && (
        <Button size="compact-sm" variant="default" onClick={() => void act({ action: 'open' })}>
          Open again
        </Button>
      )}
      <ActionMenu label="Close" {...menuOf('close', 'c')}>
        {curesOf(versions).map(({ version, words }) => (
          <Menu.Item key={words} onClick={() => closeIn(version)}>
            {words}
          </Menu.Item>
        ))}
        <Menu.Item onClick={() => setAsks(true)}>Another version …</Menu.Item>
      </ActionMenu>
      <ActionMenu label="Mute" {...menuOf('mute', 'm')}>
        <MuteItems newest={versions.at(-1)} onMute={(mute) => void act({ action: 'mute', mute })} />
      </ActionMenu>
      <ActionMenu label={assignee === null ? 'Assign' : assignee.split('@', 1)[0] || 'Assign'} {...menuOf('assign', 'a')}>
        <AssigneeItems {...{ me, colleagues, assignee }} onAssign={(assignee) => void act({ action: 'assign', assignee })} />
      </ActionMenu>
      {asks && <OtherVersion onClose={closeIn} onLeave={() => setAsks(false)} />}
      {pending && <Confirmation words={askAction(pending, count)} onDo={() => void run(pending)} onLeave={() => setPending(null)} />}
      {problem && (
        <span role="alert" className={styles.problem}>
          <b>{problem.message}</b> {problem.remedy}
        </span>
      )}
    </>
  );
}

function MuteItems({ newest, onMute }: { newest: string | undefined; onMute: (mute: Mute) => void }) {
  return mutes(Date.now(), newest).map((mute) => (
    <Menu.Item key={wordMute(mute)} onClick={() => onMute(mute)}>
      {capitalised(wordMute(mute))}
    </Menu.Item>
  ));
}

function AssigneeItems({
  me,
  colleagues,
  assignee,
  onAssign,
}: Pick<CaseActionsProps, 'me' | 'colleagues' | 'assignee'> & { onAssign: (assignee: string | null) => void }) {
  return (
    <>
      <Menu.Item onClick={() => onAssign(me)}>I look after it</Menu.Item>
      {colleagues
        .filter((one) => one !== me)
        .map((one) => (
          <Menu.Item key={one} onClick={() => onAssign(one)}>
            {one}
          </Menu.Item>
        ))}
      {assignee !== null && <Menu.Item onClick={() => onAssign(null)}>Nobody</Menu.Item>}
    </>
  );
}

type ActionMenuName = 'close' | 'mute' | 'assign';

/** The versions that may hold the cure, the next one first. */
function curesOf(versions: readonly string[]): { version: string; words: string }[] {
  const newest = versions.at(-1);
  const sent = [...versions].reverse().slice(0, 6);
  return [
    ...(newest === undefined ? [] : [{ version: nextVersion(newest), words: `Cured in ${nextVersion(newest)}, the next version` }]),
    ...sent.map((version) => ({ version, words: `Cured in ${version}` })),
  ];
}

function ActionMenu({
  label,
  keyShortcut,
  opened,
  onChange,
  children,
}: {
  label: string;
  keyShortcut: string | undefined;
  opened: boolean;
  onChange: (isOpen: boolean) => void;
  children: ReactNode;
}) {
  return (
    <Menu opened={opened} onChange={onChange} width={240} returnFocus withInitialFocusPlaceholder={false}>
      <Menu.Target>
        <Button size="compact-sm" variant="default" maw={220} aria-keyshortcuts={keyShortcut}>
          {label} ▾
        </Button>
      </Menu.Target>
      <Menu.Dropdown>{children}</Menu.Dropdown>
    </Menu>
  );
}

/** Asks for a version that no report has come from. */
function OtherVersion({ onClose, onLeave }: { onClose: (version: string) => void; onLeave: () => void }) {
  return (
    <form
      className={styles.other}
      onSubmit={(event) => {
        event.preventDefault();
        const version = String(new FormData(event.currentTarget).get('version')).trim();
        if (version !== '') onClose(version);
      }}
    >
      <TextInput name="version" size="xs" aria-label="Version that holds the cure" placeholder="cured in" data-autofocus />
      <Button size="compact-sm" variant="default" type="submit">
        Close
      </Button>
      <Button size="compact-sm" variant="subtle" onClick={onLeave}>
        Not now
      </Button>
    </form>
  );
}
