import { Button, FileInput, Progress, TextInput } from '@mantine/core';
import type { BuildNeed, SymbolFileView, SymbolOverview } from '@rough-ember/server/symbols/symbol-overview';
import { type SubmitEvent, useEffect, useState } from 'react';
import { RequestProblem } from '../client/api';
import { useLive } from '../client/use-live';
import { CommandBlock } from '../shell/CommandBlock';
import type { Frame } from '../shell/frame';
import { ProblemNotice } from '../shell/Notice';
import { Shell } from '../shell/Shell';
import { SidePage } from '../shell/SidePage';
import { MissingSymbols } from '../symbols/MissingSymbols';
import { NeedMatrix } from '../symbols/NeedMatrix';
import { type MatrixCell, needMatrix } from '../symbols/need-matrix';
import { wordCovers, wordWarnings } from '../symbols/part-words';
import { withoutIt, wordSymbolFile } from '../symbols/symbol-words';
import { uploadCommand } from '../symbols/upload-command';
import { uploadSymbolFile } from '../symbols/upload-symbol-file';
import { wordBytes, wordCount, wordNumber } from '../words/numbers';
import { wordTime } from '../words/time';
import styles from './SymbolsPage.module.css';

export interface SymbolsPageProps {
  readonly frame: Frame;
  readonly overview: SymbolOverview;
}

export function SymbolsPage(props: SymbolsPageProps) {
  return (
    <Shell frame={props.frame} place="symbols">
      <Symbols {...props} />
    </Shell>
  );
}

/** What running builds need against what is there: missing first, with what it costs and how to mend it. */
function Symbols({ frame, overview: initial }: SymbolsPageProps) {
  const { data: overview, problem } = useLive(frame.app.slug, `/api/v1/apps/${frame.app.slug}/symbol-files`, initial);
  const [chosen, setChosen] = useState<string | null>(null);
  const [search, setSearch] = useState('');
  const missing = overview.needs.filter((need) => !need.covered);
  const covered = overview.needs.length - missing.length;
  const cost = missing.reduce((sum, need) => sum + need.costReports, 0);
  const cells = needMatrix(overview.needs).rows.flatMap((row) => row.cells.filter((cell) => cell !== null));
  // Without a choice the side shows what costs most.
  const selected =
    cells.find((cell) => cell.key === chosen) ??
    cells.filter((cell) => cell.state === 'missing').sort((one, other) => other.costReports - one.costReports)[0] ??
    null;
  const sentence =
    overview.needs.length === 0 ? (
      'No running build has asked for a symbol file yet.'
    ) : (
      <>
        <b>{wordNumber(covered)}</b> of{' '}
        {wordCount(overview.needs.length, 'file that running builds need', 'files that running builds need')} {covered === 1 ? 'is' : 'are'}{' '}
        here
        {missing.length > 0 && (
          <>
            ; <b>{wordCount(missing.length, 'missing file costs', 'missing files cost')}</b>{' '}
            {wordCount(cost, 'report its names', 'reports their names')}
          </>
        )}
        .
      </>
    );
  const newest = overview.needs[0];
  const build = { version: newest?.version ?? '1.0.0', build: newest?.build ?? '100' };
  const side = (
    <>
      {selected && <CellDetail frame={frame} cell={selected} files={overview.files} />}
      {frame.account.role === 'viewer' ? <p>Uploading takes the role developer.</p> : <UploadForm frame={frame} />}
      <section className={styles.script}>
        <h2>From a build script</h2>
        <p>
          Upload the files of every build that leaves the house, also before anybody runs it. Name files or whole folders. The token comes
          from <a href={`/apps/${frame.app.slug}/intake`}>Intake</a>.
        </p>
        <CommandBlock
          command={`export EMBER_UPLOAD_TOKEN=upload_…\n${uploadCommand({ serverAddress: frame.serverAddress, appSlug: frame.app.slug, ...build, need: { kind: 'mapping', symbolId: null, name: null } })}`}
        />
      </section>
    </>
  );
  return (
    <SidePage sentence={sentence} problem={problem} side={side} sideLabel="Selected file and upload">
      <div className={styles.tables}>
        <Work reports={overview.reportsInWork} />
        {overview.needs.length > 0 && <NeedMatrix needs={overview.needs} selected={selected} onSelect={(cell) => setChosen(cell.key)} />}
        <Files files={overview.files} search={search} onSearch={setSearch} />
      </div>
    </SidePage>
  );
}

