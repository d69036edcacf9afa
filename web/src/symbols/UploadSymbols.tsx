import { Button, Progress, TextInput, UnstyledButton } from '@mantine/core';
import { type SubmitEvent, useRef, useState } from 'react';
import { problemOf, RequestProblem } from '../client/api';
import { useFileDrop } from '../client/use-file-drop';
import { ProblemNotice } from '../shell/Notice';
import { wordBytes, wordCount } from '../words/numbers';
import type { ChosenFile, PassedOver } from './chosen-files';
import styles from './UploadSymbols.module.css';
import { uploadSymbolFile } from './upload-symbol-file';

/** How far a chosen file is: a share of its bytes, arrived, or refused with the server's reason. */
type Sent = number | 'arrived' | RequestProblem;

interface Build {
  readonly version: string;
  readonly build: string;
}

/** Files that were chosen, looked at in this browser, and how far each is on its way. */
function useUpload(appSlug: string) {
  const [chosen, setChosen] = useState<readonly ChosenFile[]>([]);
  const [passedOver, setPassedOver] = useState<readonly PassedOver[]>([]);
  const [sent, setSent] = useState<Readonly<Record<string, Sent>>>({});
  const [problem, setProblem] = useState<RequestProblem | null>(null);
  const [busy, setBusy] = useState(false);
  const waiting = chosen.filter((one) => sent[one.key] !== 'arrived');

  const take = async (files: readonly File[]) => {
    setProblem(null);
    // Readers of every format are needed only once somebody has a file.
    const { lookAt } = await import('./chosen-files');
    const looked = await lookAt(files);
    setPassedOver(looked.passedOver);
    setChosen((before) => {
      const keys = new Set(looked.files.map((one) => one.key));
      return [...before.filter((one) => !keys.has(one.key) && sent[one.key] !== 'arrived'), ...looked.files];
    });
  };

  const upload = async (build: Build) => {
    const problemBefore = problemOfChoice(waiting, build);
    setProblem(problemBefore);
    if (problemBefore) return;
    setBusy(true);
    for (const one of waiting) {
      const tell = (state: Sent) => setSent((before) => ({ ...before, [one.key]: state }));
      tell(0);
      // A file with an id of its own is tied by that; others of the same upload may need the version.
      const tie = one.needsBuild ? build : { version: '', build: '' };
      await uploadSymbolFile({ appSlug, ...tie, file: one.file, progress: tell }).then(
        () => tell('arrived'),
        (error: unknown) => tell(problemOf(error)),
      );
    }
    setBusy(false);
  };
  return { chosen, passedOver, sent, problem, busy, waiting, take, upload };
}

/** Symbol files and archives of any build, looked at here first; each is sent with its progress, and told of. */
export function UploadSymbols({ appSlug }: { appSlug: string }) {
  const { chosen, passedOver, sent, problem, busy, waiting, take, upload } = useUpload(appSlug);
  const submit = (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    void upload({ version: String(form.get('version')).trim(), build: String(form.get('build')).trim() });
  };
  return (
    <form className={styles.form} onSubmit={submit} aria-label="Upload symbol files">
      <h2>Upload symbol files</h2>
      <DropZone onFiles={(files) => void take(files)} />
      {chosen.length > 0 && (
        <ul className={styles.files}>
          {chosen.map((one) => (
            <li key={one.key}>
              <code>{one.file.name}</code>{' '}
              <span className={styles.faint}>
                {one.title}, {wordBytes(one.file.size)}
              </span>
              <SentState state={sent[one.key]} />
            </li>
          ))}
        </ul>
      )}
      {passedOver.map(({ name, reason }) => (
        <p key={name} className={styles.faint} role="status">
          <b>{name}</b> is passed over. {reason}
        </p>
      ))}
      {waiting.some((one) => one.needsBuild) && (
        <div className={styles.pair}>
          <TextInput name="version" label="Version" placeholder="4.3.1" />
          <TextInput name="build" label="Build" placeholder="431" />
        </div>
      )}
      {waiting.length > 0 && (
        <Button type="submit" variant="default" loading={busy}>
          Upload {wordCount(waiting.length, 'file', 'files')}
        </Button>
      )}
      {problem && <ProblemNotice problem={problem} />}
    </form>
  );
}

function DropZone({ onFiles }: { onFiles: (files: readonly File[]) => void }) {
  const input = useRef<HTMLInputElement>(null);
  const drop = useFileDrop((files) => onFiles([...files]));
  return (
    <div className={styles.drop} {...drop}>
      Drop files or zips here, or{' '}
      <UnstyledButton className={styles.choose} onClick={() => input.current?.click()}>
        choose them
      </UnstyledButton>
      .
      <input
        ref={input}
        type="file"
        aria-label="Symbol files"
        className={styles.input}
        tabIndex={-1}
        multiple
        onChange={(event) => {
          onFiles([...(event.target.files ?? [])]);
          event.target.value = '';
        }}
      />
    </div>
  );
}

function problemOfChoice(waiting: readonly ChosenFile[], { version, build }: Build): RequestProblem | null {
  const untied = waiting.find((one) => one.needsBuild);
  if (untied && (version === '' || build === ''))
    return new RequestProblem(
      `${untied.file.name} carries no id of its own.`,
      'Say which version and build it was made with, as the app reports them.',
    );
  if (waiting.filter((one) => one.format === 'mapping').length > 1)
    return new RequestProblem('A build has one mapping, and several are chosen.', 'Load the page again and choose that of this build.');
  return null;
}

function SentState({ state }: { state: Sent | undefined }) {
  if (state === undefined) return null;
  if (state === 'arrived') return <div role="status">is here and is being indexed.</div>;
  if (typeof state === 'number') return <Progress value={state * 100} aria-label="Sent" animated={state === 0} striped={state === 0} />;
  return (
    <div role="alert" className={styles.refused}>
      <b>{state.message}</b> {state.remedy}
    </div>
  );
}
