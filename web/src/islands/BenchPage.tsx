import { Button, FileButton, Progress, Textarea, UnstyledButton } from '@mantine/core';
import { wordFit } from '@rough-ember/core/symbolicate/judge-fit';
import type { ReadableFrame } from '@rough-ember/core/symbolicate/readable-report';
import { familyOf, wordSymbolFile } from '@rough-ember/core/symbols/families';
import { useState } from 'react';
import type { BenchReport } from '../bench/messages';
import { type BenchFile, type BenchResult, useBench } from '../bench/use-bench';
import { request } from '../client/api';
import { useAttempt } from '../client/use-attempt';
import { useFileDrop } from '../client/use-file-drop';
import { ProblemNotice } from '../shell/Notice';
import type { PageShell } from '../shell/page-shell';
import { Shell } from '../shell/Shell';
import { FrameList, RawStacks, Stacks } from '../stack/StackView';
import { isOrAre } from '../symbols/symbol-words';
import { wordBytes, wordCount } from '../words/numbers';
import { sentence } from '../words/sentence';
import styles from './BenchPage.module.css';

export interface BenchPageProps {
  readonly shell: PageShell;
  readonly ourPackages: readonly string[];
}

export function BenchPage({ shell, ourPackages }: BenchPageProps) {
  return (
    <Shell shell={shell} place="bench">
      <Bench shell={shell} ourPackages={ourPackages} />
    </Shell>
  );
}

/** Symbolicates in the browser, with the same core as the server: a crash text on one side, its symbol files below it. */
function Bench({ shell, ourPackages }: BenchPageProps) {
  const { files, result, add, remove, setCrash } = useBench(ourPackages);
  const [text, setText] = useState('');
  const [crashFile, setCrashFile] = useState<string | null>(null);
  const take = (written: string) => {
    setText(written);
    setCrashFile(null);
    setCrash(written.trim() === '' ? null : new TextEncoder().encode(written));
  };
  const takeFile = async (file: File | null) => {
    if (!file) return;
    const bytes = new Uint8Array(await file.arrayBuffer());
    setText('');
    setCrashFile(file.name);
    setCrash(bytes);
  };
  return (
    <main>
      <div className={styles.sentence}>
        A crash and its symbol files, read in this browser. <b>Nothing is sent.</b>
      </div>
      <div className={styles.columns}>
        <section className={styles.given} aria-label="What is given">
          <Textarea
            label="Crash text"
            placeholder="Paste a stack trace or a crash report"
            rows={14}
            value={text}
            onChange={(event) => take(event.currentTarget.value)}
            classNames={{ input: styles.text as string }}
          />
          <div className={styles.row}>
            <FileButton onChange={takeFile}>
              {(props) => (
                <UnstyledButton {...props} className={styles.link}>
                  or choose a crash file
                </UnstyledButton>
              )}
            </FileButton>
            {crashFile && <code>{crashFile}</code>}
          </div>
          <SymbolFiles files={files} onAdd={add} onRemove={remove} />
        </section>
        <section className={styles.result} aria-label="Symbolicated">
          <Result shell={shell} result={result} files={files} />
        </section>
      </div>
    </main>
  );
}

function SymbolFiles({
  files,
  onAdd,
  onRemove,
}: {
  files: readonly BenchFile[];
  onAdd: (files: readonly File[]) => void;
  onRemove: (file: BenchFile) => void;
}) {
  const drop = useFileDrop((dropped) => onAdd([...dropped]));
  return (
    <div>
      <h2>Symbol files</h2>
      <section className={styles.drop} {...drop} aria-label="Drop symbol files">
        Drop mappings, libraries, dSYM files and source maps here, or{' '}
        <FileButton multiple onChange={onAdd}>
          {(props) => (
            <UnstyledButton {...props} className={styles.link}>
              choose them
            </UnstyledButton>
          )}
        </FileButton>
      </section>
      <ul className={styles.files}>
        {files.map((file) => (
          <li key={file.id}>
            <div>
              <code>{file.file.name}</code> <span className={styles.soft}>{wordBytes(file.file.size)}</span>
            </div>
            <Button size="compact-xs" variant="default" onClick={() => onRemove(file)} aria-label={`Take away ${file.file.name}`}>
              {'share' in file.state ? 'Cancel' : 'Take away'}
            </Button>
            <FileState state={file.state} />
          </li>
        ))}
      </ul>
    </div>
  );
}

function FileState({ state }: { state: BenchFile['state'] }) {
  if ('share' in state) return <Progress value={Math.max(3, 100 * state.share)} aria-label="Reading the file" className={styles.wide} />;
  if ('refused' in state) return <div className={`${styles.wide} ${styles.refused}`}>{state.refused}</div>;
  return (
    <div className={`${styles.wide} ${styles.soft}`}>
      {state.parts.map((part) => (
        <div key={`${part.symbolId} ${part.name}`}>
          {familyOf(part.kind).title}, {part.symbolId ? <span className={styles.id}>{part.symbolId}</span> : 'no id'}
        </div>
      ))}
    </div>
  );
}

