import { Button, Menu, TextInput } from '@mantine/core';
import type { SheetContent } from '@rough-ember/core/ask/sheet';
import { parseScope, printScope, type Scope } from '@rough-ember/core/scope/scope';
import type { SheetView } from '@rough-ember/server/ask/sheets';
import { useState } from 'react';
import styles from '../ask/Sheet.module.css';
import { SheetCharts } from '../ask/SheetCharts';
import { request } from '../client/api';
import { useAddress } from '../client/use-address';
import { useAttempt } from '../client/use-attempt';
import { search } from '../desk/desk-address';
import { ScopeSentence } from '../scope/ScopeSentence';
import { ScopeContext } from '../scope/scope-context';
import { CopyButton } from '../shell/CopyButton';
import { ProblemNotice } from '../shell/Notice';
import type { PageShell } from '../shell/page-shell';
import { Shell } from '../shell/Shell';

export interface SheetPageProps {
  readonly shell: PageShell;
  readonly sheet: SheetView;
  /** Of the charts that have none of their own; that of the sheet unless the address says another. */
  readonly scope: Scope;
  /** Oldest first. */
  readonly versions: readonly string[];
}

export function SheetPage(props: SheetPageProps) {
  return (
    <Shell shell={props.shell} place="ask">
      <SheetOfCharts {...props} />
    </Shell>
  );
}

const readScope = (parameters: URLSearchParams): Scope | null => {
  const scope = parseScope(parameters);
  return scope.ok ? scope.value : null;
};

/** A sheet: its charts, of one scope or each of its own, laid out as whoever made it wants. */
function SheetOfCharts({ shell, sheet: first, scope: firstScope, versions }: SheetPageProps) {
  const [sheet, setSheet] = useState(first);
  const [scope, go] = useAddress(firstScope, readScope, search);
  const [title, setTitle] = useState<string | null>(null);
  const { problem, attempt } = useAttempt();
  const appSlug = shell.app.slug;
  const path = { app: appSlug, sheet: sheet.name };
  const mayChange = shell.account.role !== 'viewer' && !sheet.isExample;
  const keep = (more: Partial<SheetContent>) =>
    attempt(async () => {
      const before = sheet;
      const content = { title: sheet.title, forTeam: sheet.forTeam, scope: sheet.scope, charts: sheet.charts, ...more };
      // It stands where it was put while it is kept.
      setSheet({ ...sheet, ...content });
      try {
        const { revision } = await request('PUT /apps/{app}/sheets/{sheet}', path, { body: { ...content, revision: sheet.revision } });
        setSheet({ ...sheet, ...content, revision });
      } catch (error) {
        setSheet(before);
        throw error;
      }
    });
  const isOtherScope = printScope(scope) !== sheet.scope;
  return (
    <ScopeContext value={{ scope, appSlug, change: go }}>
      <main>
        <ScopeSentence appSlug={appSlug} scope={scope} versions={versions} onChange={go}>
          {mayChange && isOtherScope && (
            <Button size="compact-xs" variant="default" onClick={() => void keep({ scope: printScope(scope) })}>
              Keep this scope for the sheet
            </Button>
          )}
        </ScopeSentence>
        <div className={styles.head}>
          {title === null ? (
            <h1>{sheet.title}</h1>
          ) : (
            <TextInput
              aria-label="Title of the sheet"
              value={title}
              autoFocus
              maxLength={200}
              onChange={(event) => setTitle(event.currentTarget.value)}
              onBlur={() => setTitle(null)}
              onKeyDown={(event) => {
                if (event.key === 'Escape') setTitle(null);
                if (event.key === 'Enter' && title.trim() !== '') {
                  setTitle(null);
                  void keep({ title: title.trim() });
                }
              }}
            />
          )}
          <span className={styles.faint}>
            {sheet.isExample ? 'ships with the product' : `${sheet.forTeam ? 'for the team' : 'only yours'}, of ${sheet.madeBy}`}
          </span>
          <SheetActions
            shell={shell}
            sheet={sheet}
            mayChange={mayChange}
            onRename={() => setTitle(sheet.title)}
            onKeep={keep}
            onShared={(isShared) => setSheet({ ...sheet, isShared })}
          />
        </div>
        <ProblemNotice problem={problem} />
        {sheet.charts.length === 0 && (
          <p className={styles.made}>
            The sheet is empty. <a href={`/apps/${appSlug}/ask`}>Ask something</a>, and keep the answer here.
          </p>
        )}
        <SheetCharts charts={sheet.charts} scope={scope} onChange={mayChange ? (charts) => void keep({ charts: [...charts] }) : null} />
      </main>
    </ScopeContext>
  );
}

