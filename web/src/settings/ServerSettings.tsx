import { wordAgo } from '@rough-ember/core/words/time';
import type { ServerSettingsView } from '@rough-ember/server/app-settings/server-settings';
import { wordBytes, wordCount, wordNumber } from '../words/numbers';
import styles from './Settings.module.css';

/** How the server is set up, for owners: its environment says it, and takes effect at the next start. */
export function ServerSettings({ server }: { server: ServerSettingsView }) {
  const {
    version,
    schema,
    address,
    sendsMail,
    trustedProxies,
    batchLimitBytes,
    dataFolder,
    apps,
    accounts,
    tables,
    symbolFilesBytes,
    backups,
    now,
  } = server;
  const all = tables.reduce((sum, { bytes }) => sum + bytes, 0);
  return (
    <section aria-label="The server">
      <h2>The server</h2>
      <p className={styles.costs}>Set by its environment, as the README lists it; what is changed there holds from the next start on.</p>
      <dl className={styles.lines}>
        <dt>Version</dt>
        <dd>
          {version}, schema {schema}
        </dd>
        <dt>
          Address, <code>EMBER_PUBLIC_URL</code>
        </dt>
        <dd>{address}</dd>
        <dt>
          Mail, <code>EMBER_SMTP_URL</code>
        </dt>
        <dd>{sendsMail ? 'leaves' : 'does not leave: nobody is told by mail'}</dd>
        <dt>
          Proxies, <code>EMBER_TRUSTED_PROXIES</code>
        </dt>
        <dd>{trustedProxies.join(', ') || 'none is trusted with the address of a sender'}</dd>
        <dt>Largest batch</dt>
        <dd>{wordBytes(batchLimitBytes)}</dd>
        <dt>
          People and apps, <a href="/people">People</a>
        </dt>
        <dd>
          {wordCount(accounts, 'account', 'accounts')}, {wordCount(apps, 'app', 'apps')}
        </dd>
        <dt>
          Data, <code>EMBER_DATA_DIR</code>
        </dt>
        <dd>
          {dataFolder}: database {wordBytes(all)}, symbol files with their indexes {wordBytes(symbolFilesBytes)}
        </dd>
        <dt>
          Backups, <code>EMBER_BACKUP_DIR</code>
        </dt>
        <dd>
          <Backups backups={backups} now={now} />
        </dd>
      </dl>
      <table className={styles.sizes}>
        <thead>
          <tr>
            <th scope="col">table</th>
            <th scope="col">rows, about</th>
            <th scope="col">on disk</th>
          </tr>
        </thead>
        <tbody>
          {tables.map(({ table, rows, bytes }) => (
            <tr key={table}>
              <th scope="row">{table}</th>
              <td>{wordNumber(rows)}</td>
              <td>{wordBytes(bytes)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** When the last whole backup was made, and what is the matter where that is long ago. */
function Backups({ backups: { folder, everyHours, lastGood, problem }, now }: { backups: ServerSettingsView['backups']; now: string }) {
  return (
    <>
      {lastGood === null ? (
        <b>none was made yet</b>
      ) : (
        <>
          the last {wordAgo(lastGood.at, now)}: {lastGood.folder}/{lastGood.name}, {wordBytes(lastGood.bytes)} of it new
        </>
      )}
      {problem !== null && (
        <>
          {' '}
          · <b>the last try failed: {problem}</b>
        </>
      )}
      <span className={styles.costs}>
        {folder === null
          ? 'None are made by themselves: name a folder, or run npm run backup -- <folder>.'
          : `Made by themselves every ${wordCount(everyHours ?? 24, 'hour', 'hours')} into ${folder}.`}
      </span>
    </>
  );
}