function Result({ shell, result, files }: { shell: PageShell; result: BenchResult; files: readonly BenchFile[] }) {
  if (result === null)
    return (
      <p className={styles.soft}>
        Paste a crash on the left. Its stack appears here at once, and becomes readable as its symbol files are added. Every frame says how
        it was resolved, or which file it lacks.
      </p>
    );
  if ('unreadable' in result)
    return (
      <div role="status">
        <b className={styles.refused}>This is no crash that can be read</b>: {result.unreadable}.
      </div>
    );
  const numbered = result.reports.map((report, number) => ({ report, number }));
  return (
    <div role="status">
      {numbered.map(({ report, number }) => (
        <OneReport
          key={number}
          shell={shell}
          report={report}
          hasFiles={files.length > 0}
          title={numbered.length > 1 ? `Report ${number + 1} of ${numbered.length}` : null}
        />
      ))}
    </div>
  );
}

const statusWords: readonly (readonly [string, string])[] = [
  ['resolved', 'resolved'],
  ['as-written', 'as written'],
  ['ambiguous', 'one of several'],
  ['not-covered', 'not covered by the file'],
  ['no-symbols', 'without symbols'],
];

/** How many frames came out how: "12 resolved · 3 without symbols". */
function wordStatuses(frames: readonly ReadableFrame[]): string {
  const counts = new Map<string, number>();
  for (const { status } of frames) counts.set(status, (counts.get(status) ?? 0) + 1);
  return statusWords
    .filter(([status]) => counts.has(status))
    .map(([status, word]) => `${counts.get(status)} ${word}`)
    .join(' · ');
}

/** The symbol files that a report needs and that are missing, or do not fit. */
function SymbolProblems({ needs, hasFiles }: { needs: BenchReport['readable']['needs']; hasFiles: boolean }) {
  const missing = needs.filter((need) => !need.found);
  return (
    <>
      {missing.map((need) => (
        <div key={`${need.kind} ${need.symbolId} ${need.name}`} className={styles.missing}>
          The {wordSymbolFile(need)} {isOrAre(need)} {hasFiles ? 'not among the files' : 'missing'}
          {need.symbolId && (
            <>
              , id <span className={styles.id}>{need.symbolId}</span>
            </>
          )}
          .
        </div>
      ))}
      {needs.map((need) => {
        const misfit = need.found && need.frames ? wordFit(need.frames) : null;
        return (
          misfit && (
            <div key={`${need.kind} ${need.symbolId} ${need.name}`} className={styles.missing}>
              The {wordSymbolFile(need)} does not fit. {sentence(misfit)}
            </div>
          )
        );
      })}
    </>
  );
}

function OneReport({ shell, report, hasFiles, title }: { shell: PageShell; report: BenchReport; hasFiles: boolean; title: string | null }) {
  const [raw, setRaw] = useState(false);
  const { exceptions, threads, needs } = report.readable;
  return (
    <article className={styles.report}>
      {title && <h2>{title}</h2>}
      <div className={styles.row}>
        <span className={styles.soft}>{wordStatuses([...exceptions, ...threads].flatMap(({ frames }) => frames))}</span>
        <UnstyledButton className={styles.link} aria-pressed={raw} onClick={() => setRaw(!raw)}>
          {raw ? 'show readable' : 'show raw'}
        </UnstyledButton>
        <WhichCase shell={shell} report={report} />
      </div>
      <SymbolProblems needs={needs} hasFiles={hasFiles} />
      {raw ? (
        <RawStacks stacks={report.raw} />
      ) : (
        <>
          <Stacks exceptions={exceptions} />
          {threads
            .filter((thread) => thread.frames.length > 0)
            .map((thread) => (
              <details key={thread.name} open={exceptions.length === 0 && thread.crashed}>
                <summary>
                  {thread.name}, {wordCount(thread.frames.length, 'frame', 'frames')}
                  {thread.crashed ? ', crashed' : ''}
                </summary>
                <FrameList frames={thread.frames} framesLeftOut={thread.framesLeftOut} />
              </details>
            ))}
        </>
      )}
    </article>
  );
}

interface FoundCase {
  readonly found: { readonly ref: string; readonly what: string; readonly where: string } | null;
}

/** Asks the server for the case of this stack: only what makes the case is sent, no message and no file. */
function WhichCase({ shell, report }: { shell: PageShell; report: BenchReport }) {
  const [answer, setAnswer] = useState<FoundCase | null>(null);
  const { problem, attempt } = useAttempt();
  const askServer = () =>
    attempt(async () => {
      setAnswer(await request('POST /apps/{app}/case-of-key', { app: shell.app.slug }, { body: { keys: [...report.groupingKeys] } }));
    });
  return (
    <>
      <Button size="compact-sm" variant="default" onClick={askServer} disabled={report.provisional}>
        Which case is this?
      </Button>
      {report.provisional && <span className={styles.soft}>can be told once its symbols are here</span>}
      {answer?.found && (
        <a href={`/apps/${shell.app.slug}/cases/${answer.found.ref}`}>
          {answer.found.ref}: {answer.found.what} in {answer.found.where}
        </a>
      )}
      {answer && !answer.found && <span>No case of {shell.app.name} has this stack.</span>}
      <ProblemNotice problem={problem} />
    </>
  );
}
