import { Button, Menu, TextInput } from '@mantine/core';
import type { SubmitEvent } from 'react';
import { useState } from 'react';
import caseStyles from '../case-file/CaseActions.module.css';
import { useEvidence } from '../case-file/use-evidence';
import { request } from '../client/api';
import { useAttempt } from '../client/use-attempt';
import styles from './Tickets.module.css';
import { nameTicket, wordTicket } from './ticket-words';

interface MenuProps {
  readonly appSlug: string;
  readonly refName: string;
  readonly mayAct: boolean;
}

/** The tickets of a case, and the ways to one. */
export function TicketMenu({ appSlug, refName, mayAct }: MenuProps) {
  const { answer } = useEvidence(appSlug, refName, 'tickets');
  const [ties, setTies] = useState(false);
  const { problem, attempt } = useAttempt();
  const path = { app: appSlug, ref: refName };
  const make = () => void attempt(() => request('POST /apps/{app}/cases/{ref}/tickets', path, { body: {} }));
  const tie = async (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    const number = String(new FormData(event.currentTarget).get('number')).trim();
    if (number === '') return;
    if (await attempt(() => request('POST /apps/{app}/cases/{ref}/tickets', path, { body: { number } }))) setTies(false);
  };
  const { tickets = [], makes = false, form = null } = answer ?? {};
  if (!mayAct && form === null) return null;
  const isSetUp = makes || form !== null;
  return (
    <>
      <Menu width={250} returnFocus withInitialFocusPlaceholder={false}>
        <Menu.Target>
          <Button size="compact-sm" variant="default">
            {tickets.length === 0 ? 'Ticket' : tickets.map(nameTicket).join(', ')} ▾
          </Button>
        </Menu.Target>
        <Menu.Dropdown>
          {tickets.map((one) =>
            one.page === null ? (
              <Menu.Label key={one.id}>
                {nameTicket(one)}: {wordTicket(one)}
              </Menu.Label>
            ) : (
              <Menu.Item key={one.id} component="a" href={one.page} target="_blank" rel="noreferrer">
                {nameTicket(one)} ↗ <span className={styles.faint}>{wordTicket(one)}</span>
              </Menu.Item>
            ),
          )}
          {tickets.length > 0 && <Menu.Divider />}
          {mayAct && makes && <Menu.Item onClick={make}>Make a ticket</Menu.Item>}
          {form !== null && (
            <Menu.Item component="a" href={form} target="_blank" rel="noreferrer">
              Write one in the tracker ↗
            </Menu.Item>
          )}
          {mayAct && <Menu.Item onClick={() => setTies(true)}>Tie to a ticket …</Menu.Item>}
          <Menu.Item component="a" href={`/apps/${appSlug}/tickets`}>
            {isSetUp ? 'All tickets of the app' : 'Name a ticket tracker'}
          </Menu.Item>
        </Menu.Dropdown>
      </Menu>
      {ties && (
        <form className={caseStyles.other} onSubmit={tie} method="post">
          <TextInput name="number" size="xs" aria-label="Number of the ticket" placeholder="its number" maxLength={100} data-autofocus />
          <Button size="compact-sm" variant="default" type="submit">
            Tie it
          </Button>
          <Button size="compact-sm" variant="subtle" onClick={() => setTies(false)}>
            Not now
          </Button>
        </form>
      )}
      {problem && (
        <span role="alert" className={caseStyles.problem}>
          <b>{problem.message}</b> {problem.remedy}
        </span>
      )}
    </>
  );
}
