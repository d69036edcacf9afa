import { Button } from '@mantine/core';
import { parseScope, type Scope } from '@rough-ember/core/scope/scope';
import { printDay } from '@rough-ember/core/session-index/person-day';
import { wordDay } from '@rough-ember/core/words/time';
import type { PeopleOverTimeView } from '@rough-ember/server/stability/people-over-time';
import { lazy, Suspense } from 'react';
import { addressOf } from '../client/api';
import { useAddress } from '../client/use-address';
import { useLive } from '../client/use-live';
import { useSeen } from '../client/use-seen';
import crashFree from '../crash-free/CrashFree.module.css';
import { Parts } from '../crash-free/Parts';
import { search } from '../desk/desk-address';
import styles from '../people/People.module.css';
import { Retention } from '../people/Retention';
import { VersionsOfPeople } from '../people/VersionsOfPeople';
import { WeeksOfPeople } from '../people/WeeksOfPeople';
import { ScopeSentence } from '../scope/ScopeSentence';
import { ScopeContext } from '../scope/scope-context';
import { ProblemNotice } from '../shell/Notice';
import type { PageShell } from '../shell/page-shell';
import { Shell } from '../shell/Shell';
import { wordCount } from '../words/numbers';

// The chart brings a library along that the first view does without.
const CrashFreePeople = lazy(() => import('../people/CrashFreePeople'));

export interface PeopleOverTimePageProps {
  readonly shell: PageShell;
  readonly people: PeopleOverTimeView;
  /** Oldest first. */
  readonly versions: readonly string[];
}

export function PeopleOverTimePage(props: PeopleOverTimePageProps) {
  return (
    <Shell shell={props.shell} place="crash-free">
      <PeopleOverTime {...props} />
    </Shell>
  );
}

const readScope = (parameters: URLSearchParams): Scope | null => {
  const scope = parseScope(parameters);
  return scope.ok ? scope.value : null;
};

/** How the people of an app begin, stay and come back, day by day and week by week. */
function PeopleOverTime({ shell, people: initial, versions }: PeopleOverTimePageProps) {
  const [scope, changeScope] = useAddress(initial.scope, readScope, (scope: Scope) => search(scope));
  const appSlug = shell.app.slug;
  const here = `/apps/${appSlug}`;
  const address = addressOf('GET /apps/{app}/people-over-time', { app: appSlug }, search(scope));
  const { data, problem, stale } = useLive(appSlug, address, initial);
  return (
    <ScopeContext value={{ scope, appSlug, change: changeScope }}>
      <main>
        <ScopeSentence appSlug={appSlug} scope={scope} versions={versions} onChange={changeScope} subject={<b>People</b>}>
          <Parts here={here} part="people" scope={scope} />
          {wordCount(data.recent.people, 'person', 'people')} in the last {data.recent.days} days
        </ScopeSentence>
        <ProblemNotice problem={problem} />
        {data.weeks.length === 0 ? (
          <Nobody here={here} scope={scope} onAll={changeScope} />
        ) : (
          <Figures data={data} here={here} stale={stale} />
        )}
      </main>
    </ScopeContext>
  );
}

function Figures({ data, here, stale }: { data: PeopleOverTimeView; here: string; stale: boolean }) {
  const { ref, seen } = useSeen<HTMLElement>();
  return (
    <div className={styles.work} aria-busy={stale}>
      <section ref={ref}>
        <h2>People who met no crash, day by day until yesterday</h2>
        <Suspense fallback={<div className={styles.room} />}>
          {seen ? <CrashFreePeople daily={data.daily} /> : <div className={styles.room} />}
        </Suspense>
      </section>
      <section>
        <h2>Week by week, whatever the days of the scope</h2>
        <WeeksOfPeople weeks={data.weeks} />
      </section>
      <Retention
        title="Who is still there, by the version they began with"
        first="began with"
        cohorts={data.ofVersions.map(({ version, ...cohort }) => ({ name: version || 'not told', ...cohort }))}
        none="No version has 20 people who began with it in the last months."
      />
      <Retention
        title="Who is still there, by the week they began in"
        first="began in the week from"
        cohorts={data.ofWeeks.map(({ first, ...cohort }) => ({ name: wordDay(printDay(first)), ...cohort }))}
        none="Nobody began after the first week of all."
      />
      <VersionsOfPeople here={here} recent={data.recent} supported={data.supported} />
      {data.isSample && <p className={styles.faint}>A sample of one in sixteen people stands for all.</p>}
    </div>
  );
}

/** Where nobody is told of: what it takes, or a wider scope. */
function Nobody({ here, scope, onAll }: { here: string; scope: Scope; onAll: (scope: Scope) => void }) {
  const isNarrow = scope.versions.match !== 'any' || scope.filter !== null;
  return (
    <section className={crashFree.nothing}>
      <h1>Nobody of this scope had a session</h1>
      <p>
        People are told by sessions, each with the installation or the user that it is of. The snippets on{' '}
        <a href={`${here}/intake`}>Intake</a> send them.
      </p>
      {isNarrow && (
        <Button variant="default" onClick={() => onAll({ ...scope, versions: { match: 'any' }, filter: null })}>
          Look at all people
        </Button>
      )}
    </section>
  );
}
