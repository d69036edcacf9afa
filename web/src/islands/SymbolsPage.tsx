import { familyOf, wordSymbolFile } from '@rough-ember/core/symbols/families';
import type { BuildNeed, SymbolFileView, SymbolOverview } from '@rough-ember/server/symbols/symbol-overview';
import { type ReactNode, useState } from 'react';
import { addressOf } from '../client/api';
import { useLive } from '../client/use-live';
import { CommandBlock } from '../shell/CommandBlock';
import type { PageShell } from '../shell/page-shell';
import { Shell } from '../shell/Shell';
import { SidePage } from '../shell/SidePage';
import { useTimes } from '../shell/use-times';
import { MissingSymbols } from '../symbols/MissingSymbols';
import { NamingWork } from '../symbols/NamingWork';
import { NeedMatrix } from '../symbols/NeedMatrix';
import { type MatrixCell, needMatrix } from '../symbols/need-matrix';
import { SymbolFiles } from '../symbols/SymbolFiles';
import { isOrAre } from '../symbols/symbol-words';
import { UploadSymbols } from '../symbols/UploadSymbols';
import { uploadCommand } from '../symbols/upload-command';
import { wordCount, wordNumber } from '../words/numbers';
import styles from './SymbolsPage.module.css';

export interface SymbolsPageProps {
  readonly shell: PageShell;
  readonly overview: SymbolOverview;
}

export function SymbolsPage(props: SymbolsPageProps) {
  return (
    <Shell shell={props.shell} place="symbols">
      <Symbols {...props} />
    </Shell>
  );
}

/** What running builds need against what is there: missing first, with what it costs and how to mend it. */
function Symbols({ shell, overview: initial }: SymbolsPageProps) {
  const { data: overview, problem } = useLive(shell.app.slug, addressOf('GET /apps/{app}/symbol-files', { app: shell.app.slug }), initial);
  const [chosen, setChosen] = useState<string | null>(null);
  const cells = needMatrix(overview.needs).rows.flatMap((row) => row.cells.filter((cell) => cell !== null));
  // Without a choice the side shows what costs most.
  const selected =
    cells.find((cell) => cell.key === chosen) ??
    cells.filter((cell) => cell.state === 'missing').sort((one, other) => other.costReports - one.costReports)[0] ??
    cells.find((cell) => cell.state === 'misfit') ??
    null;
  const side = (
    <>
      {selected && <CellDetail shell={shell} cell={selected} files={overview.files} />}
      {shell.account.role === 'viewer' ? <p>Uploading takes the role developer.</p> : <UploadSymbols appSlug={shell.app.slug} />}
      <BuildScript shell={shell} needs={overview.needs} />
    </>
  );
  return (
    <SidePage sentence={sentenceOf(overview.needs)} problem={problem} side={side} sideLabel="Selected file and upload">
      <div className={styles.tables}>
        <NamingWork reports={overview.reportsInWork} />
        {overview.needs.length > 0 && <NeedMatrix needs={overview.needs} selected={selected} onSelect={(cell) => setChosen(cell.key)} />}
        <SymbolFiles appSlug={shell.app.slug} files={overview.files} mayDelete={shell.account.role !== 'viewer'} />
      </div>
    </SidePage>
  );
}

function sentenceOf(needs: SymbolOverview['needs']): ReactNode {
  if (needs.length === 0) return 'No running build has asked for a symbol file yet.';
  const missing = needs.filter((need) => !need.covered);
  const covered = needs.length - missing.length;
  const unfitting = needs.filter((need) => need.misfit !== null).length;
  const cost = missing.reduce((sum, need) => sum + need.costReports, 0);
  return (
    <>
      <b>{wordNumber(covered)}</b> of {wordCount(needs.length, 'file that running builds need', 'files that running builds need')}{' '}
      {covered === 1 ? 'is' : 'are'} here
      {unfitting > 0 && (
        <>
          , of which <b>{wordNumber(unfitting)}</b> {unfitting === 1 ? 'does' : 'do'} not fit
        </>
      )}
      {missing.length > 0 && (
        <>
          ; <b>{wordCount(missing.length, 'missing file costs', 'missing files cost')}</b>{' '}
          {wordCount(cost, 'report its names', 'reports their names')}
        </>
      )}
      .
    </>
  );
}

