import { Button } from '@mantine/core';
import { wordAgo } from '@rough-ember/core/words/time';
import type { TicketList } from '@rough-ember/server/tickets/ticket-views';
import type { TrackerView } from '@rough-ember/server/tickets/tracker-settings';
import { addressOf, request } from '../client/api';
import { type Attempt, useAttempt } from '../client/use-attempt';
import { useLive } from '../client/use-live';
import type { PageShell } from '../shell/page-shell';
import { Shell } from '../shell/Shell';
import { SidePage } from '../shell/SidePage';
import styles from '../tickets/Tickets.module.css';
import { TrackerForm } from '../tickets/TrackerForm';
import { nameTicket, wordTicket } from '../tickets/ticket-words';
import { wordCount, wordNumber } from '../words/numbers';

export interface TicketsPageProps {
  readonly shell: PageShell;
  readonly list: TicketList;
  readonly tracker: TrackerView;
}

export function TicketsPage(props: TicketsPageProps) {
  return (
    <Shell shell={props.shell} place="cases">
      <Tickets {...props} />
    </Shell>
  );
}

/** The tickets of an app, and how it reaches its tracker. */
function Tickets({ shell, list: initial, tracker: initialTracker }: TicketsPageProps) {
  const path = { app: shell.app.slug };
  const { data: list, problem: listProblem, refresh } = useLive(shell.app.slug, addressOf('GET /apps/{app}/tickets', path), initial);
  const { data: tracker } = useLive(shell.app.slug, addressOf('GET /apps/{app}/tracker', path), initialTracker);
  const { problem, attempt } = useAttempt();
  const mayAct = shell.account.role !== 'viewer';
  const open = list.tickets.filter((one) => !one.isDone).length;
  return (
    <SidePage
      sentence={
        list.tickets.length === 0 ? (
          <>No case of {shell.app.name} has a ticket. One is made, or tied, under Ticket on the case.</>
        ) : (
          <>
            <b>{wordCount(open, 'ticket', 'tickets')}</b> of {shell.app.name} {open === 1 ? 'is' : 'are'} not done
            {list.tickets.length > open &&
              `, ${wordNumber(list.tickets.length - open)} more ${list.tickets.length - open === 1 ? 'is' : 'are'}`}
            .
          </>
        )
      }
      problem={problem ?? listProblem}
      sideLabel="The tracker"
      side={
        <section>
          <h2>The ticket tracker</h2>
          {mayAct ? (
            <TrackerForm appSlug={shell.app.slug} tracker={tracker} isOwner={shell.account.role === 'owner'} onSaved={refresh} />
          ) : (
            <p>{tracker.settings === null ? 'None is named.' : `Named by ${tracker.changedBy}.`}</p>
          )}
        </section>
      }
    >
      <div className={styles.work}>
        <ul className={styles.tickets} aria-label="Tickets">
          {list.tickets.map((ticket) => (
            <TicketRow key={ticket.id} appSlug={shell.app.slug} ticket={ticket} now={list.now} onAttempt={mayAct ? attempt : null} />
          ))}
        </ul>
      </div>
    </SidePage>
  );
}

function TicketRow({
  appSlug,
  ticket,
  now,
  onAttempt,
}: {
  appSlug: string;
  ticket: TicketList['tickets'][number];
  now: string;
  onAttempt: Attempt | null;
}) {
  const { id, page, ref, what, where, caseState, madeBy, madeAt } = ticket;
  const name = nameTicket(ticket);
  const path = { app: appSlug, id: String(id) };
  return (
    <li className={styles.ticket}>
      <span>
        {page === null ? (
          <b>{name}</b>
        ) : (
          <a href={page} target="_blank" rel="noreferrer">
            {name} ↗
          </a>
        )}
      </span>
      <div>
        <a href={`/apps/${appSlug}/cases/${ref}?last=all`}>
          {ref} {what} <code>{where}</code>
        </a>
        <div>
          {wordTicket(ticket)}
          <span className={styles.faint}>
            {' '}
            · the case is {caseState} · by {madeBy}, {wordAgo(madeAt, now)}
          </span>
        </div>
      </div>
      {onAttempt && (
        <span className={styles.actions}>
          <Button
            size="compact-xs"
            variant="default"
            aria-label={`Ask the tracker about ${name} of ${ref}`}
            onClick={() => void onAttempt(() => request('POST /apps/{app}/tickets/{id}/ask', path))}
          >
            {ticket.number === null ? 'Try again' : 'Ask now'}
          </Button>
          <Button
            size="compact-xs"
            variant="subtle"
            aria-label={`Untie ${name} from ${ref}`}
            onClick={() => void onAttempt(() => request('DELETE /apps/{app}/tickets/{id}', path))}
          >
            Untie
          </Button>
        </span>
      )}
    </li>
  );
}
