import { Button } from '@mantine/core';
import type { ReceivedView } from '@rough-ember/server/alerts/stand-ins';
import { useState } from 'react';
import styles from '../alerts/Alerts.module.css';
import { wordKind } from '../alerts/ChannelForm';
import { addressOf } from '../client/api';
import { useLive } from '../client/use-live';
import { ProblemNotice } from '../shell/Notice';
import type { PageShell } from '../shell/page-shell';
import { Shell } from '../shell/Shell';
import { useTimes } from '../shell/use-times';

/** What the stand-ins of the demo took: the mails, messages and calls that would have gone out. */
export function PigeonLoftPage({ shell, received }: { shell: PageShell; received: { readonly received: readonly ReceivedView[] } }) {
  return (
    <Shell shell={shell} place="alerts">
      <Loft shell={shell} initial={received} />
    </Shell>
  );
}

function Loft({ shell, initial }: { shell: PageShell; initial: { readonly received: readonly ReceivedView[] } }) {
  const { data, problem, refresh } = useLive(shell.app.slug, addressOf('GET /stand-ins/received', {}), initial);
  return (
    <main className={styles.loft}>
      <div className={styles.head}>
        <h1>Pigeon loft</h1>
        <Button size="compact-sm" variant="default" onClick={refresh}>
          Look again
        </Button>
        <a href={`/apps/${shell.app.slug}/alerts`}>Back to the rules</a>
      </div>
      <p className={styles.faint}>
        The demo sends no mail into the world. Small servers stand in for those of others and keep what comes home: mail over SMTP,
        webhooks, chat rooms, Matrix, text messages and a ticket tracker, for all apps, the newest first.
      </p>
      <ProblemNotice problem={problem} />
      {data.received.length === 0 && <p className={styles.faint}>Nothing came yet. Send a sample by a channel, or make a crash.</p>}
      <ol className={styles.rules}>
        {data.received.map((one) => (
          <Letter key={one.number} letter={one} />
        ))}
      </ol>
    </main>
  );
}

function Letter({ letter }: { letter: ReceivedView }) {
  const { wordTime } = useTimes();
  const [isOpen, setOpen] = useState(false);
  const { way, to, at, subject, text, html, remark } = letter;
  return (
    <li className={styles.letter}>
      <div>
        <b>{subject}</b>
      </div>
      <div className={styles.faint}>
        {way === 'tracker' ? 'Ticket' : `${wordKind(way).replace(' to addresses', '')} to`} {to}, <time dateTime={at}>{wordTime(at)}</time>
        {remark !== '' && `, ${remark}`}
      </div>
      {text !== '' && (
        <div>
          <Button
            size="compact-xs"
            variant="default"
            aria-expanded={isOpen}
            aria-label={`Read: ${subject}`}
            onClick={() => setOpen(!isOpen)}
          >
            {isOpen ? 'Close' : 'Read'}
          </Button>
        </div>
      )}
      {isOpen && <pre>{linked(text)}</pre>}
      {isOpen && html !== null && <iframe title={`${subject}, as HTML`} sandbox="" srcDoc={html} />}
    </li>
  );
}

/** A text whose addresses of this server are links. */
function linked(text: string) {
  return text.split(/(https?:\/\/\S+)/).map((part, at) =>
    at % 2 === 1 ? (
      // biome-ignore lint/suspicious/noArrayIndexKey: the parts of a text do not move
      <a key={at} href={part}>
        {part}
      </a>
    ) : (
      part
    ),
  );
}
