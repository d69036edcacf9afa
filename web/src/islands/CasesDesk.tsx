import { Button, Menu, UnstyledButton } from '@mantine/core';
import { caseOrders, wordCaseOrder } from '@rough-ember/core/cases/case-order';
import { wholeScope, wordCases } from '@rough-ember/core/scope/scope';
import type { CaseFile } from '@rough-ember/server/desk/case-file';
import type { CaseList } from '@rough-ember/server/desk/case-list';
import { useEffect, useState } from 'react';
import { CaseActions } from '../case-file/CaseActions';
import { CaseFileView } from '../case-file/CaseFileView';
import { useLive } from '../client/use-live';
import { CaseRow } from '../desk/CaseRow';
import { type DeskView, orderParameter, readDeskView, search, writeDeskView } from '../desk/desk-address';
import { caseKeys, KeyHelp, type KeyWords } from '../desk/KeyHelp';
import { useShortcuts } from '../desk/use-shortcuts';
import type { Frame } from '../shell/frame';
import { ProblemNotice } from '../shell/Notice';
import { ScopeSentence } from '../shell/ScopeSentence';
import { Shell } from '../shell/Shell';
import { wordCount, wordNumber } from '../words/numbers';
import styles from './CasesDesk.module.css';

export interface CasesDeskProps {
  readonly frame: Frame;
  readonly list: CaseList;
  readonly file: CaseFile | null;
}

export function CasesDesk(props: CasesDeskProps) {
  return (
    <Shell frame={props.frame} place="cases">
      <Desk {...props} />
    </Shell>
  );
}

