import { Button } from '@mantine/core';
import type { Scope } from '@rough-ember/core/scope/scope';
import type { AppRequests, AppScreens } from '@rough-ember/server/stability/app-activity';
import type { ReactNode } from 'react';
import { addressOf } from '../client/api';
import { useAddress } from '../client/use-address';
import { type Live, useLive } from '../client/use-live';
import { RequestPanel, ScreenPanel } from '../crash-free/ActivityPanel';
import { rateOfScreen, requestLines, screenLines } from '../crash-free/activity-words';
import styles from '../crash-free/CrashFree.module.css';
import { EndsWord } from '../crash-free/EndsWord';
import { endWordsPlural } from '../crash-free/Headline';
import { Parts } from '../crash-free/Parts';
import { RequestTable } from '../crash-free/RequestTable';
import { ScreenTable } from '../crash-free/ScreenTable';
import { verdictMarks } from '../crash-free/StabilityMatrixTable';
import { type ActivityView, readActivityView, stabilityParameters, writeActivityView } from '../crash-free/stability-address';
import { ScopeSentence } from '../scope/ScopeSentence';
import { ScopeContext } from '../scope/scope-context';
import { ProblemNotice } from '../shell/Notice';
import type { PageShell } from '../shell/page-shell';
import { Shell } from '../shell/Shell';
import side from '../shell/SidePage.module.css';
import { saveCsv } from '../words/csv';
import { wordCount, wordNumber } from '../words/numbers';

export interface ScreensPageProps {
  readonly shell: PageShell;
  readonly screens: AppScreens;
  readonly requests: AppRequests;
  readonly view: ActivityView;
  /** Oldest first. */
  readonly versions: readonly string[];
}

export function ScreensPage(props: ScreensPageProps) {
  return (
    <Shell shell={props.shell} place="crash-free">
      <Screens {...props} />
    </Shell>
  );
}

/** The screens of the app and its requests: how much each is used, what goes wrong with it, and in which cases. */
function Screens({ shell, screens: firstScreens, requests: firstRequests, view: first, versions }: ScreensPageProps) {
  const [view, go] = useAddress(first, readActivityView, writeActivityView);
  const here = `/apps/${shell.app.slug}`;
  const appSlug = shell.app.slug;
  const parameters = stabilityParameters(view);
  const screens = useLive(appSlug, addressOf('GET /apps/{app}/screens', { app: appSlug }, parameters), firstScreens);
  const requests = useLive(appSlug, addressOf('GET /apps/{app}/requests', { app: appSlug }, parameters), firstRequests);
  const changeScope = (scope: Scope) => go({ ...view, scope });
  const choose = (kind: 'screen' | 'request') => (name: string) => go({ ...view, chosen: { kind, name } });
  const worst = [...screens.data.screens].sort((a, b) => (rateOfScreen(b)?.low ?? 0) - (rateOfScreen(a)?.low ?? 0))[0];
  const chosen = view.chosen ?? (worst ? { kind: 'screen' as const, name: worst.screen } : null);
  const isEmpty = screens.data.screens.length === 0 && requests.data.requests.length === 0;
  return (
    <ScopeContext value={{ scope: view.scope, appSlug, change: changeScope }}>
      <main>
        <ScopeSentence
          appSlug={appSlug}
          scope={view.scope}
          versions={versions}
          onChange={changeScope}
          subject={
            <>
              Screens by <EndsWord word={endWordsPlural} badEnds={view.badEnds} onChange={(badEnds) => go({ ...view, badEnds })} />
            </>
          }
        >
          <Parts here={here} part="screens" scope={view.scope} />
          {wordCount(screens.data.screens.length, 'screen', 'screens')} · {wordCount(screens.data.persons, 'person', 'people')}
        </ScopeSentence>
        <ProblemNotice problem={screens.problem ?? requests.problem} />
        {isEmpty ? (
          <NothingTold here={here} onAll={changeScope} scope={view.scope} />
        ) : (
          <div className={side.columns}>
            <div className={styles.work}>
              <ScreensSection
                appSlug={appSlug}
                screens={screens}
                badEnds={view.badEnds}
                chosen={chosen?.kind === 'screen' ? chosen.name : null}
                onChoose={choose('screen')}
              />
              <RequestsSection
                appSlug={appSlug}
                requests={requests}
                chosen={chosen?.kind === 'request' ? chosen.name : null}
                onChoose={choose('request')}
              />
              <Limits screens={screens.data} requests={requests.data} />
            </div>
            <aside className={side.side} aria-label="What is chosen">
              {chosen && <ChosenPanel chosen={chosen} screens={screens.data} requests={requests.data} here={here} />}
            </aside>
          </div>
        )}
      </main>
    </ScopeContext>
  );
}

