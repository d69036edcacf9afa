import { wordEvent } from '@rough-ember/core/report/trail-words';
import type { SessionFile, SessionMoment } from '@rough-ember/server/stability/sessions';
import styles from '../sessions/Sessions.module.css';
import { endedWords, wordDuration, wordOffset } from '../sessions/session-words';
import type { PageShell } from '../shell/page-shell';
import { Shell } from '../shell/Shell';
import { SidePage } from '../shell/SidePage';
import { useTimes } from '../shell/use-times';
import { wordCount, wordNumber } from '../words/numbers';

export function SessionPage({ shell, file }: { readonly shell: PageShell; readonly file: SessionFile }) {
  return (
    <Shell shell={shell} place="crash-free">
      <Session shell={shell} file={file} />
    </Shell>
  );
}

function Session({ shell, file }: { readonly shell: PageShell; readonly file: SessionFile }) {
  const { wordTime } = useTimes();
  const here = `/apps/${shell.app.slug}`;
  const { session, moments } = file;
  return (
    <SidePage
      sentence={
        <>
          A session of {session.version} on {session.device || 'a device that is not told'}, {wordTime(session.startedAt)}: it lasted{' '}
          <b>{wordDuration(session.durationMs)}</b> and <b>{wordEnd(session)}</b>.
        </>
      }
      problem={null}
      sideLabel="The session"
      side={<KnownOfIt file={file} here={here} />}
    >
      <ol className={styles.moments} aria-label="What happened">
        {moments.map((moment, at) => (
          // Two equal moments may lie at one time.
          // biome-ignore lint/suspicious/noArrayIndexKey: the list never changes its order
          <li key={`${moment.at} ${at}`} data-type={moment.type}>
            <time dateTime={moment.at} title={wordTime(moment.at)}>
              {wordOffset(moment.at, session.startedAt)}
            </time>
            <Moment moment={moment} here={here} />
          </li>
        ))}
      </ol>
    </SidePage>
  );
}

function KnownOfIt({ file, here }: { file: SessionFile; here: string }) {
  const { wordTime } = useTimes();
  const { session, hasTrail, flags, attributes } = file;
  const facts: [string, string][] = [
    ['Began', wordTime(session.startedAt)],
    ['Version', session.version],
    ['System', session.system],
    ['Device', session.device],
    ['Country', session.country],
    ...Object.entries(flags).map(([name, variant]): [string, string] => [`flag ${name}`, variant]),
    ...Object.entries(attributes).map(([name, value]): [string, string] => [name, [value].flat().map(String).join(', ')]),
  ];
  return (
    <section>
      <h2>Known of it</h2>
      <dl className={styles.facts}>
        {facts
          .filter(([, value]) => value !== '')
          .map(([name, value]) => (
            <div key={name} style={{ display: 'contents' }}>
              <dt>{name}</dt>
              <dd>{value}</dd>
            </div>
          ))}
      </dl>
      {session.installationId && (
        <p>
          <a href={`${here}/person?id=${session.installationId}`}>Everything of this installation</a>
        </p>
      )}
      {!hasTrail && <p>When something happened is told by reports. This session has none, so of that only its ends are known.</p>}
      {session.clockErrorMs !== 0 && (
        <p>
          The device’s clock said {wordTime(new Date(Date.parse(session.startedAt) + session.clockErrorMs).toISOString())}, which cannot be
          right: the times here begin with the arrival.
        </p>
      )}
      <Activity file={file} here={here} />
    </section>
  );
}

/** What it did, in numbers. */
function Activity({ file: { screens, requests }, here }: { file: SessionFile; here: string }) {
  if (screens.length + requests.length === 0) return null;
  return (
    <>
      <h2 className={styles.part}>What it did</h2>
      <dl className={styles.counts}>
        {screens.map(({ name, visits }) => (
          <div key={name} style={{ display: 'contents' }}>
            <dt>
              <a href={`${here}/screens?screen=${encodeURIComponent(name)}`}>{name}</a>
            </dt>
            <dd>{wordCount(visits, 'visit', 'visits')}</dd>
          </div>
        ))}
        {requests.map(({ method, host, path, count, failed }) => (
          <div key={`${method} ${host}${path}`} style={{ display: 'contents' }}>
            <dt>
              <code>
                {method} {host}
                {path}
              </code>
            </dt>
            <dd>
              {wordNumber(count)}
              {failed > 0 && `, ${wordNumber(failed)} failed`}
            </dd>
          </div>
        ))}
      </dl>
    </>
  );
}

/** How it ended, as a sentence goes on. */
const wordEnd = (session: SessionFile['session']): string =>
  session.state === 'open'
    ? 'is still open'
    : session.state === 'ended' || session.state === 'killed'
      ? `ended ${endedWords(session)}`
      : endedWords(session);

function Moment({ moment, here }: { moment: SessionMoment; here: string }) {
  switch (moment.type) {
    case 'start':
      return (
        <>
          <span className={styles.kind}>session</span> began
        </>
      );
    case 'end':
      return (
        <>
          <span className={styles.kind}>session</span> last heard of
        </>
      );
    case 'event':
      return (
        <>
          <span className={styles.kind}>{moment.event.kind}</span> <span>{wordEvent(moment.event)}</span>
        </>
      );
    case 'report':
      return (
        <>
          <span className={styles.kind}>{moment.kind === 'error' ? 'handled' : moment.kind}</span>
          <span>
            <a href={`${here}/reports/${moment.reportId}`}>
              {moment.ref === null ? 'a report that is in no case yet' : `${moment.ref}: ${moment.what} in ${moment.where}`}
            </a>
          </span>
        </>
      );
  }
}
