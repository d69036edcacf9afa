import { Button, TextInput } from '@mantine/core';
import { wordAgo } from '@rough-ember/core/words/time';
import type { PersonFile, PersonMoment } from '@rough-ember/server/desk/person';
import { useState } from 'react';
import { request } from '../client/api';
import { useAttempt } from '../client/use-attempt';
import type { PageShell } from '../shell/page-shell';
import { Shell } from '../shell/Shell';
import { SidePage } from '../shell/SidePage';
import { useTimes } from '../shell/use-times';
import { wordCount } from '../words/numbers';
import styles from './PersonPage.module.css';

export interface PersonPageProps {
  readonly shell: PageShell;
  /** Null when nobody was looked for. */
  readonly person: PersonFile | null;
}

export function PersonPage(props: PersonPageProps) {
  return (
    <Shell shell={props.shell} place="cases">
      <Person {...props} />
    </Shell>
  );
}

/** What happened to somebody who says that it crashed: their sessions and reports, in order. */
function Person({ shell, person }: PersonPageProps) {
  const { problem, attempt } = useAttempt();
  const found = person !== null && person.moments.length > 0 ? person : null;
  const forget = () =>
    attempt(async () => {
      await request('DELETE /apps/{app}/person', { app: shell.app.slug }, { parameters: { id: found?.id ?? '' } });
      window.location.reload();
    });
  const side = (
    <>
      <form className={styles.find} method="get">
        <TextInput
          name="id"
          label="User id, contact or installation id"
          description="The id that the app knows its user by, or the one that it made at its first start."
          defaultValue={person?.id ?? ''}
          required
        />
        <Button type="submit" size="xs" variant="default">
          Find
        </Button>
      </form>
      {found && <KnownBy person={found} />}
      {found && shell.account.role === 'owner' && <Forget id={found.id} onForget={() => void forget()} />}
    </>
  );
  return (
    <SidePage sentence={sentenceOf(person, shell.app.name)} problem={problem} side={side} sideLabel="Find a person">
      <div className={styles.work}>
        {found && (
          <ol className={styles.moments}>
            {found.moments.map((moment) => (
              <Moment
                key={`${moment.type} ${moment.type === 'report' ? moment.reportId : moment.sessionId}`}
                moment={moment}
                now={found.now}
                appSlug={shell.app.slug}
              />
            ))}
          </ol>
        )}
        {person?.cut && <p className={styles.faint}>These are the newest; there are more.</p>}
      </div>
    </SidePage>
  );
}

/** The versions and devices that a person was seen with. */
function KnownBy({ person }: { person: PersonFile }) {
  return (
    <section>
      <h2>Known by</h2>
      <p>Versions, the newest first: {person.versions.join(', ')}.</p>
      <ul className={styles.devices}>
        {person.devices.map((device) => (
          <li key={device}>{device}</li>
        ))}
      </ul>
    </section>
  );
}

/** Deletes what is known of a person, asked about first. */
function Forget({ id, onForget }: { id: string; onForget: () => void }) {
  const [asks, setAsks] = useState(false);
  return (
    <section>
      <h2>Forget</h2>
      {asks ? (
        <>
          <p>All reports and sessions of this person go for good, and the counts of cases with them. This cannot be taken back.</p>
          <Button size="xs" color="red" variant="outline" onClick={onForget}>
            Forget {id}
          </Button>{' '}
          <Button size="xs" variant="subtle" onClick={() => setAsks(false)}>
            Keep
          </Button>
        </>
      ) : (
        <Button size="xs" variant="default" onClick={() => setAsks(true)}>
          Forget this person …
        </Button>
      )}
    </section>
  );
}

function sentenceOf(person: PersonFile | null, appName: string) {
  if (!person)
    return <>Find a person of {appName} by the id that the app gives them, the mail address or number they left, or their installation.</>;
  if (person.moments.length === 0)
    return (
      <>
        Nothing of {appName} came from <b>{person.id}</b>. The id must be whole; capital letters count.
      </>
    );
  const more = person.cut ? 'at least ' : '';
  return (
    <>
      <b>{person.id}</b> had {more}
      <b>{wordCount(person.reports, 'report', 'reports')}</b> and {more}
      {wordCount(person.sessions, 'session', 'sessions')}.
    </>
  );
}

const sessionWords = { open: 'still open', ended: 'ended', crashed: 'crashed', hung: 'hung', killed: 'was ended by the system' } as const;

function Moment({ moment, now, appSlug }: { moment: PersonMoment; now: string; appSlug: string }) {
  const { wordTime } = useTimes();
  const where = [moment.version, [moment.osName, moment.osVersion].filter(Boolean).join(' '), moment.deviceModel]
    .filter(Boolean)
    .join(' · ');
  return (
    <li data-kind={moment.type === 'report' ? moment.kind : 'session'}>
      <time dateTime={moment.at} title={wordTime(moment.at)}>
        {wordAgo(moment.at, now)}
      </time>
      <span className={styles.what}>
        {moment.type === 'session' ? (
          <>
            Session, {sessionWords[moment.state]}
            {moment.errors > 0 && `, ${wordCount(moment.errors, 'handled error', 'handled errors')}`}
          </>
        ) : (
          <a href={`/apps/${appSlug}/reports/${moment.reportId}`}>
            {moment.kind === 'error' ? 'handled error' : moment.kind}
            {moment.ref === null ? ', in no case yet' : ` ${moment.ref}: ${moment.what} in `}
            {moment.where !== null && <code>{moment.where}</code>}
          </a>
        )}
      </span>
      <span className={styles.faint}>{where}</span>
    </li>
  );
}
