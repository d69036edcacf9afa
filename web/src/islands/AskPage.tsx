import { Button } from '@mantine/core';
import type { Answer } from '@rough-ember/core/ask/answer';
import { sayAnswer } from '@rough-ember/core/ask/answer-words';
import { hasColours } from '@rough-ember/core/ask/charts';
import { exampleSheets } from '@rough-ember/core/ask/example-sheets';
import { asksReports } from '@rough-ember/core/ask/measures';
import { parseQuestion } from '@rough-ember/core/ask/question';
import { parseScope, type Scope } from '@rough-ember/core/scope/scope';
import { AnswerChart } from '../ask/AnswerChart';
import { AnswerNotes } from '../ask/AnswerNotes';
import { AnswerTable } from '../ask/AnswerTable';
import styles from '../ask/Ask.module.css';
import { type AskView, askAddress, askParameters, readAskView, writeAskView } from '../ask/ask-address';
import { KeepMenu } from '../ask/KeepMenu';
import { QuestionSentence } from '../ask/QuestionSentence';
import { SaveAnswer } from '../ask/SaveAnswer';
import { seriesOf } from '../ask/series';
import { addressOf } from '../client/api';
import { useAddress } from '../client/use-address';
import { useLive } from '../client/use-live';
import { ScopeSentence } from '../scope/ScopeSentence';
import { ScopeContext } from '../scope/scope-context';
import { ProblemNotice } from '../shell/Notice';
import type { PageShell } from '../shell/page-shell';
import { Shell } from '../shell/Shell';

export interface AskPageProps {
  readonly shell: PageShell;
  readonly answer: Answer;
  readonly view: AskView;
  /** Oldest first. */
  readonly versions: readonly string[];
}

export function AskPage(props: AskPageProps) {
  return (
    <Shell shell={props.shell} place="ask">
      <Ask {...props} />
    </Shell>
  );
}

/** A question of one's own about a scope, and its answer. */
function Ask({ shell, answer: firstAnswer, view: first, versions }: AskPageProps) {
  const [view, go] = useAddress(first, readAskView, writeAskView);
  const appSlug = shell.app.slug;
  const here = `/apps/${appSlug}`;
  const { data, problem, stale, refresh } = useLive(
    appSlug,
    addressOf('GET /apps/{app}/ask', { app: appSlug }, askParameters(view)),
    firstAnswer,
  );
  const changeScope = (scope: Scope) => go({ ...view, scope });
  // What is shown until the next answer comes is drawn as it was asked for.
  const parsed = parseQuestion(data.question);
  const answered = parsed.ok ? parsed.value : view.question;
  const series = seriesOf(data);
  const mayChange = shell.account.role !== 'viewer';
  return (
    <ScopeContext value={{ scope: view.scope, appSlug, change: changeScope }}>
      <main>
        <ScopeSentence
          appSlug={appSlug}
          scope={view.scope}
          versions={versions}
          onChange={changeScope}
          subject={asksReports(view.question.measure) ? undefined : <span>Sessions</span>}
        />
        <QuestionSentence appSlug={appSlug} question={view.question} onChange={(question) => go({ ...view, question })} />
        <ProblemNotice problem={problem} />
        <div className={styles.columns}>
          <section className={styles.answer} aria-label="Answer" aria-busy={stale} data-stale={stale}>
            <div className={styles.head}>
              <h1>{sayAnswer(data, answered)}</h1>
              <span className={styles.actions}>
                {mayChange && <KeepMenu appSlug={appSlug} question={view.question} scope={view.scope} />}
                <SaveAnswer appSlug={appSlug} answer={data} question={answered} />
              </span>
            </div>
            {data.groups.length === 0 ? (
              <NothingFound view={view} onChange={go} />
            ) : (
              <>
                <AnswerChart answer={data} question={answered} series={series} />
                <AnswerTable answer={data} measure={answered.measure} series={hasColours(answered) ? series : []} />
              </>
            )}
            <AnswerNotes
              appSlug={appSlug}
              answer={data}
              mayChange={mayChange}
              onExact={() => go({ ...view, exact: true })}
              onMade={refresh}
            />
          </section>
          <Examples here={here} />
        </div>
      </main>
    </ScopeContext>
  );
}

/** What to do where nothing was found. */
function NothingFound({ view, onChange }: { view: AskView; onChange: (view: AskView) => void }) {
  const { scope } = view;
  const everything = parseScope(new URLSearchParams('last=all&kind=crash,hang,kill,error&builds=any'));
  return (
    <div className={styles.nothing}>
      <p>Nothing in this scope answers that: no report or session tells it.</p>
      {everything.ok && scope !== everything.value && (
        <Button variant="default" onClick={() => onChange({ ...view, scope: everything.value })}>
          Ask it of everything there is
        </Button>
      )}
    </div>
  );
}

/** Questions to begin with, each opens with its scope. */
function Examples({ here }: { here: string }) {
  return (
    <aside className={styles.examples} aria-label="Questions to begin with">
      <p>
        <a href={`${here}/sheets`}>Sheets</a>: answers that were kept
      </p>
      <h2>Questions to begin with</h2>
      {exampleSheets.map(({ name, title, charts }) => (
        <details key={name} open={name === 'monday'}>
          <summary>{title}</summary>
          <ul>
            {charts.map((chart) => {
              const scope = parseScope(new URLSearchParams(chart.scope));
              return scope.ok ? (
                <li key={chart.title}>
                  <a href={askAddress(here, chart.question, scope.value)} title={chart.note}>
                    {chart.title}
                  </a>
                </li>
              ) : null;
            })}
          </ul>
        </details>
      ))}
    </aside>
  );
}
