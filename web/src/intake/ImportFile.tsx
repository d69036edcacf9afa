import { Button, TextInput } from '@mantine/core';
import { useRef, useState } from 'react';
import { RequestProblem, readProblem } from '../client/api';
import { useFileDrop } from '../client/use-file-drop';
import { ProblemNotice } from '../shell/Notice';
import type { PageShell } from '../shell/page-shell';
import styles from './ImportFile.module.css';

/** Takes a file that an operating system wrote and makes a report of it. */
export function ImportFile({ shell, onDone }: { shell: PageShell; onDone: () => void }) {
  const drop = useFileDrop((files) => void take(files));
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<RequestProblem | null>(null);
  const [imported, setImported] = useState<{ what: string; reportId: string | null } | null>(null);
  const version = useRef<HTMLInputElement>(null);
  const build = useRef<HTMLInputElement>(null);
  const picker = useRef<HTMLInputElement>(null);
  if (shell.account.role === 'viewer') return null;
  const take = async (files: FileList | null) => {
    setBusy(true);
    setProblem(null);
    setImported(null);
    for (const file of files ?? []) {
      const about = new URLSearchParams({ name: file.name });
      if (version.current?.value) about.set('version', version.current.value);
      if (build.current?.value) about.set('build', build.current.value);
      try {
        const answer = await fetch(`/api/v1/apps/${shell.app.slug}/import?${about}`, { method: 'POST', body: file });
        if (answer.ok) setImported(await answer.json());
        else setProblem(await readProblem(answer));
      } catch {
        setProblem(new RequestProblem('The server does not answer.', 'Drop the file again in a moment.'));
      }
    }
    setBusy(false);
    onDone();
  };
  return (
    <section>
      <h2>Import a crash file</h2>
      <div className={styles.drop} {...drop}>
        <p>Drop what the system wrote: .ips, tombstone, ANR trace, logcat, MetricKit payload, or a stack trace.</p>
        <div className={styles.about}>
          <TextInput ref={version} size="xs" aria-label="Version, if the file does not tell it" placeholder="version" maxLength={100} />
          <TextInput ref={build} size="xs" aria-label="Build, if the file does not tell it" placeholder="build" maxLength={100} />
          <Button size="xs" variant="default" loading={busy} onClick={() => picker.current?.click()}>
            Choose a file
          </Button>
        </div>
        <input
          ref={picker}
          type="file"
          multiple
          hidden
          data-testid="crash-file"
          onChange={async (event) => {
            const input = event.currentTarget;
            await take(input.files);
            input.value = '';
          }}
        />
      </div>
      <div role="status">
        {imported && (
          <>
            {imported.what}.{' '}
            {imported.reportId ? <a href={`/apps/${shell.app.slug}/reports/${imported.reportId}`}>Open it</a> : 'It was here already.'}
          </>
        )}
      </div>
      <ProblemNotice problem={problem} />
    </section>
  );
}
