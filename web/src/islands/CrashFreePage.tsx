import { Button } from '@mantine/core';
import { printField } from '@rough-ember/core/ask/question';
import { fieldNames, meaningOf, wordField } from '@rough-ember/core/fields/fields';
import type { Scope } from '@rough-ember/core/scope/scope';
import { type SessionField, sessionFields } from '@rough-ember/core/session-index/person-day';
import { type BadEnds, enoughSessions } from '@rough-ember/core/stability/figures';
import type { CrashFreeOverview, StabilityMatrix } from '@rough-ember/server/stability/crash-free';
import { type ReactNode, useState } from 'react';
import { askAddress } from '../ask/ask-address';
import { addressOf } from '../client/api';
import { useAddress } from '../client/use-address';
import { useAnswer } from '../client/use-answer';
import { useLive } from '../client/use-live';
import { CellCard } from '../crash-free/CellCard';
import styles from '../crash-free/CrashFree.module.css';
import { EndsWord } from '../crash-free/EndsWord';
import { endWordsPlural, Headline } from '../crash-free/Headline';
import { Parts } from '../crash-free/Parts';
import { SidesPanel } from '../crash-free/SidesPanel';
import { StabilityCellList } from '../crash-free/StabilityCellList';
import {
  type CellsProps,
  FieldWord,
  matrixLines,
  type RestingCell,
  StabilityMatrixTable,
  verdictMarks,
  wordValue,
} from '../crash-free/StabilityMatrixTable';
import { readStabilityView, type StabilityView, stabilityParameters, writeStabilityView } from '../crash-free/stability-address';
import { TrendChart } from '../crash-free/TrendChart';
import { VersionTable } from '../crash-free/VersionTable';
import { ScopeSentence } from '../scope/ScopeSentence';
import { hasValue, ScopeContext, withCondition } from '../scope/scope-context';
import { useFields } from '../scope/use-fields';
import { ProblemNotice } from '../shell/Notice';
import type { PageShell } from '../shell/page-shell';
import { Shell } from '../shell/Shell';
import side from '../shell/SidePage.module.css';
import { saveCsv } from '../words/csv';
import { wordCount } from '../words/numbers';
import { capitalised } from '../words/sentence';

export interface CrashFreePageProps {
  readonly shell: PageShell;
  readonly overview: CrashFreeOverview;
  readonly view: StabilityView;
}

export function CrashFreePage(props: CrashFreePageProps) {
  return (
    <Shell shell={props.shell} place="crash-free">
      <CrashFree {...props} />
    </Shell>
  );
}

/** How many sessions and people met no crash: in all, by version and day, by any two fields, and what makes a difference. */
function CrashFree({ shell, overview: initial, view: first }: CrashFreePageProps) {
  const [view, go] = useAddress(first, readStabilityView, writeStabilityView);
  const appSlug = shell.app.slug;
  const ask = (more = '') => addressOf('GET /apps/{app}/crash-free', { app: appSlug }, stabilityParameters(view) + more);
  const { data: quick, problem } = useLive(appSlug, ask(), initial);
  // Where a sample stood for all, everybody is counted meanwhile.
  const exact = useAnswer(quick.error > 0 ? ask('&exact=1') : null);
  const overview = exact.answer && !exact.stale ? exact.answer : quick;
  const changeScope = (scope: Scope) => go({ ...view, scope, cell: null });
  const { total, badEnds, versions } = overview;
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
              Sessions without a <EndsWord badEnds={view.badEnds} onChange={(badEnds) => go({ ...view, badEnds })} />
            </>
          }
        >
          <Parts here={`/apps/${shell.app.slug}`} part="crash-free" scope={view.scope} />
          {wordCount(total.sessions, 'session', 'sessions')} · {wordCount(total.persons, 'person', 'people')}
        </ScopeSentence>
        <ProblemNotice problem={problem} />
        {total.sessions === 0 ? (
          <NoSessions
            shell={shell}
            overview={overview}
            onAll={() => changeScope({ ...view.scope, days: null, versions: { match: 'any' }, filter: null })}
          />
        ) : (
          <div className={side.columns}>
            <div className={styles.work}>
              <Headline overview={overview} appSlug={appSlug} />
              <TrendChart overview={overview} here={`/apps/${shell.app.slug}`} />
              <MatrixPart shell={shell} view={view} badEnds={badEnds} onView={go} />
              <VersionsPart here={`/apps/${shell.app.slug}`} overview={overview} />
            </div>
            <aside className={side.side} aria-label="What makes the difference">
              <Chosen shell={shell} view={view} overview={overview} />
            </aside>
          </div>
        )}
      </main>
    </ScopeContext>
  );
}

