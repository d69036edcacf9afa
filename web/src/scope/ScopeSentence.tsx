import { Menu, UnstyledButton } from '@mantine/core';
import { reportKinds } from '@rough-ember/core/report/report-kinds';
import {
  buildScopes,
  caseScopes,
  type Scope,
  scopeDays,
  wordBuilds,
  wordCases,
  wordDays,
  wordKinds,
  wordVersions,
} from '@rough-ember/core/scope/scope';
import { type ReactNode, useState } from 'react';
import { useShortcuts } from '../desk/use-shortcuts';
import { Conditions } from './Conditions';
import { FilterForm } from './FilterForm';
import styles from './ScopeSentence.module.css';
import { Views } from './Views';

/** The filter of the screen as a sentence whose words are its controls. */
export function ScopeSentence({
  appSlug,
  scope,
  versions,
  onChange,
  choosesCases = false,
  mayKeep = false,
  subject,
  children,
}: {
  /** Address of the app in the API. */
  appSlug: string;
  scope: Scope;
  /** Oldest first. */
  versions: readonly string[];
  onChange: (scope: Scope) => void;
  /** Whether it also says which cases a list shows. */
  choosesCases?: boolean;
  /** Whether the scope can be kept as a view. */
  mayKeep?: boolean;
  /** What the sentence is about, where it is not reports of some kinds. */
  subject?: ReactNode;
  /** What the scope holds, at the right. */
  children?: ReactNode;
}) {
  const [writes, setWrites] = useState(false);
  useShortcuts({ '/': () => setWrites(true) });
  const newestFirst = [...versions].reverse();
  const toggleKind = (kind: (typeof reportKinds)[number]) => {
    const kinds = reportKinds.filter((one) => (one === kind) !== scope.kinds.includes(one));
    if (kinds.length > 0) onChange({ ...scope, kinds });
  };
  return (
    <search className={styles.scope} aria-label="Scope">
      {subject ?? (
        <Menu width={220}>
          <Word>{wordKinds(scope.kinds)}</Word>
          <Menu.Dropdown>
            {reportKinds.map((kind) => (
              <Menu.CheckboxItem key={kind} checked={scope.kinds.includes(kind)} onChange={() => toggleKind(kind)}>
                {wordKinds([kind])}
              </Menu.CheckboxItem>
            ))}
          </Menu.Dropdown>
        </Menu>
      )}
      of
      <Menu width={200}>
        <Word>{wordBuilds(scope.builds)}</Word>
        <Menu.Dropdown>
          {buildScopes.map((builds) => (
            <Menu.Item key={builds} onClick={() => onChange({ ...scope, builds })}>
              {wordBuilds(builds).replace(/^./, (letter) => letter.toUpperCase())}
            </Menu.Item>
          ))}
        </Menu.Dropdown>
      </Menu>
      in
      <Menu width={220}>
        <Word>{wordVersions(scope.versions)}</Word>
        <Menu.Dropdown className={styles.long}>
          <Menu.Item onClick={() => onChange({ ...scope, versions: { match: 'any' } })}>Any version</Menu.Item>
          <Menu.Divider />
          {newestFirst.map((version) => (
            <Menu.Item key={version} onClick={() => onChange({ ...scope, versions: { match: 'only', version } })}>
              {version} only
            </Menu.Item>
          ))}
          <Menu.Divider />
          {newestFirst.slice(1).map((version) => (
            <Menu.Item key={version} onClick={() => onChange({ ...scope, versions: { match: 'from', version } })}>
              {version} and later
            </Menu.Item>
          ))}
        </Menu.Dropdown>
      </Menu>
      <span className={styles.comma}>,</span>
      <Menu width={180}>
        <Word>{wordDays(scope.days)}</Word>
        <Menu.Dropdown>
          {[...scopeDays, null].map((days) => (
            <Menu.Item key={days} onClick={() => onChange({ ...scope, days })}>
              {wordDays(days).replace(/^./, (letter) => letter.toUpperCase())}
            </Menu.Item>
          ))}
        </Menu.Dropdown>
      </Menu>
      {choosesCases && (
        <>
          <span className={styles.comma}>:</span>
          <Menu width={200}>
            <Word>{wordCases(scope.cases)}</Word>
            <Menu.Dropdown>
              {caseScopes.map((cases) => (
                <Menu.Item key={cases} onClick={() => onChange({ ...scope, cases })}>
                  {wordCases(cases).replace(/^./, (letter) => letter.toUpperCase())}
                </Menu.Item>
              ))}
            </Menu.Dropdown>
          </Menu>
        </>
      )}
      {!writes && <Conditions appSlug={appSlug} scope={scope} onChange={onChange} onWrite={() => setWrites(true)} />}
      <span className={styles.holds}>
        {children}
        {choosesCases && ' · '}
        {choosesCases && <Views appSlug={appSlug} scope={scope} mayKeep={mayKeep} />}
      </span>
      {writes && (
        <FilterForm
          appSlug={appSlug}
          scope={scope}
          onDone={(filter) => {
            setWrites(false);
            onChange({ ...scope, filter });
          }}
          onLeave={() => setWrites(false)}
        />
      )}
    </search>
  );
}

function Word({ children }: { children: string }) {
  return (
    <Menu.Target>
      <UnstyledButton className={styles.word}>{children}</UnstyledButton>
    </Menu.Target>
  );
}
