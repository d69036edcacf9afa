import { Button, Menu, UnstyledButton } from '@mantine/core';
import { caseOrders, wordCaseOrder } from '@rough-ember/core/cases/case-order';
import type { DeskColumn } from '@rough-ember/core/cases/desk-columns';
import { reportKinds } from '@rough-ember/core/report/report-kinds';
import { type Scope, wholeScope, wordCases } from '@rough-ember/core/scope/scope';
import type { CaseFile } from '@rough-ember/server/desk/case-file';
import type { CaseList } from '@rough-ember/server/desk/case-list';
import { useEffect, useRef, useState } from 'react';
import { CaseActions } from '../case-file/CaseActions';
import { CaseFileView } from '../case-file/CaseFileView';
import { Confirmation } from '../case-file/Confirmation';
import { addressOf, RequestProblem, request } from '../client/api';
import { useLive } from '../client/use-live';
import { CaseRows } from '../desk/CaseRows';
import { ColumnsMenu } from '../desk/ColumnsMenu';
import { type DeskView, orderParameter, readDeskView, search, writeDeskView } from '../desk/desk-address';
import { caseKeys, KeyHelp, type KeyWords } from '../desk/KeyHelp';
import { useCaseList } from '../desk/use-case-list';
import { useShortcuts } from '../desk/use-shortcuts';
import { ScopeSentence } from '../scope/ScopeSentence';
import { ScopeContext } from '../scope/scope-context';
import type { Frame } from '../shell/frame';
import { ProblemNotice } from '../shell/Notice';
import { Shell } from '../shell/Shell';
import { wordCount, wordNumber } from '../words/numbers';
import styles from './CasesDesk.module.css';

export interface CasesDeskProps {
  readonly frame: Frame;
  readonly list: CaseList;
  readonly file: CaseFile | null;
  /** What the person wants to see of each case. */
  readonly columns: readonly DeskColumn[];
}

export function CasesDesk(props: CasesDeskProps) {
  return (
    <Shell frame={props.frame} place="cases">
      <Desk {...props} />
    </Shell>
  );
}