interface SheetActionsProps {
  readonly shell: PageShell;
  readonly sheet: SheetView;
  readonly mayChange: boolean;
  readonly onRename: () => void;
  readonly onKeep: (more: Partial<SheetContent>) => Promise<boolean>;
  readonly onShared: (isShared: boolean) => void;
}

function SheetActions({ shell, sheet, mayChange, onRename, onKeep, onShared }: SheetActionsProps) {
  const { problem, attempt } = useAttempt();
  const [link, setLink] = useState<string | null>(null);
  const path = { app: shell.app.slug, sheet: sheet.name };
  const here = `/apps/${shell.app.slug}/sheets`;
  const copy = () =>
    attempt(async () => {
      const { title, charts, scope } = sheet;
      const made = await request(
        'POST /apps/{app}/sheets',
        { app: shell.app.slug },
        { body: { title: sheet.isExample ? title : `${title}, a copy`, charts, scope } },
      );
      window.location.assign(`${here}/${made.name}`);
    });
  const share = () =>
    attempt(async () => {
      setLink((await request('POST /apps/{app}/sheets/{sheet}/link', path)).link);
      onShared(true);
    });
  const revoke = () =>
    attempt(async () => {
      await request('DELETE /apps/{app}/sheets/{sheet}/link', path);
      setLink(null);
      onShared(false);
    });
  const drop = () =>
    attempt(async () => {
      await request('DELETE /apps/{app}/sheets/{sheet}', path);
      window.location.assign(here);
    });
  return (
    <span className={styles.actions}>
      <ProblemNotice problem={problem} />
      <span role="status">
        {link && (
          <>
            Shown this once: <code>{link}</code> <CopyButton text={link}>Copy</CopyButton> <a href={link}>Open it</a>
          </>
        )}
      </span>
      <a href={here}>All sheets</a>
      {shell.account.role !== 'viewer' && (
        <Menu width={270} position="bottom-end">
          <Menu.Target>
            <Button size="compact-sm" variant="default">
              Sheet ▾
            </Button>
          </Menu.Target>
          <Menu.Dropdown>
            <Menu.Item onClick={() => void copy()}>{sheet.isExample ? 'Make it yours, to change it' : 'Make a copy'}</Menu.Item>
            {mayChange && (
              <>
                <Menu.Item onClick={onRename}>Another title …</Menu.Item>
                <Menu.Item onClick={() => void onKeep({ forTeam: !sheet.forTeam })}>
                  {sheet.forTeam ? 'Keep it for yourself' : 'Give it to the team'}
                </Menu.Item>
                <Menu.Item onClick={() => void share()}>
                  {sheet.isShared ? 'A new link without a sign-in; the old one ends' : 'Make a link without a sign-in'}
                </Menu.Item>
                {sheet.isShared && <Menu.Item onClick={() => void revoke()}>Revoke its link</Menu.Item>}
                <Menu.Divider />
                <Menu.Item onClick={() => void drop()}>Drop the sheet</Menu.Item>
              </>
            )}
          </Menu.Dropdown>
        </Menu>
      )}
    </span>
  );
}
