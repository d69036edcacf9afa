import { Button, TextInput } from '@mantine/core';
import { useRef, useState } from 'react';
import { RequestProblem, readProblem } from '../client/api';
import { useAttempt } from '../client/use-attempt';
import { useFileDrop } from '../client/use-file-drop';
import { ProblemNotice } from '../shell/Notice';
import type { PageShell } from '../shell/page-shell';
import styles from './ImportFile.module.css';

interface Imported {
  readonly what: string;
  readonly reportId: string | null;
}

async function importFile(app: string, file: File, build: Readonly<Record<'version' | 'build', string>>): Promise<Imported> {
  const about = new URLSearchParams({ name: file.name });
  for (const [name, value] of Object.entries(build)) if (value !== '') about.set(name, value);
  const answer = await fetch(`/api/v1/apps/${app}/import?${about}`, { method: 'POST', body: file }).catch(() => {
    throw new RequestProblem('The server does not answer.', 'Drop the file again in a moment.');
  });
  if (!answer.ok) throw await readProblem(answer);
  return answer.json();
}

function WhatCame({ imported: { what, reportId }, appSlug }: { imported: Imported; appSlug: string }) {
  return (
    <>
      {what}. {reportId ? <a href={`/apps/${appSlug}/reports/${reportId}`}>Open it</a> : 'It was here already.'}
    </>
  );
}

/** Takes a file that an operating system wrote and makes a report of it. */
export function ImportFile({ shell, onDone }: { shell: PageShell; onDone: () => void }) {
  const [busy, setBusy] = useState(false);
  const { problem, attempt } = useAttempt();
  const [imported, setImported] = useState<Imported | null>(null);
  const drop = useFileDrop((files) => void take(files));
  const versionInput = useRef<HTMLInputElement>(null);
  const buildInput = useRef<HTMLInputElement>(null);
  const picker = useRef<HTMLInputElement>(null);
  if (shell.account.role === 'viewer') return null;
  const take = async (files: FileList | null) => {
    setBusy(true);
    setImported(null);
    const build = { version: versionInput.current?.value ?? '', build: buildInput.current?.value ?? '' };
    await attempt(async () => {
      const refusals: unknown[] = [];
      for (const file of files ?? [])
        await importFile(shell.app.slug, file, build).then(setImported, (refusal: unknown) => refusals.push(refusal));
      if (refusals.length > 0) throw refusals[0];
    });
    setBusy(false);
    onDone();
  };
  return (
    <section>
      <h2>Import a crash file</h2>
      <div className={styles.drop} {...drop}>
        <p>
          Drop what the system or the native client wrote: .ips, tombstone, ANR trace, logcat, MetricKit payload, .ember, or a stack trace.
        </p>
        <div className={styles.about}>
          <TextInput
            ref={versionInput}
            size="xs"
            aria-label="Version, if the file does not tell it"
            placeholder="version"
            maxLength={100}
          />
          <TextInput ref={buildInput} size="xs" aria-label="Build, if the file does not tell it" placeholder="build" maxLength={100} />
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
      <div role="status">{imported && <WhatCame imported={imported} appSlug={shell.app.slug} />}</div>
      <ProblemNotice problem={problem} />
    </section>
  );
}