/** The list on the left, the evidence of the selected case on the right; the address holds both. */
function Desk({ frame, list: initialList, file: initialFile, columns: initialColumns }: CasesDeskProps) {
  const [columns, setColumns] = useState(initialColumns);
  const [view, setView] = useState<DeskView>({
    scope: initialList.scope,
    order: initialList.order,
    selected: initialFile?.item.ref ?? null,
    position: initialFile?.position ?? 0,
  });
  const [raw, setRaw] = useState(false);
  const [marked, setMarked] = useState<readonly string[]>([]);
  const [wholeOfScope, setWholeOfScope] = useState(false);
  const [showsKeys, setShowsKeys] = useState(false);
  const [asksMerge, setAsksMerge] = useState(false);
  const [mergeProblem, setMergeProblem] = useState<RequestProblem | null>(null);
  const appSlug = frame.app.slug;
  const live = useCaseList(appSlug, search(view.scope, { order: orderParameter(view.order) }), initialList, casesAPage);
  const { list, problem } = live;
  const scroller = useRef<HTMLElement>(null);
  const [place, setPlace] = useState(() => initialList.cases.findIndex((item) => item.ref === initialFile?.item.ref));
  const fileAddress =
    view.selected === null
      ? null
      : addressOf(
          'GET /apps/{app}/cases/{ref}',
          { app: appSlug, ref: view.selected },
          search(view.scope, { report: String(view.position) }),
        );
  const { data: file, problem: fileProblem, stale } = useLive<CaseFile | null>(appSlug, fileAddress, initialFile);
  // The selected case may have moved since it was selected, or lie in a part that has not come.
  const selectedAt = live.at(place)?.ref === view.selected ? place : findPlace(list, view.selected);

  const go = (next: DeskView, { keep }: { keep: boolean }) => {
    setView(next);
    const address = `${window.location.pathname}${writeDeskView(next)}`;
    if (keep) window.history.pushState(null, '', address);
    else window.history.replaceState(null, '', address);
  };
  useEffect(() => {
    const onBack = () => {
      const back = readDeskView(window.location.search);
      if (back) setView(back);
    };
    window.addEventListener('popstate', onBack);
    return () => window.removeEventListener('popstate', onBack);
  }, []);

  // A case that moved when its symbols came answers under its new number; follow it. A list without a selection gets one.
  const movedTo = file && !stale && file.movedFrom === view.selected ? file.item.ref : null;
  const firstRef = live.at(0)?.ref ?? null;
  useEffect(() => {
    const selected = movedTo ?? (view.selected === null ? firstRef : view.selected);
    if (selected !== view.selected) setView((before) => ({ ...before, selected, position: 0 }));
  }, [movedTo, firstRef, view.selected]);

  const select = (ref: string, at: number) => {
    setPlace(at);
    go({ ...view, selected: ref, position: 0 }, { keep: false });
  };
  const move = (by: number) => {
    const at = selectedAt < 0 ? 0 : selectedAt + by;
    const next = live.at(at);
    if (next) select(next.ref, at);
  };
  const step = (position: number) => {
    if (file && position >= 0 && position < file.item.reports) go({ ...view, position }, { keep: false });
  };
  const changeScope = (scope: Scope) => go({ ...view, scope, selected: null, position: 0 }, { keep: true });
  const mayAct = frame.account.role !== 'viewer';
  const mark = (ref: string) => setMarked((before) => (before.includes(ref) ? before.filter((one) => one !== ref) : [...before, ref]));
  const clear = () => {
    setMarked([]);
    setWholeOfScope(false);
  };
  // The list is of any length, so of what is marked only the part in view is known by its reports.
  const largestOf = (refs: readonly string[]): string => list.cases.find((item) => refs.includes(item.ref))?.ref ?? (refs[0] as string);
  const mergeMarked = async () => {
    setAsksMerge(false);
    try {
      await request('POST /apps/{app}/cases/merge', { app: appSlug }, { body: { into: largestOf(marked), cases: [...marked] } });
      setMergeProblem(null);
      clear();
    } catch (error) {
      setMergeProblem(error instanceof RequestProblem ? error : new RequestProblem(String(error), 'Try again.'));
    }
  };
  const pageAddress = (ref: string) => `/apps/${frame.app.slug}/cases/${ref}${search(view.scope)}`;
  useShortcuts({
    j: () => move(1),
    k: () => move(-1),
    '[': () => step(view.position - 1),
    ']': () => step(view.position + 1),
    r: () => setRaw(!raw),
    ...(mayAct && view.selected !== null ? { x: () => mark(view.selected as string) } : {}),
    ...(mayAct && marked.length > 1 && !wholeOfScope ? { g: () => setAsksMerge(true) } : {}),
    Escape: clear,
    '?': () => setShowsKeys(!showsKeys),
    o: () => view.selected && window.location.assign(pageAddress(view.selected)),
  });

  const { totals } = list;
  const nothing =
    totals.reports > 0 ? `No ${wordCases(view.scope.cases).replace('cases', 'case')} in this scope` : 'No report lies in this scope';
  // Whoever closed the last case of the list still has it before them, to take that back.
  const staysBeside = view.selected !== null && file !== null && !file.outsideScope;
  const holder = { scope: view.scope, appSlug, change: changeScope };
  return (
    <ScopeContext value={holder}>
      <main className={styles.page}>
        <ScopeSentence appSlug={appSlug} scope={view.scope} versions={list.versions} choosesCases mayKeep={mayAct} onChange={changeScope}>
          {wordCount(totals.reports, 'report', 'reports')}
          {wordHandled(totals.byKind)} · {wordCount(totals.people, 'person', 'people')}
          {totals.waiting > 0 && ` · ${wordCount(totals.waiting, 'report', 'reports')} being read`}
        </ScopeSentence>
        <ProblemNotice problem={problem ?? mergeProblem} />
        <KeyHelp keys={[...deskKeys(mayAct), ...caseKeys(mayAct)]} opened={showsKeys} onClose={() => setShowsKeys(false)} />
        {list.total === 0 && !staysBeside ? (
          list.versions.length === 0 ? (
            <NothingYet frame={frame} />
          ) : (
            <section className={styles.nothing}>
              <h1>{nothing}</h1>
              <p>
                {totals.reports > 0 && `The ${wordCount(totals.reports, 'report', 'reports')} in it are of cases in another state. `}
                {frame.app.name} sent reports in {list.versions.slice(-8).reverse().join(', ')}
                {list.versions.length > 8 ? ' and older versions' : ''}. Change the words of the sentence above, or
              </p>
              <Button variant="default" onClick={() => go({ ...view, scope: wholeScope, selected: null, position: 0 }, { keep: true })}>
                Look at everything
              </Button>
            </section>
          )
        ) : (
          <div className={styles.desk}>
            <section className={styles.list} aria-label="Cases" ref={scroller}>
              <h2 className={styles.listTitle}>
                <span>
                  {wordCount(list.total, 'case', 'cases')},{' '}
                  <Menu width={200} withInitialFocusPlaceholder={false}>
                    <Menu.Target>
                      <UnstyledButton className={styles.order}>{wordCaseOrder(view.order)}</UnstyledButton>
                    </Menu.Target>
                    <Menu.Dropdown>
                      {caseOrders.map((order) => (
                        <Menu.Item key={order} onClick={() => go({ ...view, order, selected: null, position: 0 }, { keep: true })}>
                          {wordCaseOrder(order).replace(/^./, (letter) => letter.toUpperCase())}
                        </Menu.Item>
                      ))}
                    </Menu.Dropdown>
                  </Menu>
                </span>
                <ColumnsMenu columns={columns} onChange={setColumns} />
                <span className={styles.keys}>
                  <kbd>j</kbd> <kbd>k</kbd> move · <kbd>o</kbd> open · <kbd>?</kbd> keys
                </span>
              </h2>
              {marked.length > 0 && (
                <section className={styles.marked} aria-label="Marked cases">
                  <span>
                    <b>
                      {wholeOfScope
                        ? `All ${wordCount(list.total, 'case', 'cases')} of the scope`
                        : `${wordCount(marked.length, 'case', 'cases')} marked`}
                    </b>{' '}
                    {!wholeOfScope && list.total > marked.length && (
                      <Button size="compact-xs" variant="subtle" onClick={() => setWholeOfScope(true)}>
                        take all {wordNumber(list.total)}
                      </Button>
                    )}
                    <Button size="compact-xs" variant="subtle" onClick={clear}>
                      none
                    </Button>
                  </span>
                  <span className={styles.markedActions}>
                    {!wholeOfScope && marked.length > 1 && (
                      <Button size="compact-sm" variant="default" aria-keyshortcuts="g" onClick={() => setAsksMerge(true)}>
                        Merge into {largestOf(marked)}
                      </Button>
                    )}
                    <CaseActions
                      appSlug={frame.app.slug}
                      target={wholeOfScope ? { scope: list.address } : { cases: marked }}
                      count={wholeOfScope ? list.total : marked.length}
                      versions={list.stripVersions.map((one) => one.version)}
                      colleagues={file?.colleagues ?? []}
                      me={frame.account.email}
                      isDone={view.scope.cases !== 'open'}
                      assignee={null}
                      hasKeys
                      onDone={clear}
                    />
                    {asksMerge && marked.length > 1 && (
                      <Confirmation
                        words={`Make ${wordCount(marked.length, 'case', 'cases')} one, ${largestOf(marked)}?`}
                        onDo={() => void mergeMarked()}
                        onLeave={() => setAsksMerge(false)}
                      />
                    )}
                  </span>
                </section>
              )}
              {list.total === 0 && <p className={styles.noneLeft}>{nothing}.</p>}
              <CaseRows
                live={live}
                columns={columns}
                scroller={scroller}
                selectedAt={selectedAt}
                selected={view.selected}
                isMarked={(ref) => marked.includes(ref) || wholeOfScope}
                hrefOf={pageAddress}
                onSelect={select}
              />
            </section>
            {/* The evidence scrolls by itself, so the keyboard must reach it. */}
            {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a scrollable region */}
            <section className={styles.evidence} aria-label="Evidence" aria-busy={stale} tabIndex={0}>
              <ProblemNotice problem={fileProblem} />
              {/* Another case's evidence beside the selected row would mislead when its own cannot be had. */}
              {file && view.selected !== null && !(fileProblem && stale) && (
                <CaseFileView
                  frame={frame}
                  scope={view.scope}
                  file={file}
                  onStep={step}
                  pageAddress={pageAddress(file.item.ref)}
                  raw={raw}
                  onRaw={setRaw}
                  hasKeys={marked.length === 0}
                />
              )}
            </section>
          </div>
        )}
      </main>
    </ScopeContext>
  );
}