function VersionsPart({ here, overview }: { here: string; overview: CrashFreeOverview }) {
  return (
    <section aria-label="Versions">
      <div className={styles.line}>
        <span>
          Versions, each against the last one before it that was out to everybody; <a href={`${here}/versions`}>their rollouts and cases</a>
        </span>
      </div>
      <VersionTable versions={overview.byVersion} badEnds={overview.badEnds} />
    </section>
  );
}

interface MatrixPartProps {
  readonly shell: PageShell;
  readonly view: StabilityView;
  readonly badEnds: BadEnds;
  readonly onView: (view: StabilityView) => void;
}

/** Sessions by two fields. */
function MatrixPart({ shell, view, badEnds, onView }: MatrixPartProps) {
  const appSlug = shell.app.slug;
  const fieldsOfAddress = new URLSearchParams({ down: nameOf(view.down), across: nameOf(view.across) });
  const ask = (more = '') =>
    addressOf('GET /apps/{app}/crash-free/matrix', { app: appSlug }, `${stabilityParameters(view)}&${fieldsOfAddress}${more}`);
  const quick = useAnswer(ask());
  const exact = useAnswer(quick.answer && quick.answer.error > 0 && !quick.stale ? ask('&exact=1') : null);
  const matrix = exact.answer && !exact.stale ? exact.answer : quick.answer;
  const fields = useSessionFields(appSlug);
  const [resting, setResting] = useState<RestingCell | null>(null);
  const split = [view.down, view.across] as const;
  const cells = (matrix: StabilityMatrix): CellsProps => ({
    matrix,
    badEnds,
    chosen: view.cell,
    onChoose: (cell) => onView({ ...view, cell }),
    onRest: setResting,
  });
  const download = () => {
    if (!matrix) return;
    const names = [wordField(view.down.field, view.down.key || null), wordField(view.across.field, view.across.key || null)] as const;
    saveCsv(`${shell.app.slug}-sessions.csv`, matrixLines(matrix, badEnds, names));
  };
  return (
    <section aria-label="Sessions by two fields" aria-busy={quick.stale}>
      <div className={styles.line}>
        <span>
          {capitalised(endWordsPlural(badEnds))} for 1,000 sessions by{' '}
          <FieldWord value={view.down} fields={fields} onChange={(down) => onView({ ...view, down, cell: null })} /> and{' '}
          <FieldWord value={view.across} fields={fields} onChange={(across) => onView({ ...view, across, cell: null })} />
        </span>
        <MatrixLegend form={view.form} onForm={(form) => onView({ ...view, form })} onDownload={download}>
          <a
            href={askAddress(
              `/apps/${appSlug}`,
              `crashed sessions per 1000 sessions by ${split.map(printField).join(', ')} as matrix`,
              view.scope,
            )}
          >
            on Ask, to be kept
          </a>
        </MatrixLegend>
      </div>
      <ProblemNotice problem={quick.problem} />
      {!matrix ? (
        !quick.problem && <p className={styles.faint}>looking …</p>
      ) : view.form === 'lines' ? (
        <StabilityCellList {...cells(matrix)} fields={split} />
      ) : (
        <StabilityMatrixTable {...cells(matrix)} />
      )}
      {resting && (
        <CellCard
          key={`${resting.cell.down}\n${resting.cell.across}`}
          {...{ resting, appSlug, badEnds }}
          scope={view.scope}
          fields={split}
        />
      )}
    </section>
  );
}

interface MatrixLegendProps {
  readonly form: StabilityView['form'];
  readonly onForm: (form: StabilityView['form']) => void;
  readonly onDownload: () => void;
  readonly children: ReactNode;
}

/** What the signs of the matrix mean, and the other ways to have it. */
function MatrixLegend({ form, onForm, onDownload, children }: MatrixLegendProps) {
  const isLines = form === 'lines';
  return (
    <span className={styles.faint}>
      dashed: fewer than {enoughSessions} sessions · {verdictMarks.worse} {verdictMarks.better} surely worse, better than the rest{' '}
      <Button size="compact-xs" variant="subtle" aria-pressed={isLines} onClick={() => onForm(isLines ? 'matrix' : 'lines')}>
        {isLines ? 'As a matrix' : 'As lines'}
      </Button>
      <Button size="compact-xs" variant="subtle" onClick={onDownload}>
        CSV
      </Button>{' '}
      {children}
    </span>
  );
}

