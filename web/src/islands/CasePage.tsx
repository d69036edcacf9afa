import type { Scope } from '@rough-ember/core/scope/scope';
import type { CaseFile } from '@rough-ember/server/desk/case-file';
import { useState } from 'react';
import { AskedAction, type AskedActionName } from '../case-file/AskedAction';
import { CaseFileView } from '../case-file/CaseFileView';
import { addressOf } from '../client/api';
import { useLive } from '../client/use-live';
import { search } from '../desk/desk-address';
import { caseKeys, KeyHelp } from '../desk/KeyHelp';
import { useShortcuts } from '../desk/use-shortcuts';
import { ScopeSentence } from '../scope/ScopeSentence';
import { ScopeContext } from '../scope/scope-context';
import { ProblemNotice } from '../shell/Notice';
import type { PageShell } from '../shell/page-shell';
import { Shell } from '../shell/Shell';
import styles from './CasePage.module.css';

export interface CasePageProps {
  readonly shell: PageShell;
  readonly file: CaseFile;
  /** The scope of the address. */
  readonly wanted: Scope;
  readonly versions: readonly string[];
  /** What the link of a message asks to be done. */
  readonly asked: AskedActionName | null;
}

/** One case as a page of its own. */
export function CasePage(props: CasePageProps) {
  return (
    <Shell shell={props.shell} place="cases">
      <Case {...props} />
    </Shell>
  );
}

function Case({ shell, file: initialFile, wanted: scope, versions, asked }: CasePageProps) {
  const [position, setPosition] = useState(initialFile.position);
  const [raw, setRaw] = useState(false);
  const [showsKeys, setShowsKeys] = useState(false);
  const path = addressOf(
    'GET /apps/{app}/cases/{ref}',
    { app: shell.app.slug, ref: initialFile.item.ref },
    search(scope, { report: String(position) }),
  );
  const { data: file, problem, refresh } = useLive(shell.app.slug, path, initialFile);

  const step = (next: number) => {
    if (next < 0 || next >= file.item.reports) return;
    setPosition(next);
    window.history.replaceState(null, '', `${window.location.pathname}${search(scope, { report: next > 0 ? String(next) : null })}`);
  };
  useShortcuts({
    '[': () => step(position - 1),
    ']': () => step(position + 1),
    r: () => setRaw(!raw),
    '?': () => setShowsKeys(!showsKeys),
  });

  const holder = {
    scope,
    appSlug: shell.app.slug,
    change: (next: Scope) => window.location.assign(`${window.location.pathname}${search(next)}`),
  };
  return (
    <ScopeContext value={holder}>
      <main>
        <ScopeSentence appSlug={holder.appSlug} scope={scope} versions={versions} onChange={holder.change}>
          <a href={`/apps/${shell.app.slug}/cases${search(scope, { case: file.item.ref })}`}>Back to the list</a>
        </ScopeSentence>
        <ProblemNotice problem={problem} />
        {asked !== null && shell.account.role !== 'viewer' && (
          <AskedAction appSlug={holder.appSlug} caseRef={file.item.ref} asked={asked} me={shell.account.email} onDone={refresh} />
        )}
        <KeyHelp keys={caseKeys(shell.account.role !== 'viewer')} opened={showsKeys} onClose={() => setShowsKeys(false)} />
        <div className={styles.sheet}>
          <CaseFileView shell={shell} scope={scope} file={file} onStep={step} raw={raw} onRaw={setRaw} />
        </div>
      </main>
    </ScopeContext>
  );
}
