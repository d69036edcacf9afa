import { Button, Progress, TextInput } from '@mantine/core';
import { describeIndex } from '@rough-ember/core/symbols/families';
import type { SymbolFileView } from '@rough-ember/server/symbols/symbol-overview';
import { useState } from 'react';
import { request } from '../client/api';
import { useAttempt } from '../client/use-attempt';
import { useTimes } from '../shell/use-times';
import { Wide } from '../shell/Wide';
import { wordBytes, wordCount } from '../words/numbers';
import styles from './SymbolFiles.module.css';

/** Every file that is here: what it is, what it covers, who sent it, and a way to be rid of it. */
export function SymbolFiles({ appSlug, files, mayDelete }: { appSlug: string; files: readonly SymbolFileView[]; mayDelete: boolean }) {
  const [search, setSearch] = useState('');
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
              onChange={(event) => setSearch(event.currentTarget.value)}
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
      {shown.length > 0 && <FilesTable appSlug={appSlug} files={files} shown={shown} mayDelete={mayDelete} />}
    </section>
  );
}

interface FilesProps {
  readonly appSlug: string;
  /** All files of the app: one says which replaced it. */
  readonly files: readonly SymbolFileView[];
  readonly mayDelete: boolean;
}

function FilesTable({ shown, ...props }: FilesProps & { shown: readonly SymbolFileView[] }) {
  return (
    <Wide>
      <table className={styles.table}>
        <thead>
          <tr>
            <th>File</th>
            <th>Version</th>
            <th>State</th>
            <th>Covers</th>
            <th className={styles.figure}>Size</th>
            <th>Uploaded</th>
            {props.mayDelete && <th aria-label="Delete" />}
          </tr>
        </thead>
        <tbody>
          {shown.map((file) => (
            <FileRow key={file.id} file={file} {...props} />
          ))}
        </tbody>
      </table>
    </Wide>
  );
}

function FileRow({ file, appSlug, files, mayDelete }: FilesProps & { file: SymbolFileView }) {
  const { wordTime } = useTimes();
  return (
    <tr>
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
        <FileState file={file} files={files} />
        {mayDelete && file.state === 'replaced' && <PutBack appSlug={appSlug} file={file} />}
      </td>
      <td>
        {file.parts.length === 0 && '–'}
        {file.parts.map((part) => (
          <div key={part.part}>{describeIndex(part.kind, part.summary).covers}</div>
        ))}
      </td>
      <td className={styles.figure}>{wordBytes(file.sizeBytes)}</td>
      <td className={styles.uploaded}>
        {wordTime(file.createdAt)}
        <div className={styles.faint}>{file.uploadedBy}</div>
      </td>
      {mayDelete && (
        <td>
          <DeleteFile appSlug={appSlug} file={file} />
        </td>
      )}
    </tr>
  );
}

function FileState({ file, files }: { file: SymbolFileView; files: readonly SymbolFileView[] }) {
  const { wordTime } = useTimes();
  if (file.state === 'refused')
    return (
      <>
        <b className={styles.refused}>refused</b>
        <div className={styles.reason}>{file.problem}</div>
      </>
    );
  if (file.state === 'indexing')
    return (
      <>
        indexing …
        <Progress value={100} striped animated size="sm" aria-label={`Indexing ${file.fileName}`} />
      </>
    );
  const replacement = files.find((other) => other.id === file.replacedBy);
  return (
    <>
      {file.state === 'replaced' ? 'replaced' : file.unused ? 'ready, unused so far' : 'ready'}
      {file.state === 'replaced' && (
        <div className={styles.reason}>
          {replacement ? `by the file of ${wordTime(replacement.createdAt)}` : 'by a later file'}; kept, and used no more
        </div>
      )}
      {file.alsoOf.length > 0 && (
        <div className={styles.reason}>
          The same file is there for {file.alsoOf.map(({ version, build }) => `${version} (${build})`).join(', ')}; it can be right for one
          of them only.
        </div>
      )}
      {file.parts
        .flatMap(({ kind, summary }) => describeIndex(kind, summary).warnings)
        .map((warning) => (
          <div key={warning} className={styles.reason}>
            {warning}
          </div>
        ))}
    </>
  );
}

/** Uses a file again in place of the one that replaced it. */
function PutBack({ appSlug, file }: { appSlug: string; file: SymbolFileView }) {
  const { wordTime } = useTimes();
  const { problem, attempt } = useAttempt();
  const putBack = () => attempt(() => request('POST /apps/{app}/symbol-files/{id}/put-back', { app: appSlug, id: String(file.id) }));
  return (
    <div>
      <Button
        size="compact-xs"
        variant="default"
        onClick={() => void putBack()}
        aria-label={`Put ${file.fileName} of ${file.version} back, sent ${wordTime(file.createdAt)}`}
      >
        Put back
      </Button>
      {problem && <div className={styles.reason}>{problem.message}</div>}
    </div>
  );
}

/** Deletes in two steps, the second of which says what goes with the file. */
function DeleteFile({ appSlug, file }: { appSlug: string; file: SymbolFileView }) {
  const [asked, setAsked] = useState(false);
  const { problem, attempt } = useAttempt();
  const remove = () => attempt(() => request('DELETE /apps/{app}/symbol-files/{id}', { app: appSlug, id: String(file.id) }));
  if (!asked)
    return (
      <Button
        size="compact-xs"
        variant="subtle"
        onClick={() => setAsked(true)}
        aria-label={`Delete ${file.fileName} of ${file.version || 'its id'}`}
      >
        Delete
      </Button>
    );
  return (
    <div className={styles.asked} role="alertdialog" aria-label={`Delete ${file.fileName}?`}>
      {problem?.message ?? 'The stacks it named lose their names.'}
      <div>
        <Button size="compact-xs" variant="default" onClick={() => void remove()}>
          Delete it
        </Button>{' '}
        <Button size="compact-xs" variant="subtle" onClick={() => setAsked(false)}>
          Keep it
        </Button>
      </div>
    </div>
  );
}