/** Says how many of the reports were handled, where fatal and handled ones are counted together. */
function wordHandled(byKind: readonly number[]): string {
  const handled = byKind[reportKinds.indexOf('error')] ?? 0;
  const fatal = byKind.reduce((sum, one) => sum + one, 0) - handled;
  return handled > 0 && fatal > 0 ? `, ${wordNumber(handled)} of them handled` : '';
}

/** Cases that the server tells at once. */
const casesAPage = 100;

const findPlace = (list: CaseList, ref: string | null): number => {
  const at = list.cases.findIndex((item) => item.ref === ref);
  return at < 0 ? -1 : list.from + at;
};

const deskKeys = (mayAct: boolean): readonly KeyWords[] => [
  { keys: ['j', 'k'], does: 'next and previous case' },
  { keys: ['o'], does: 'open the case as a page' },
  { keys: ['/'], does: 'write the filter as text' },
  ...(mayAct
    ? [
        { keys: ['x'], does: 'mark the case, for what is done to several' },
        { keys: ['g'], does: 'merge what is marked' },
        { keys: ['Escape'], does: 'mark none' },
      ]
    : []),
];

/** Before the first report: what to do to see one. */
function NothingYet({ frame }: { frame: Frame }) {
  return (
    <section className={styles.nothing}>
      <h1>No report of {frame.app.name} has arrived yet</h1>
      <p>
        Send one from the app, or hand over a stack trace by hand. The key and a command to copy are on{' '}
        <a href={`/apps/${frame.app.slug}/intake`}>Intake</a>, and so is every request that was refused, with its reason. This page shows
        the first report by itself.
      </p>
    </section>
  );
}
