import { Button } from '@mantine/core';
import type { Scope } from '@rough-ember/core/scope/scope';
import type { AppRequests, AppScreens } from '@rough-ember/server/stability/app-activity';
import type { ReactNode } from 'react';
import { addressOf } from '../client/api';
import { useAddress } from '../client/use-address';
import { useLive } from '../client/use-live';
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
  const screen = chosen?.kind === 'screen' ? screens.data.screens.find((one) => one.screen === chosen.name) : undefined;
  const request = chosen?.kind === 'request' ? requests.data.requests.find((one) => one.request === chosen.name) : undefined;
  const error = Math.max(screens.data.error, requests.data.error);
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
          <NothingTold
            here={here}
            isNarrow={view.scope.days !== null || view.scope.filter !== null}
            onAll={changeScope}
            scope={view.scope}
          />
        ) : (
          <div className={side.columns}>
            <div className={styles.work}>
              <section aria-label="Screens of the app" aria-busy={screens.stale}>
                <TableHead title="Screens of the app" onSave={() => saveCsv(`${shell.app.slug}-screens.csv`, screenLines(screens.data))}>
                  a rate is ordered by its lower end · {verdictMarks.worse} {verdictMarks.better} surely worse, better than the others
                </TableHead>
                <ScreenTable answer={screens.data} chosen={chosen?.kind === 'screen' ? chosen.name : null} onChoose={choose('screen')} />
                {screens.data.reportsElsewhere > 0 && (
                  <p className={styles.faint}>
                    Beside these, {wordNumber(screens.data.reportsElsewhere)} {endWordsPlural(view.badEnds)} do not tell on which screen
                    they came.
                  </p>
                )}
              </section>
              <section aria-label="Requests of the app" aria-busy={requests.stale}>
                <TableHead
                  title="Requests, by what they ask for"
                  onSave={() => saveCsv(`${shell.app.slug}-requests.csv`, requestLines(requests.data))}
                >
                  a share is ordered by its lower end · failed: no answer, or 400 and higher
                </TableHead>
                {requests.data.requests.length === 0 ? (
                  <p className={styles.faint}>No session of the scope tells of a request.</p>
                ) : (
                  <RequestTable
                    answer={requests.data}
                    chosen={chosen?.kind === 'request' ? chosen.name : null}
                    onChoose={choose('request')}
                  />
                )}
              </section>
              {screens.data.leftOut + requests.data.leftOut > 0 && (
                <p className={styles.faint}>
                  {wordNumber(screens.data.leftOut)} screens and {wordNumber(requests.data.leftOut)} requests with little use are left out:
                  so many names are mostly ids that belong into a template.
                </p>
              )}
              {error > 0 && (
                <p className={styles.faint}>
                  Visits, sessions, requests and people are counted in a sample of the people, ± {(100 * error).toFixed(2)} % in all.
                </p>
              )}
              {screens.data.unasked.length > 0 && (
                <p className={styles.faint}>
                  Sessions do not tell {screens.data.unasked.join(', ')}; that part of the filter narrows reports alone.
                </p>
              )}
            </div>
            <aside className={side.side} aria-label="What is chosen">
              {screen && <ScreenPanel answer={screens.data} screen={screen} here={here} />}
              {request && <RequestPanel answer={requests.data} request={request} here={here} />}
              {!screen && !request && chosen && <p>Nothing is told of {chosen.name} in this scope. Choose another line.</p>}
            </aside>
          </div>
        )}
      </main>
    </ScopeContext>
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
function NothingTold({ here, scope, isNarrow, onAll }: { here: string; scope: Scope; isNarrow: boolean; onAll: (scope: Scope) => void }) {
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
