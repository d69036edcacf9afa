import type { ReportView } from '@rough-ember/server/desk/case-file';
import { addressOf } from '../client/api';
import { FrameList } from '../stack/StackView';
import styles from './Evidence.module.css';
import { ViewHierarchy } from './ViewHierarchy';

/**
 * The other threads and named stacks, each to be opened; who waits for whom is said where the system told it. Where nothing was
 * thrown, as in a hang, the stack that counts is that of the thread itself, and that of the thread it waits for.
 */
export function Threads({ report }: { report: ReportView }) {
  const threads = report.readable.threads.map((thread, index) => ({ ...thread, about: report.threads[index], index }));
  const isThrown = report.readable.exceptions.length > 0;
  const culprit = report.threads.find((_, index) => report.readable.threads[index]?.crashed);
  const isOpen = (about: ReportView['threads'][number] | undefined) =>
    !isThrown && about !== undefined && (about === culprit || (about.id !== null && about.id === culprit?.waitsFor?.threadId));
  const names = new Map(report.threads.map((thread, index) => [thread.id, report.readable.threads[index]?.name]));
  return threads
    .filter((thread) => thread.frames.length > 0 || thread.about?.waitsFor)
    .map(({ index, name, crashed, frames, framesLeftOut, about }) => (
      <details key={index} className={styles.part} open={isOpen(about)}>
        <summary>
          <b>{name}</b> {crashed && isThrown ? '(the stack above)' : ''}{' '}
          <span>{[about?.state, wordWait(about, names)].filter(Boolean).join(', ')}</span>
        </summary>
        <FrameList frames={frames} framesLeftOut={framesLeftOut} />
      </details>
    ));
}

function wordWait(about: ReportView['threads'][number] | undefined, names: ReadonlyMap<number | null, string | undefined>): string | null {
  if (!about?.waitsFor) return null;
  const { what, threadId } = about.waitsFor;
  return `waits for ${what}${threadId === null ? '' : `, held by ${names.get(threadId) ?? `thread ${threadId}`}`}`;
}

/** Pictures, logs and the original file. Texts are saved, never run. */
export function Attachments({ report, appSlug }: { report: ReportView; appSlug: string }) {
  const address = (id: string) => addressOf('GET /apps/{app}/attachments/{id}', { app: appSlug, id });
  const trees = report.attachments.filter((one) => one.kind === 'view-hierarchy');
  return (
    <>
      <ul className={styles.attachments}>
        {report.attachments.map(({ id, kind, name, sizeBytes, mediaType }) => (
          <li key={id}>
            {mediaType.startsWith('image/') && (
              <a href={address(id)}>
                <img src={address(id)} alt={`Screenshot ${name}`} loading="lazy" />
              </a>
            )}
            <a href={address(id)}>{name}</a>{' '}
            <span>
              {kind === 'original' ? 'the file as it came' : kind}, {Math.max(1, Math.round(sizeBytes / 1024)).toLocaleString('en')} kB
            </span>
          </li>
        ))}
      </ul>
      {trees.map(({ id, name }) => (
        <ViewHierarchy key={id} address={address(id)} name={name} />
      ))}
    </>
  );
}

/** Parts of a crash file that are only to be read. */
export function Sections({ report }: { report: ReportView }) {
  const registers = Object.entries(report.threads.find((_, index) => report.readable.threads[index]?.crashed)?.registers ?? {});
  const parts = [
    ...(registers.length > 0
      ? [{ name: 'Registers of the crashed thread', text: registers.map(([name, value]) => `${name.padEnd(5)} ${value}`).join('\n') }]
      : []),
    ...report.sections,
  ];
  return parts.map(({ name, text }) => (
    <details key={name} className={styles.part}>
      <summary>{name}</summary>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a scrollable region */}
      <pre tabIndex={0}>{text}</pre>
    </details>
  ));
}