interface ChosenPanelProps {
  readonly chosen: NonNullable<ActivityView['chosen']>;
  readonly screens: AppScreens;
  readonly requests: AppRequests;
  readonly here: string;
}

function ChosenPanel({ chosen: { kind, name }, screens, requests, here }: ChosenPanelProps) {
  const screen = kind === 'screen' ? screens.screens.find((one) => one.screen === name) : undefined;
  if (screen) return <ScreenPanel answer={screens} screen={screen} here={here} />;
  const request = kind === 'request' ? requests.requests.find((one) => one.request === name) : undefined;
  if (request) return <RequestPanel answer={requests} request={request} here={here} />;
  return <p>Nothing is told of {name} in this scope. Choose another line.</p>;
}

interface Choice {
  readonly appSlug: string;
  readonly chosen: string | null;
  readonly onChoose: (name: string) => void;
}

function ScreensSection({
  appSlug,
  screens: { data, stale },
  badEnds,
  chosen,
  onChoose,
}: Choice & { screens: Live<AppScreens>; badEnds: ActivityView['badEnds'] }) {
  return (
    <section aria-label="Screens of the app" aria-busy={stale}>
      <TableHead title="Screens of the app" onSave={() => saveCsv(`${appSlug}-screens.csv`, screenLines(data))}>
        a rate is ordered by its lower end · {verdictMarks.worse} {verdictMarks.better} surely worse, better than the others
      </TableHead>
      <ScreenTable answer={data} chosen={chosen} onChoose={onChoose} />
      {data.reportsElsewhere > 0 && (
        <p className={styles.faint}>
          Beside these, {wordNumber(data.reportsElsewhere)} {endWordsPlural(badEnds)} do not tell on which screen they came.
        </p>
      )}
    </section>
  );
}

function RequestsSection({ appSlug, requests: { data, stale }, chosen, onChoose }: Choice & { requests: Live<AppRequests> }) {
  return (
    <section aria-label="Requests of the app" aria-busy={stale}>
      <TableHead title="Requests, by what they ask for" onSave={() => saveCsv(`${appSlug}-requests.csv`, requestLines(data))}>
        a share is ordered by its lower end · failed: no answer, or 400 and higher
      </TableHead>
      {data.requests.length === 0 ? (
        <p className={styles.faint}>No session of the scope tells of a request.</p>
      ) : (
        <RequestTable answer={data} chosen={chosen} onChoose={onChoose} />
      )}
    </section>
  );
}

/** What the two tables leave out, estimate, or cannot narrow. */
function Limits({ screens, requests }: { screens: AppScreens; requests: AppRequests }) {
  const error = Math.max(screens.error, requests.error);
  return (
    <>
      {screens.leftOut + requests.leftOut > 0 && (
        <p className={styles.faint}>
          {wordNumber(screens.leftOut)} screens and {wordNumber(requests.leftOut)} requests with little use are left out: so many names are
          mostly ids that belong into a template.
        </p>
      )}
      {error > 0 && (
        <p className={styles.faint}>
          Visits, sessions, requests and people are counted in a sample of the people, ± {(100 * error).toFixed(2)} % in all.
        </p>
      )}
      {screens.unasked.length > 0 && (
        <p className={styles.faint}>Sessions do not tell {screens.unasked.join(', ')}; that part of the filter narrows reports alone.</p>
      )}
    </>
  );
}

/** What a table is of, what its signs mean, and its lines as a file. */
function TableHead({ title, onSave, children }: { title: string; onSave: () => void; children: ReactNode }) {
  return (
    <div className={styles.line}>
      <span>{title}</span>
      <span className={styles.faint}>
        {children}{' '}
        <Button size="compact-xs" variant="subtle" onClick={onSave}>
          CSV
        </Button>
      </span>
    </div>
  );
}

/** Where no session tells of its screens: what to do to see them. */
function NothingTold({ here, scope, onAll }: { here: string; scope: Scope; onAll: (scope: Scope) => void }) {
  const isNarrow = scope.days !== null || scope.filter !== null;
  return (
    <section className={styles.nothing}>
      <h1>No session of this scope tells of its screens or requests</h1>
      <p>
        A session item may tell which screens were shown how often, and how its requests went. The JavaScript collector does it by itself;
        the Java reporter with <code>screen(…)</code> and <code>request(…)</code>. The snippets are on <a href={`${here}/intake`}>Intake</a>
        .
      </p>
      {isNarrow && (
        <Button variant="default" onClick={() => onAll({ ...scope, days: null, versions: { match: 'any' }, filter: null })}>
          Look at all time
        </Button>
      )}
    </section>
  );
}
