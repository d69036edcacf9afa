import { wordAgo } from '@rough-ember/core/words/time';
import type { SessionItem } from '@rough-ember/server/stability/sessions';
import { Cut } from '../shell/Cut';
import { useTimes } from '../shell/use-times';
import { Wide } from '../shell/Wide';
import { wordCount } from '../words/numbers';
import styles from './Sessions.module.css';
import { endedWords, wordDuration } from './session-words';

/** Sessions in lines, each leading to its own page; `now` is the time of the answer. */
export function SessionTable({ sessions, now, here }: { sessions: readonly SessionItem[]; now: string; here: string }) {
  return (
    <Wide>
      <table className={styles.sessions}>
        <thead>
          <tr>
            <th scope="col">Began</th>
            <th scope="col">Ended</th>
            <th scope="col">Lasted</th>
            <th scope="col">Version</th>
            <th scope="col">System</th>
            <th scope="col">Device</th>
            <th scope="col">Country</th>
            <th scope="col">Installation</th>
          </tr>
        </thead>
        <tbody>
          {sessions.map((one) => (
            <Row key={one.id} session={one} now={now} here={here} />
          ))}
        </tbody>
      </table>
    </Wide>
  );
}

function Row({ session, now, here }: { session: SessionItem; now: string; here: string }) {
  const { wordTime } = useTimes();
  const { id, startedAt, durationMs, state, errors, version, system, device, country, installationId } = session;
  return (
    <tr>
      <th scope="row">
        <a href={`${here}/sessions/${id}`} title={wordTime(startedAt)}>
          {wordAgo(startedAt, now)}
        </a>
      </th>
      <td data-state={state}>
        {endedWords(session)}
        {errors > 0 && `, ${wordCount(errors, 'handled error', 'handled errors')}`}
      </td>
      <td>{wordDuration(durationMs)}</td>
      <td>
        <Cut text={version} width={180} />
      </td>
      <td>{system && <Cut text={system} width={180} />}</td>
      <td>{device && <Cut text={device} width={260} />}</td>
      <td>{country}</td>
      <td>
        {installationId && (
          <a href={`${here}/person?id=${installationId}`}>
            <code>{installationId.slice(0, 8)}</code>
          </a>
        )}
      </td>
    </tr>
  );
}
