import { Menu, UnstyledButton } from '@mantine/core';
import { parseScope, type Scope } from '@rough-ember/core/scope/scope';
import type { SessionEnd, SessionList } from '@rough-ember/server/stability/sessions';
import { addressOf } from '../client/api';
import { useAddress } from '../client/use-address';
import { useLive } from '../client/use-live';
import { Parts } from '../crash-free/Parts';
import { search } from '../desk/desk-address';
import { ScopeSentence } from '../scope/ScopeSentence';
import { ScopeContext } from '../scope/scope-context';
import styles from '../sessions/Sessions.module.css';
import { SessionTable } from '../sessions/SessionTable';
import { ProblemNotice } from '../shell/Notice';
import type { PageShell } from '../shell/page-shell';
import { Shell } from '../shell/Shell';
import { wordCount } from '../words/numbers';

export interface SessionsPageProps {
  readonly shell: PageShell;
  readonly list: SessionList;
  readonly wanted: Scope;
  readonly end: SessionEnd;
  /** Oldest first. */
  readonly versions: readonly string[];
}

const endWords: Readonly<Record<SessionEnd, string>> = {
  any: 'Sessions',
  crashed: 'Sessions that crashed',
  'crashed-at-start': 'Sessions that crashed in their first five seconds',
  hung: 'Sessions that hung',
  killed: 'Sessions that the system ended',
  errors: 'Sessions with a handled error',
  long: 'Sessions of half an hour and longer',
  short: 'Sessions shorter than ten seconds',
};

interface View {
  readonly scope: Scope;
  readonly end: SessionEnd;
}

function readView(parameters: URLSearchParams): View | null {
  const scope = parseScope(parameters);
  const end = parameters.get('end') ?? 'any';
  return scope.ok ? { scope: scope.value, end: (end in endWords ? end : 'any') as SessionEnd } : null;
}

const writeView = ({ scope, end }: View): string => search(scope, { end: end === 'any' ? null : end });

export function SessionsPage(props: SessionsPageProps) {
  return (
    <Shell shell={props.shell} place="crash-free">
      <Sessions {...props} />
    </Shell>
  );
}

/** The newest sessions of a scope, each leading to what happened in it. */
function Sessions({ shell, list: initial, wanted: firstScope, end: firstEnd, versions }: SessionsPageProps) {
  const [view, go] = useAddress({ scope: firstScope, end: firstEnd }, readView, writeView);
  const here = `/apps/${shell.app.slug}`;
  const appSlug = shell.app.slug;
  const {
    data: list,
    problem,
    stale,
  } = useLive(appSlug, addressOf('GET /apps/{app}/sessions', { app: appSlug }, writeView(view)), initial);
  const changeScope = (scope: Scope) => go({ ...view, scope });
  return (
    <ScopeContext value={{ scope: view.scope, appSlug, change: changeScope }}>
      <main>
        <ScopeSentence
          appSlug={appSlug}
          scope={view.scope}
          versions={versions}
          onChange={changeScope}
          subject={<EndMenu end={view.end} onChange={(end) => go({ ...view, end })} />}
        >
          <Parts here={here} part="sessions" scope={view.scope} />
          {list.cut ? `the newest ${list.sessions.length}` : wordCount(list.sessions.length, 'session', 'sessions')}
        </ScopeSentence>
        <ProblemNotice problem={problem} />
        {list.sessions.length === 0 ? (
          <p className={styles.nothing}>
            No such session lies in this scope. Change the words of the sentence above, or look at{' '}
            <a href={`${here}/crash-free`}>Crash-free</a>.
          </p>
        ) : (
          <div className={styles.room} aria-busy={stale}>
            <SessionTable sessions={list.sessions} now={list.now} here={here} />
          </div>
        )}
      </main>
    </ScopeContext>
  );
}

/** How the sessions of the list ended, as a word to change. */
function EndMenu({ end, onChange }: { end: SessionEnd; onChange: (end: SessionEnd) => void }) {
  return (
    <Menu width={330}>
      <Menu.Target>
        <UnstyledButton className={styles.word}>{endWords[end]}</UnstyledButton>
      </Menu.Target>
      <Menu.Dropdown>
        {Object.entries(endWords).map(([end, words]) => (
          <Menu.Item key={end} onClick={() => onChange(end as SessionEnd)}>
            {words}
          </Menu.Item>
        ))}
      </Menu.Dropdown>
    </Menu>
  );
}