/** One cell of the matrix in words: what is missing and how to mend it, or what is there. */
function CellDetail({ frame, cell, files }: { frame: Frame; cell: MatrixCell; files: readonly SymbolFileView[] }) {
  return (
    <section className={styles.detail} aria-label="Selected file">
      {cell.needs.map((need) => {
        const key = `${need.build} ${need.symbolId}`;
        if (!need.covered)
          return (
            <div key={key} className={styles.detail}>
              <MissingSymbols
                appSlug={frame.app.slug}
                serverAddress={frame.serverAddress}
                version={need.version}
                build={need.build}
                kind={need.kind}
                symbolId={need.symbolId}
                name={need.name}
                cost={wordCost(need)}
                mayUpload={frame.account.role !== 'viewer'}
              />
              <NearMisses need={need} files={files} />
            </div>
          );
        return (
          <p key={key}>
            The {wordSymbolFile(need)} of {need.version} ({need.build}) {need.kind === 'code' ? 'are' : 'is'} here
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
  return `It leaves ${withoutIt[kind]} in ${wordCount(costReports, 'report', 'reports')}${people}.`;
}

/** Files of the same image whose id is another: not used, but it helps to see that they are not it. */
function NearMisses({ need, files }: { need: BuildNeed; files: readonly SymbolFileView[] }) {
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

/** Reports that are being named again; the total is the most that were seen waiting since the work began. */
function Work({ reports }: { reports: number }) {
  const [most, setMost] = useState(reports);
  useEffect(() => setMost((before) => (reports === 0 ? 0 : Math.max(before, reports))), [reports]);
  if (reports === 0) return null;
  const total = Math.max(most, reports);
  return (
    <section className={styles.work} aria-label="Under way">
      <span>
        Naming {wordCount(total, 'report', 'reports')} · {wordNumber(total - reports)} done
      </span>
      <Progress value={(100 * (total - reports)) / total} aria-label="Reports named" className={styles.progress} />
    </section>
  );
}

function Files({ files, search, onSearch }: { files: readonly SymbolFileView[]; search: string; onSearch: (search: string) => void }) {
  const wanted = search.trim().toLowerCase();
  const plain = wanted.replaceAll('-', '');
  const shown = files.filter(
    (file) =>
      wanted === '' ||
      `${file.fileName} ${file.version} ${file.build}`.toLowerCase().includes(wanted) ||
      file.parts.some((part) => part.symbolId?.toLowerCase().includes(plain) || part.name?.toLowerCase().includes(wanted)),
  );
  const space = files.reduce((sum, file) => sum + file.sizeBytes, 0);
  return (
    <section>
      <div className={styles.filesHead}>
        <h2>Files</h2>
        {files.length > 0 && (
          <>
            <span className={styles.faint}>
              {wordCount(files.length, 'file', 'files')}, {wordBytes(space)}
            </span>
            <TextInput
              aria-label="Find a file by id or name"
              placeholder="Find by id or name"
              size="xs"
              value={search}
              onChange={(event) => onSearch(event.currentTarget.value)}
            />
          </>
        )}
      </div>
      {files.length === 0 && (
        <p className={styles.none}>No symbol file has been uploaded yet. Choose files on the right, or let the build script send them.</p>
      )}
      {files.length > 0 && shown.length === 0 && (
        <p className={styles.none}>
          No file has “{search}” in its name or ids. If reports ask for it, it stands in the matrix above with the command that uploads it.
        </p>
      )}
      {shown.length > 0 && (
        <table className={styles.table}>
          <thead>
            <tr>
              <th>File</th>
              <th>Version</th>
              <th>State</th>
              <th>Covers</th>
              <th className={styles.figure}>Size</th>
              <th>Uploaded</th>
            </tr>
          </thead>
          <tbody>
            {shown.map((file) => (
              <tr key={file.id}>
                <td>
                  <code>{file.fileName}</code>
                  {file.parts.map(
                    (part) =>
                      part.symbolId && (
                        <div key={part.part} className={styles.fileId}>
                          {part.symbolId}
                        </div>
                      ),
                  )}
                </td>
                <td>{file.version === '' ? 'by its id' : `${file.version} (${file.build})`}</td>
                <td>
                  <FileState file={file} />
                </td>
                <td>
                  {file.parts.length === 0 && '–'}
                  {file.parts.map((part) => (
                    <div key={part.part}>{wordCovers(part)}</div>
                  ))}
                </td>
                <td className={styles.figure}>{wordBytes(file.sizeBytes)}</td>
                <td>
                  {wordTime(file.createdAt)}
                  <div className={styles.faint}>{file.uploadedBy}</div>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

function FileState({ file }: { file: SymbolFileView }) {
  if (file.state === 'refused')
    return (
      <>
        <b className={styles.refused}>refused</b>
        <div className={styles.reason}>{file.problem}</div>
      </>
    );
  if (file.state === 'indexing') return <>indexing …</>;
  return (
    <>
      {file.unused ? 'ready, unused so far' : 'ready'}
      {file.parts.flatMap(wordWarnings).map((warning) => (
        <div key={warning} className={styles.reason}>
          {warning}
        </div>
      ))}
    </>
  );
}

/** Any symbol files of any build; one that turns out to be something else is refused with what it looks like. */
function UploadForm({ frame }: { frame: Frame }) {
  const [files, setFiles] = useState<File[]>([]);
  const [said, setSaid] = useState<readonly string[]>([]);
  const [problems, setProblems] = useState<readonly RequestProblem[]>([]);
  const [busy, setBusy] = useState(false);
  const submit = async (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    if (files.length === 0) return setProblems([new RequestProblem('No file is chosen.', 'Choose the symbol files of a build.')]);
    setBusy(true);
    setProblems([]);
    setSaid([]);
    for (const file of files) {
      try {
        await uploadSymbolFile({ appSlug: frame.app.slug, version: String(form.get('version')), build: String(form.get('build')), file });
        setSaid((before) => [...before, `${file.name} is here and is being indexed.`]);
      } catch (error) {
        const problem = error instanceof RequestProblem ? error : new RequestProblem(String(error), 'Try again.');
        setProblems((before) => [...before, new RequestProblem(`${file.name}: ${problem.message}`, problem.remedy)]);
      }
    }
    setBusy(false);
  };
  return (
    <form className={styles.form} onSubmit={submit}>
      <h2>Upload symbol files</h2>
      <p className={styles.faint}>
        Mappings and source maps belong to a version and build. Libraries and dSYM files carry an id; for them leave both empty.
      </p>
      <div className={styles.pair}>
        <TextInput name="version" label="Version" placeholder="4.3.1" />
        <TextInput name="build" label="Build" placeholder="431" />
      </div>
      <FileInput label="Files" placeholder="mapping.txt, libsong.so, main.jsbundle.map" multiple value={files} onChange={setFiles} />
      <Button type="submit" variant="default" loading={busy}>
        Upload
      </Button>
      <div role="status">
        {said.map((text) => (
          <div key={text}>{text}</div>
        ))}
      </div>
      {problems.map((problem) => (
        <ProblemNotice key={problem.message} problem={problem} />
      ))}
    </form>
  );
}
