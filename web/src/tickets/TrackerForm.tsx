import { Button, Checkbox, PasswordInput, Textarea, TextInput } from '@mantine/core';
import type { TrackerView } from '@rough-ember/server/tickets/tracker-settings';
import { type SubmitEvent, useState } from 'react';
import { request } from '../client/api';
import { useAttempt } from '../client/use-attempt';
import { CommandBlock } from '../shell/CommandBlock';
import { ProblemNotice } from '../shell/Notice';
import styles from './Tickets.module.css';
import { readTracker, type TrackerInput, trackerInputs } from './tracker-form';

const groups: readonly { readonly group: TrackerInput['group']; readonly title: string }[] = [
  { group: 'form', title: 'Its pages' },
  { group: 'make', title: 'To make tickets' },
  { group: 'hear', title: 'To hear what becomes of them' },
  { group: 'change', title: 'To close them, and open them again' },
];

/** How the app reaches its tracker. Whatever is left empty is not done. */
export function TrackerForm({
  appSlug,
  tracker,
  isOwner,
  onSaved,
}: {
  appSlug: string;
  tracker: TrackerView;
  isOwner: boolean;
  onSaved: () => void;
}) {
  const { settings, hasSecret, mayReachPrivate, toldAddress } = tracker;
  const [toldSecret, setToldSecret] = useState<string | null>(null);
  const [said, setSaid] = useState<string | null>(null);
  const { problem, attempt } = useAttempt();
  const save = (given: FormData, renewToldSecret: boolean) =>
    attempt(async () => {
      const secret = String(given.get('secret') ?? '');
      const body = {
        settings: readTracker(given),
        mayReachPrivate: given.get('private') !== null,
        renewToldSecret,
        ...(secret === '' ? {} : { secret }),
      };
      setSaid(null);
      const answer = await request('PUT /apps/{app}/tracker', { app: appSlug }, { body });
      setToldSecret(answer.toldSecret);
      setSaid('Saved.');
      onSaved();
    });
  const submit = (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    const button = (event.nativeEvent as unknown as { submitter: HTMLElement | null }).submitter;
    void save(new FormData(event.currentTarget), button?.dataset.renews === 'true');
  };
  return (
    <form className={styles.form} onSubmit={submit} method="post">
      {groups.map(({ group, title }) => (
        <fieldset key={group}>
          <legend>{title}</legend>
          {trackerInputs
            .filter((input) => input.group === group)
            .map((input) => (
              <TrackerField key={input.name} input={input} settings={settings} />
            ))}
          {group === 'make' && (
            <PasswordInput
              size="xs"
              name="secret"
              label="Secret that the tracker knows this server by"
              description={
                hasSecret ? 'There is one; left empty, it stays while nothing above changes.' : 'Kept encrypted, shown to nobody.'
              }
              autoComplete="off"
            />
          )}
        </fieldset>
      ))}
      <Checkbox
        size="xs"
        name="ticketFollowsCase"
        defaultChecked={settings?.ticketFollowsCase ?? false}
        label="Closing a case closes its ticket, and a case that is opened again opens it"
      />
      <Checkbox
        size="xs"
        name="caseFollowsTicket"
        defaultChecked={settings?.caseFollowsTicket ?? false}
        label="A ticket that is done closes its case, as cured in the next version"
      />
      {isOwner && (
        <Checkbox size="xs" name="private" defaultChecked={mayReachPrivate} label="The tracker lies in the network of this server" />
      )}
      <ProblemNotice problem={problem} />
      <div className={styles.actions}>
        <Button size="compact-sm" type="submit">
          Save
        </Button>
        {settings !== null && (
          <Button size="compact-sm" variant="default" type="submit" data-renews="true">
            Save, with a new secret for what it tells
          </Button>
        )}
      </div>
      {said && <p role="status">{said}</p>}
      {toldSecret !== null && (
        <div className={styles.secret} role="status">
          <p>The tracker signs what it tells with this secret; it is shown this once.</p>
          <CommandBlock command={toldSecret} />
        </div>
      )}
      <p>
        By itself it tells at <code>{toldAddress}</code>, signed as Standard Webhooks says.
      </p>
    </form>
  );
}

function TrackerField({ input, settings }: { input: TrackerInput; settings: TrackerView['settings'] }) {
  const { name, label, description, placeholder, usual, isLong, valueIn } = input;
  const value = (settings === null ? undefined : valueIn(settings)) ?? usual ?? '';
  const shown = { size: 'xs', name, label, description, placeholder, defaultValue: value } as const;
  return isLong ? <Textarea {...shown} autosize /> : <TextInput {...shown} />;
}
