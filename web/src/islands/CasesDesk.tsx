import type { DeskColumn } from '@rough-ember/core/cases/desk-columns';
import { wholeScope } from '@rough-ember/core/scope/scope';
import type { CaseFile } from '@rough-ember/server/desk/case-file';
import type { CaseList } from '@rough-ember/server/desk/case-list';
import { useEffect, useRef, useState } from 'react';
import { CaseFileView } from '../case-file/CaseFileView';
import { addressOf } from '../client/api';
import { type Live, useLive } from '../client/use-live';
import { CaseListTitle } from '../desk/CaseListTitle';
import { CaseRows } from '../desk/CaseRows';
import { type DeskView, orderParameter, search } from '../desk/desk-address';
import { caseKeys, KeyHelp, type KeyWords } from '../desk/KeyHelp';
import { MarkedCases } from '../desk/MarkedCases';
import { NoCases, wordNoCases } from '../desk/NoCases';
import { ScopeCounts } from '../desk/ScopeCounts';
import { type LiveCaseList, useCaseList } from '../desk/use-case-list';
import { useDeskView } from '../desk/use-desk-view';
import { type MarkedCasesHolder, useMarkedCases } from '../desk/use-marked-cases';
import { useShortcuts } from '../desk/use-shortcuts';
import { ScopeSentence } from '../scope/ScopeSentence';
import { ScopeContext } from '../scope/scope-context';
import { ProblemNotice } from '../shell/Notice';
import type { PageShell } from '../shell/page-shell';
import { Shell } from '../shell/Shell';
import styles from './CasesDesk.module.css';

export interface CasesDeskProps {
  readonly shell: PageShell;
  readonly list: CaseList;
  readonly file: CaseFile | null;
  /** What the person wants to see of each case. */
  readonly columns: readonly DeskColumn[];
}

export function CasesDesk(props: CasesDeskProps) {
  return (
    <Shell shell={props.shell} place="cases">
      <Desk {...props} />
    </Shell>
  );
}

/** The list, the selected case and the report of it that is shown, as the address and the server say; and the steps among them. */
function useSelection({ shell, list: initialList, file: initialFile }: CasesDeskProps) {
  const { view, go, changeScope, settle } = useDeskView({
    scope: initialList.scope,
    order: initialList.order,
    selected: initialFile?.item.ref ?? null,
    position: initialFile?.position ?? 0,
  });
  const appSlug = shell.app.slug;
  const live = useCaseList(appSlug, search(view.scope, { order: orderParameter(view.order) }), initialList, casesAPage);
  const [place, setPlace] = useState(() => initialList.cases.findIndex((item) => item.ref === initialFile?.item.ref));
  const evidence = useLive<CaseFile | null>(appSlug, fileAddress(appSlug, view), initialFile);
  const { data: file, stale } = evidence;
  // The selected case may have moved since it was selected, or lie in a part that has not come.
  const selectedAt = live.at(place)?.ref === view.selected ? place : findPlace(live.list, view.selected);

  // A case that moved when its symbols came answers under its new number; follow it. A list without a selection gets one.
  const movedTo = file && !stale && file.movedFrom === view.selected ? file.item.ref : null;
  const firstRef = live.at(0)?.ref ?? null;
  useEffect(() => {
    const selected = movedTo ?? (view.selected === null ? firstRef : view.selected);
    if (selected !== view.selected) settle(selected);
  });

  const select = (selected: string, at: number) => {
    setPlace(at);
    go({ selected, position: 0 }, { isStep: false });
  };
  const move = (by: number) => {
    const at = selectedAt < 0 ? 0 : selectedAt + by;
    const next = live.at(at);
    if (next) select(next.ref, at);
  };
  const step = (position: number) => {
    if (file && position >= 0 && position < file.item.reports) go({ position }, { isStep: false });
  };
  return { view, go, changeScope, live, evidence, selectedAt, select, move, step };
}

