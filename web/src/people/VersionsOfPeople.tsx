import { compareVersions } from '@rough-ember/core/version/version-order';
import type { PeopleOverTimeView } from '@rough-ember/server/stability/people-over-time';
import { wordCount, wordShare } from '../words/numbers';
import styles from './People.module.css';

const shownVersions = 10;

/** Which versions the people of the last days had last, and how many of those are still supported. */
export function VersionsOfPeople({ here, recent, supported }: { here: string } & Pick<PeopleOverTimeView, 'recent' | 'supported'>) {
  const newestFirst = [...recent.versions].reverse();
  const shown = newestFirst.slice(0, shownVersions);
  const rest = newestFirst.slice(shownVersions).reduce((sum, one) => sum + one.people, 0);
  const share = (people: number) => wordShare(recent.people === 0 ? 0 : people / recent.people);
  return (
    <section>
      <h2>Versions of the people of the last {recent.days} days, each by their last session</h2>
      <p className={styles.said}>
        {supported === null ? (
          <>
            Which versions are still supported is not said; an owner can, under <a href={`${here}/versions`}>Versions</a>, before a version
            goes further.
          </>
        ) : (
          <>
            <b>{share(supported.people)}</b> of {wordCount(recent.people, 'person has', 'people have')} {supported.from} or a later version,
            which are supported.
          </>
        )}
      </p>
      <ul className={styles.versions}>
        {shown.map(({ version, people }) => (
          <li key={version} data-old={supported !== null && compareVersions(version, supported.from) < 0}>
            <span>{version || 'not told'}</span>
            <span className={styles.bar}>
              <i style={{ width: share(people).replace(' ', '') }} />
            </span>
            <span>
              {share(people)} <small>{wordCount(people, 'person', 'people')}</small>
            </span>
          </li>
        ))}
        {rest > 0 && (
          <li>
            <span>earlier ones</span>
            <span className={styles.bar}>
              <i style={{ width: share(rest).replace(' ', '') }} />
            </span>
            <span>
              {share(rest)} <small>{wordCount(rest, 'person', 'people')}</small>
            </span>
          </li>
        )}
      </ul>
    </section>
  );
}