/** `flags.night-map`: a field as the address names it. */
const nameOf = ({ field, key }: SessionField): string => (key === '' ? field : `${field}.${key}`);

/** What sessions can be split by: their own fields, and the flags and attributes that the app has. */
function useSessionFields(appSlug: string): readonly SessionField[] {
  const overview = useFields(appSlug);
  const plain = fieldNames.filter((name) => sessionFields.some((one) => one === name)).map((field) => ({ field, key: '' }));
  const named = (overview?.fields ?? []).filter(({ field }) => meaningOf(field).isMap).map(({ field, key }) => ({ field, key }));
  return [...plain, ...named];
}

/** The chosen cell, or the newest version, against what it is best compared with. */
function Chosen({ shell, view, overview }: { shell: PageShell; view: StabilityView; overview: CrashFreeOverview }) {
  const here = `/apps/${shell.app.slug}`;
  const sides = sidesOf(view, overview);
  const parameters =
    sides && new URLSearchParams({ by: nameOf(sides.by), right: sides.right, ...(sides.left === null ? {} : { left: sides.left }) });
  const { answer, problem, stale } = useAnswer(
    sides &&
      addressOf(
        'GET /apps/{app}/crash-free/compare',
        { app: shell.app.slug },
        `${stabilityParameters({ ...view, scope: sides.scope })}&${parameters}`,
      ),
  );
  if (!sides) return <p>There is one version only, so there is nothing to compare it with. Choose a cell of the matrix.</p>;
  if (problem) return <ProblemNotice problem={problem} />;
  if (!answer) return <p className={styles.faint}>looking …</p>;
  return (
    <div aria-busy={stale}>
      <SidesPanel
        title={sides.title}
        other={sides.other}
        sides={answer}
        badEnds={view.badEnds}
        casesAddress={`${here}/cases?${answer.addresses[1]}`}
        sessionsAddress={`${here}/sessions?${answer.addresses[1]}`}
        caseAddress={(ref) => `${here}/cases/${ref}?${answer.addresses[1]}`}
      />
    </div>
  );
}

interface Sides {
  readonly title: string;
  readonly other: string;
  readonly scope: Scope;
  readonly by: SessionField;
  readonly left: string | null;
  readonly right: string;
}

/** Versions are compared with what they are compared with everywhere, other values with everything else. */
function sidesOf({ scope, cell, down, across }: StabilityView, overview: CrashFreeOverview): Sides | null {
  const versions = overview.byVersion.map((one) => one.version);
  const before = (version: string) =>
    overview.byVersion.find((one) => one.version === version)?.comparison?.than ?? versions[versions.indexOf(version) - 1] ?? null;
  if (cell === null) {
    const right = versions.at(-1);
    const left = right === undefined ? null : before(right);
    if (right === undefined || left === null) return null;
    return { title: `${right}, the newest`, other: left, scope, by: { field: 'version', key: '' }, left, right };
  }
  const within = (field: SessionField, value: string) =>
    value === '' ? scope : withCondition(scope, hasValue(field.field, field.key, value));
  const isByVersion = across.field === 'version' || down.field !== 'version';
  const [by, right, narrowed] = isByVersion
    ? [across, cell.across, within(down, cell.down)]
    : [down, cell.down, within(across, cell.across)];
  const left = by.field === 'version' ? before(right) : null;
  return {
    title: `${wordValue(cell.across)} on ${wordValue(cell.down)}`,
    other: left === null ? 'everything else' : `${left} there`,
    scope: narrowed,
    by,
    left,
    right,
  };
}

/** Before the first session: what to do to see one. */
function NoSessions({ shell, overview, onAll }: { shell: PageShell; overview: CrashFreeOverview; onAll: () => void }) {
  return (
    <section className={styles.nothing}>
      <h1>No session lies in this scope</h1>
      <p>
        Crash-free figures need sessions, of those that go well too: the app sends one when it comes to the foreground and when it leaves
        it. The snippets on <a href={`/apps/${shell.app.slug}/intake`}>Intake</a> do that.
      </p>
      {overview.scope.days !== null && (
        <Button variant="default" onClick={onAll}>
          Look at all time
        </Button>
      )}
    </section>
  );
}