/** The list on the left, the evidence of the selected case on the right; the address holds both. */
function Desk({ frame, list: initialList, file: initialFile }: CasesDeskProps) {
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
  const api = `/api/v1/apps/${frame.app.slug}/cases`;
  const { data: list, problem } = useLive(
    frame.app.slug,
    `${api}${search(view.scope, { order: orderParameter(view.order) })}`,
    initialList,
  );
  const filePath = view.selected === null ? null : `${api}/${view.selected}${search(view.scope, { report: String(view.position) })}`;
  const { data: file, problem: fileProblem, stale } = useLive(frame.app.slug, filePath, initialFile);
  const selectedAt = list.cases.findIndex((item) => item.ref === view.selected);

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
  const firstRef = list.cases[0]?.ref ?? null;
  useEffect(() => {
    const selected = movedTo ?? (view.selected === null ? firstRef : view.selected);
    if (selected !== view.selected) setView((before) => ({ ...before, selected, position: 0 }));
  }, [movedTo, firstRef, view.selected]);

  const select = (ref: string) => {
    go({ ...view, selected: ref, position: 0 }, { keep: false });
    document.querySelector(`[data-case="${ref}"]`)?.scrollIntoView({ block: 'nearest' });
  };
  const move = (by: number) => {
    const next = list.cases[selectedAt < 0 ? 0 : selectedAt + by];
    if (next) select(next.ref);
  };
  const step = (position: number) => {
    if (file && position >= 0 && position < file.item.reports) go({ ...view, position }, { keep: false });
  };
  const mayAct = frame.account.role !== 'viewer';
  const mark = (ref: string) => setMarked((before) => (before.includes(ref) ? before.filter((one) => one !== ref) : [...before, ref]));
  const clear = () => {
    setMarked([]);
    setWholeOfScope(false);
  };
  const pageAddress = (ref: string) => `/apps/${frame.app.slug}/cases/${ref}${search(view.scope)}`;
  useShortcuts({
    j: () => move(1),
    k: () => move(-1),
    '[': () => step(view.position - 1),
    ']': () => step(view.position + 1),
    r: () => setRaw(!raw),
    ...(mayAct && view.selected !== null ? { x: () => mark(view.selected as string) } : {}),
    Escape: clear,
    '?': () => setShowsKeys(!showsKeys),
    o: () => view.selected && window.location.assign(pageAddress(view.selected)),
  });

  const { totals } = list;
  const nothing =
    totals.reports > 0 ? `No ${wordCases(view.scope.cases).replace('cases', 'case')} in this scope` : 'No report lies in this scope';
  // Whoever closed the last case of the list still has it before them, to take that back.
  const staysBeside = view.selected !== null && file !== null && !file.outsideScope;
  return (
    <main className={styles.page}>
      <ScopeSentence
        scope={view.scope}
        versions={list.versions}
        choosesCases
        onChange={(scope) => go({ ...view, scope, selected: null, position: 0 }, { keep: true })}
      >
        {wordCount(totals.reports, 'report', 'reports')} · {wordCount(totals.people, 'person', 'people')}
        {totals.waiting > 0 && ` · ${wordCount(totals.waiting, 'report', 'reports')} being read`}
      </ScopeSentence>
      <ProblemNotice problem={problem} />
      <KeyHelp keys={[...deskKeys(mayAct), ...caseKeys(mayAct)]} opened={showsKeys} onClose={() => setShowsKeys(false)} />
      {list.cases.length === 0 && !staysBeside ? (
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
          <section className={styles.list} aria-label="Cases">
            <h2 className={styles.listTitle}>
              <span>
                {list.cut ? `the first ${wordNumber(list.cases.length)} cases` : wordCount(list.cases.length, 'case', 'cases')},{' '}
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
              <span className={styles.keys}>
                <kbd>j</kbd> <kbd>k</kbd> move · <kbd>o</kbd> open · <kbd>?</kbd> keys
              </span>
            </h2>
            {marked.length > 0 && (
              <section className={styles.marked} aria-label="Marked cases">
                <span>
                  <b>
                    {wholeOfScope
                      ? `All ${wordCount(list.cases.length, 'case', 'cases')} of the scope`
                      : `${wordCount(marked.length, 'case', 'cases')} marked`}
                  </b>{' '}
                  {!wholeOfScope && !list.cut && list.cases.length > marked.length && (
                    <Button size="compact-xs" variant="subtle" onClick={() => setWholeOfScope(true)}>
                      take all {list.cases.length}
                    </Button>
                  )}
                  <Button size="compact-xs" variant="subtle" onClick={clear}>
                    none
                  </Button>
                </span>
                <span className={styles.markedActions}>
                  <CaseActions
                    appSlug={frame.app.slug}
                    target={wholeOfScope ? { scope: list.address } : { cases: marked }}
                    versions={list.stripVersions.map((one) => one.version)}
                    colleagues={file?.colleagues ?? []}
                    me={frame.account.email}
                    isDone={view.scope.cases !== 'open'}
                    assignee={null}
                    hasKeys
                    onDone={clear}
                  />
                </span>
              </section>
            )}
            {list.cases.length === 0 && <p className={styles.noneLeft}>{nothing}.</p>}
            <ul className={styles.rows}>
              {list.cases.map((item) => (
                <CaseRow
                  key={item.ref}
                  item={item}
                  versions={list.stripVersions}
                  selected={item.ref === view.selected}
                  marked={marked.includes(item.ref) || wholeOfScope}
                  now={list.now}
                  href={pageAddress(item.ref)}
                  onSelect={() => select(item.ref)}
                />
              ))}
            </ul>
          </section>
          {/* The evidence scrolls by itself, so the keyboard must reach it. */}
          {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a scrollable region */}
          <section className={styles.evidence} aria-label="Evidence" aria-busy={stale} tabIndex={0}>
            <ProblemNotice problem={fileProblem} />
            {/* Another case's evidence beside the selected row would mislead when its own cannot be had. */}
            {file && view.selected !== null && !(fileProblem && stale) && (
              <CaseFileView
                frame={frame}
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
  );
}

const deskKeys = (mayAct: boolean): readonly KeyWords[] => [
  { keys: ['j', 'k'], does: 'next and previous case' },
  { keys: ['o'], does: 'open the case as a page' },
  ...(mayAct
    ? [
        { keys: ['x'], does: 'mark the case, for what is done to several' },
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
