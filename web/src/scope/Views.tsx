import { Button, Checkbox, Menu, TextInput, UnstyledButton } from '@mantine/core';
import { printScope, type Scope } from '@rough-ember/core/scope/scope';
import { type SubmitEvent, useState } from 'react';
import { addressOf, request } from '../client/api';
import { useAnswer } from '../client/use-answer';
import { useAttempt } from '../client/use-attempt';
import styles from './ScopeSentence.module.css';

/** Asks for the name of a view, and whom it is for. */
function KeepView({ onKeep, onLeave }: { onKeep: (name: string, forTeam: boolean) => void; onLeave: () => void }) {
  const keep = (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    onKeep(String(form.get('name')), form.get('forTeam') === 'on');
  };
  return (
    <form className={styles.keep} onSubmit={keep}>
      <TextInput name="name" size="xs" aria-label="Name of the view" placeholder="name" required maxLength={100} autoFocus />
      <Checkbox name="forTeam" size="xs" label="for the team" />
      <Button type="submit" size="compact-sm">
        Keep
      </Button>
      <Button size="compact-sm" variant="subtle" onClick={onLeave}>
        Leave
      </Button>
    </form>
  );
}

/** Scopes kept under a name: chosen, kept, dropped. */
export function Views({ appSlug, scope, mayKeep }: { appSlug: string; scope: Scope; mayKeep: boolean }) {
  const [opened, setOpened] = useState(false);
  const [keeps, setKeeps] = useState(false);
  const [turn, setTurn] = useState(0);
  const { problem, attempt } = useAttempt();
  const { answer: views } = useAnswer(opened || turn > 0 ? addressOf('GET /apps/{app}/views', { app: appSlug }) : null, { turn });
  const run = async (ask: () => Promise<unknown>) => {
    if (!(await attempt(ask))) return;
    setTurn(turn + 1);
    setKeeps(false);
  };
  const keep = (name: string, forTeam: boolean) =>
    void run(() => request('POST /apps/{app}/views', { app: appSlug }, { body: { name, scope: printScope(scope), forTeam } }));
  const drop = (id: number) => void run(() => request('DELETE /apps/{app}/views/{id}', { app: appSlug, id: String(id) }));
  const current = views?.find((view) => view.address === printScope(scope));
  return (
    <>
      <Menu width={260} opened={opened} onChange={setOpened} withInitialFocusPlaceholder={false} position="bottom-end">
        <Menu.Target>
          <UnstyledButton className={styles.add}>{current ? current.name : 'Views'} ▾</UnstyledButton>
        </Menu.Target>
        <Menu.Dropdown className={styles.long}>
          {views?.length === 0 && <Menu.Item disabled>No view was kept yet</Menu.Item>}
          {views?.map((view) => (
            <Menu.Item
              key={view.id}
              component="a"
              href={`?${view.address}`}
              rightSection={<span className={styles.count}>{view.forTeam ? 'team' : 'yours'}</span>}
            >
              {view.name}
            </Menu.Item>
          ))}
          {mayKeep && (
            <>
              <Menu.Divider />
              <Menu.Item onClick={() => setKeeps(true)}>Keep this scope as a view …</Menu.Item>
              {current && <Menu.Item onClick={() => drop(current.id)}>Drop “{current.name}”</Menu.Item>}
            </>
          )}
        </Menu.Dropdown>
      </Menu>
      {keeps && <KeepView onKeep={keep} onLeave={() => setKeeps(false)} />}
      {problem && (
        <span role="alert" className={styles.problem}>
          <b>{problem.message}</b> {problem.remedy}
        </span>
      )}
    </>
  );
}