/** The command for a build script, shown with a file that this app's builds really need. */
function BuildScript({ shell, needs }: { shell: PageShell; needs: SymbolOverview['needs'] }) {
  const newest = needs.find((need) => need.kind !== 'code') ?? needs[0];
  const { version, build, ...example } = newest ?? { version: '1.0.0', build: '100', kind: 'mapping' as const, name: null };
  const appSlug = shell.app.slug;
  const command = uploadCommand({ server: shell, appSlug, version, build, need: { ...example, symbolId: null } });
  return (
    <section className={styles.script}>
      <h2>From a build script</h2>
      <p>
        Upload the files of every build that leaves the house, also before anybody runs it. Name files or whole folders. The token comes
        from <a href={`/apps/${appSlug}/intake`}>Intake</a>.
      </p>
      <CommandBlock command={`export EMBER_UPLOAD_TOKEN=upload_…\n${command}`} />
    </section>
  );
}

/** One cell of the matrix in words: what is missing and how to mend it, or what is there. */
function CellDetail({ shell, cell, files }: { shell: PageShell; cell: MatrixCell; files: readonly SymbolFileView[] }) {
  return (
    <section className={styles.detail} aria-label="Selected file">
      {cell.needs.map((need) => {
        const key = `${need.build} ${need.symbolId}`;
        if (!need.covered || need.misfit !== null)
          return (
            <div key={key} className={styles.detail}>
              <MissingSymbols
                appSlug={shell.app.slug}
                server={shell}
                version={need.version}
                build={need.build}
                kind={need.kind}
                symbolId={need.symbolId}
                name={need.name}
                cost={wordCost(need)}
                misfit={need.misfit}
                mayUpload={shell.account.role !== 'viewer'}
              />
              <NearMisses need={need} files={files} />
            </div>
          );
        return (
          <p key={key}>
            The {wordSymbolFile(need)} of {need.version} ({need.build}) {isOrAre(need)} here
            {need.symbolId && (
              <>
                , id <code className={styles.id}>{need.symbolId}</code>
              </>
            )}
            . {wordCount(need.reports, 'report uses', 'reports use')} it.
          </p>
        );
      })}
    </section>
  );
}

/** What a missing file costs; reports that name no person say nothing of people. */
function wordCost({ kind, costReports, costPeople }: BuildNeed): string {
  const people = costPeople === 0 ? '' : ` of ${wordCount(costPeople, 'person', 'people')}`;
  return `It leaves ${familyOf(kind).withoutIt} in ${wordCount(costReports, 'report', 'reports')}${people}.`;
}

/** Files of the same image whose id is another: not used, but it helps to see that they are not it. */
function NearMisses({ need, files }: { need: BuildNeed; files: readonly SymbolFileView[] }) {
  const { wordTime } = useTimes();
  if (need.symbolId === null) return null;
  const others = files.flatMap((file) =>
    file.parts
      .filter((part) => part.kind === need.kind && part.name === need.name && part.symbolId !== null)
      .map((part) => ({ file, part })),
  );
  if (others.length === 0) return null;
  return (
    <p className={styles.faint}>
      Close but not it, and not used:{' '}
      {others.slice(0, 3).map(({ file, part }, index) => (
        <span key={`${file.id} ${part.part}`}>
          {index > 0 && '; '}
          <code>{shortId(part.symbolId as string)}</code>
          {file.version && ` of ${file.version}`}, uploaded {wordTime(file.createdAt)}
        </span>
      ))}
      .
    </p>
  );
}

const shortId = (id: string): string => (id.length > 12 ? `${id.slice(0, 6)}…${id.slice(-4)}` : id);
