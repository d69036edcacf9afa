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
import { MissingMapping } from '../symbols/MissingMapping';
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
  const missing = overview.needs.filter((need) => !need.covered);
  const covered = overview.needs.length - missing.length;
  const newest = overview.needs[0];
  const cost = missing.reduce((sum, need) => sum + need.costReports, 0);
  const sentence =
    overview.needs.length === 0 ? (
      'No running build has asked for a mapping yet.'
    ) : (
      <>
        <b>{wordNumber(covered)}</b> of{' '}
        {wordCount(overview.needs.length, 'running build has its mapping', 'running builds have their mapping')}
        {missing.length > 0 && (
          <>
            ; <b>{wordCount(missing.length, 'missing file costs', 'missing files cost')}</b>{' '}
            {wordCount(cost, 'report its names', 'reports their names')}
          </>
        )}
        .
      </>
    );
  const build = { version: newest?.version ?? '1.0.0', build: newest?.build ?? '100' };
  const side = (
    <>
      {missing.map((need) => (
        <MissingMapping
          key={`${need.version} ${need.build} ${need.mapId}`}
          appSlug={frame.app.slug}
          serverAddress={frame.serverAddress}
          version={need.version}
          build={need.build}
          mapId={need.mapId}
          cost={`It leaves the names obfuscated in ${wordCount(need.costReports, 'report', 'reports')} of ${wordCount(need.costPeople, 'person', 'people')}.`}
          mayUpload={frame.account.role !== 'viewer'}
        />
      ))}
      {frame.account.role === 'viewer' ? <p>Uploading takes the role developer.</p> : <UploadForm frame={frame} />}
      <section className={styles.script}>
        <h2>From a build script</h2>
        <p>
          Upload the mapping of every build that leaves the house, also before anybody runs it. The token comes from{' '}
          <a href={`/apps/${frame.app.slug}/intake`}>Intake</a>.
        </p>
        <CommandBlock
          command={`export EMBER_UPLOAD_TOKEN=upload_…\n${uploadCommand({ serverAddress: frame.serverAddress, appSlug: frame.app.slug, ...build })}`}
        />
      </section>
    </>
  );
  return (
    <SidePage sentence={sentence} problem={problem} side={side} sideLabel="Upload">
      <div className={styles.tables}>
        <Work reports={overview.reportsInWork} />
        {overview.needs.length > 0 && <Needs needs={overview.needs} />}
        <Files files={overview.files} />
      </div>
    </SidePage>
  );
}

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

function Needs({ needs }: { needs: readonly BuildNeed[] }) {
  return (
    <section>
      <h2>Running builds</h2>
      <table className={styles.table}>
        <thead>
          <tr>
            <th>Version</th>
            <th>Build</th>
            <th>Mapping</th>
            <th className={styles.figure}>Reports</th>
            <th className={styles.figure}>Unreadable</th>
          </tr>
        </thead>
        <tbody>
          {needs.map((need) => (
            <tr key={`${need.version} ${need.build} ${need.mapId}`}>
              <td>
                <b>{need.version}</b>
              </td>
              <td>{need.build}</td>
              <td>
                <span className={need.covered ? styles.have : styles.missing}>{need.covered ? 'have it' : 'missing'}</span>
                {need.mapId && <code> {need.mapId}</code>}
              </td>
              <td className={styles.figure}>{wordNumber(need.reports)}</td>
              <td className={styles.figure}>{need.costReports === 0 ? '–' : wordNumber(need.costReports)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Files({ files }: { files: readonly SymbolFileView[] }) {
  return (
    <section>
      <h2>Files</h2>
      {files.length === 0 ? (
        <p className={styles.none}>No symbol file has been uploaded yet.</p>
      ) : (
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
            {files.map((file) => (
              <tr key={file.id}>
                <td>
                  <code>{file.fileName}</code>
                </td>
                <td>
                  {file.version} ({file.build})
                </td>
                <td>
                  <FileState file={file} />
                </td>
                <td>
                  {file.summary
                    ? `${wordCount(file.summary.classes, 'class', 'classes')}, ${wordCount(file.summary.methods, 'method', 'methods')}`
                    : '–'}
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
  const unreadable = file.summary?.unreadableLines ?? 0;
  return (
    <>
      {file.unused ? 'ready, unused so far' : 'ready'}
      {unreadable > 0 && <div className={styles.reason}>{wordCount(unreadable, 'line', 'lines')} could not be read</div>}
    </>
  );
}

/** Any mapping of any build; a file that turns out to be something else is refused with what it looks like. */
function UploadForm({ frame }: { frame: Frame }) {
  const [file, setFile] = useState<File | null>(null);
  const [said, setSaid] = useState<string | null>(null);
  const [problem, setProblem] = useState<RequestProblem | null>(null);
  const [busy, setBusy] = useState(false);
  const submit = async (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    if (!file) return setProblem(new RequestProblem('No file is chosen.', 'Choose the mapping.txt of the build.'));
    setBusy(true);
    setProblem(null);
    setSaid(null);
    try {
      await uploadSymbolFile({
        appSlug: frame.app.slug,
        version: String(form.get('version')),
        build: String(form.get('build')),
        file,
      });
      setSaid(`${file.name} is here and is being indexed.`);
    } catch (error) {
      setProblem(error instanceof RequestProblem ? error : new RequestProblem(String(error), 'Try again.'));
    }
    setBusy(false);
  };
  return (
    <form className={styles.form} onSubmit={submit}>
      <h2>Upload a mapping</h2>
      <div className={styles.pair}>
        <TextInput name="version" label="Version" placeholder="4.3.1" required />
        <TextInput name="build" label="Build" placeholder="431" required />
      </div>
      <FileInput label="Mapping file" placeholder="mapping.txt" required value={file} onChange={setFile} />
      <Button type="submit" variant="default" loading={busy}>
        Upload
      </Button>
      <div role="status">{said}</div>
      <ProblemNotice problem={problem} />
    </form>
  );
}