/** The list on the left, the evidence of the selected case on the right; the address holds both. */
function Desk(props: CasesDeskProps) {
  const { shell } = props;
  const appSlug = shell.app.slug;
  const [raw, setRaw] = useState(false);
  const [showsKeys, setShowsKeys] = useState(false);
  const { view, go, changeScope, live, evidence, selectedAt, select, move, step } = useSelection(props);
  const { list } = live;
  const file = evidence.data;
  const marked = useMarkedCases(appSlug, list);
  const mayAct = shell.account.role !== 'viewer';
  const pageAddress = (ref: string) => `/apps/${appSlug}/cases/${ref}${search(view.scope)}`;
  useShortcuts({
    j: () => move(1),
    k: () => move(-1),
    '[': () => step(view.position - 1),
    ']': () => step(view.position + 1),
    r: () => setRaw(!raw),
    ...(mayAct && view.selected !== null ? { x: () => marked.toggle(view.selected as string) } : {}),
    ...(mayAct && marked.mergeTarget !== null ? { g: () => marked.askMerge(true) } : {}),
    Escape: marked.clear,
    '?': () => setShowsKeys(!showsKeys),
    o: () => view.selected && window.location.assign(pageAddress(view.selected)),
  });

  // Whoever closed the last case of the list still has it before them, to take that back.
  const staysBeside = view.selected !== null && file !== null && !file.outsideScope;
  return (
    <ScopeContext value={{ scope: view.scope, appSlug, change: changeScope }}>
      <main className={styles.page}>
        <ScopeSentence appSlug={appSlug} scope={view.scope} versions={list.versions} choosesCases mayKeep={mayAct} onChange={changeScope}>
          <ScopeCounts totals={list.totals} sampling={list.sampling} />
        </ScopeSentence>
        <ProblemNotice problem={live.problem ?? marked.problem} />
        <KeyHelp keys={[...deskKeys(mayAct), ...caseKeys(mayAct)]} opened={showsKeys} onClose={() => setShowsKeys(false)} />
        {list.total === 0 && !staysBeside ? (
          <NoCases shell={shell} scope={view.scope} list={list} onWiden={() => changeScope(wholeScope)} />
        ) : (
          <div className={styles.desk}>
            <ListSide
              {...{ shell, live, view, selectedAt, marked, pageAddress }}
              columns={props.columns}
              colleagues={file?.colleagues ?? []}
              onOrder={(order) => go({ order, selected: null, position: 0 }, { isStep: true })}
              onSelect={select}
            />
            <Evidence
              evidence={evidence}
              {...{ shell, view, raw }}
              hasKeys={marked.refs.length === 0}
              onStep={step}
              onRaw={setRaw}
              pageAddress={pageAddress}
            />
          </div>
        )}
      </main>
    </ScopeContext>
  );
}

/** The cases of the scope, with what is done to all that are marked above them. */
function ListSide({
  shell,
  live,
  view,
  selectedAt,
  marked,
  pageAddress,
  colleagues,
  onOrder,
  onSelect,
  ...initial
}: {
  shell: PageShell;
  live: LiveCaseList;
  view: DeskView;
  selectedAt: number;
  marked: MarkedCasesHolder;
  pageAddress: (ref: string) => string;
  columns: readonly DeskColumn[];
  colleagues: readonly string[];
  onOrder: (order: DeskView['order']) => void;
  onSelect: (ref: string, at: number) => void;
}) {
  const [columns, setColumns] = useState(initial.columns);
  const scroller = useRef<HTMLElement>(null);
  const { list } = live;
  return (
    <section className={styles.list} aria-label="Cases" ref={scroller}>
      <CaseListTitle total={list.total} order={view.order} columns={columns} onOrder={onOrder} onColumns={setColumns} />
      {marked.refs.length > 0 && <MarkedCases {...{ shell, list, marked }} cases={view.scope.cases} colleagues={colleagues} />}
      {list.total === 0 && <p className={styles.noneLeft}>{wordNoCases(view.scope, list)}.</p>}
      <CaseRows
        {...{ live, columns, scroller, selectedAt }}
        selected={view.selected}
        isMarked={marked.isMarked}
        hrefOf={pageAddress}
        onSelect={onSelect}
      />
    </section>
  );
}

/** The selected case, beside the list. */
function Evidence({
  evidence: { data: file, problem, stale },
  view,
  pageAddress,
  ...shown
}: {
  evidence: Live<CaseFile | null>;
  shell: PageShell;
  view: DeskView;
  raw: boolean;
  hasKeys: boolean;
  onStep: (position: number) => void;
  onRaw: (raw: boolean) => void;
  pageAddress: (ref: string) => string;
}) {
  return (
    // The evidence scrolls by itself, so the keyboard must reach it.
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a scrollable region
    <section className={styles.evidence} aria-label="Evidence" aria-busy={stale} tabIndex={0}>
      <ProblemNotice problem={problem} />
      {/* Another case's evidence beside the selected row would mislead when its own cannot be had. */}
      {file && view.selected !== null && !(problem && stale) && (
        <CaseFileView {...shown} file={file} scope={view.scope} pageAddress={pageAddress(file.item.ref)} />
      )}
    </section>
  );
}

/** Cases that the server tells at once. */
const casesAPage = 100;

const fileAddress = (app: string, { selected, scope, position }: DeskView) =>
  selected === null ? null : addressOf('GET /apps/{app}/cases/{ref}', { app, ref: selected }, search(scope, { report: String(position) }));

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
