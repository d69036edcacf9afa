import { Button } from '@mantine/core';
import { compareLists } from '@rough-ember/core/cases/compare-lists';
import { wordEvent } from '@rough-ember/core/report/trail-words';
import type { Scope } from '@rough-ember/core/scope/scope';
import type { ReadableFrame } from '@rough-ember/core/symbolicate/readable-report';
import type { CaseFile, ReportView } from '@rough-ember/server/desk/case-file';
import { search } from '../desk/desk-address';
import { useShortcuts } from '../desk/use-shortcuts';
import type { PageShell } from '../shell/page-shell';
import { Shell } from '../shell/Shell';
import { useTimes } from '../shell/use-times';
import { shortPath } from '../stack/short-path';
import { wordCount, wordNumber } from '../words/numbers';
import styles from './ComparePage.module.css';

export interface ComparePageProps {
  readonly shell: PageShell;
  readonly left: CaseFile;
  readonly right: CaseFile;
  /** The scope of the address. */
  readonly wanted: Scope;
}

export function ComparePage(props: ComparePageProps) {
  return (
    <Shell shell={props.shell} place="cases">
      <Compare {...props} />
    </Shell>
  );
}

/** Two reports of a case side by side, what differs marked. */
function Compare({ shell, left, right, wanted: scope }: ComparePageProps) {
  const { item } = left;
  const { wordTime } = useTimes();
  const at = (one: number, other: number) =>
    `/apps/${shell.app.slug}/compare${search(scope, { case: item.ref, left: String(one), right: String(other) })}`;
  const step = (by: number) => {
    const next = right.position + by;
    if (next >= 0 && next < item.reports) window.location.assign(at(left.position, next));
  };
  useShortcuts({ '[': () => step(-1), ']': () => step(1), s: () => window.location.assign(at(right.position, left.position)) });
  const facts = pairFacts(left.report, right.report, wordTime);
  const differences = facts.filter(({ one, other }) => one !== other).length;
  const frames = compareLists(framesOf(left.report), framesOf(right.report), (frame) => `${frame.function} ${frame.file} ${frame.line}`);
  const events = compareLists(eventsOf(left.report), eventsOf(right.report), (event) => event);
  return (
    <main className={styles.page}>
      <h1 className={styles.title}>
        Two reports of <a href={`/apps/${shell.app.slug}/cases/${item.ref}${search(scope)}`}>{item.ref}</a>, {item.what} in{' '}
        <code>{item.where}</code>
      </h1>
      <p className={styles.words}>
        {differences === 0 ? 'Nothing told of them differs' : `${wordCount(differences, 'thing', 'things')} told of them differ`};{' '}
        {frames.every(({ left: one, right: other }) => one && other) ? 'they came the same way.' : 'they came different ways.'}
      </p>
      <table className={styles.table}>
        <ComparedHead left={left.position} right={right.position} reports={item.reports} onStep={step} />
        <tbody>
          {facts.map(({ name, one, other }) => (
            <tr key={name} data-differs={one !== other}>
              <th scope="row">{name}</th>
              <td>{one ?? '–'}</td>
              <td>{other ?? '–'}</td>
            </tr>
          ))}
          <Divider title="Stack" />
          {frames.map((line, place) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: lines have no identity but their place, and the table never changes
            <tr key={`frame ${place}`} data-differs={line.left === null || line.right === null}>
              <th scope="row">{place}</th>
              <td>{line.left && <FrameWords frame={line.left} />}</td>
              <td>{line.right && <FrameWords frame={line.right} />}</td>
            </tr>
          ))}
          {events.length > 0 && <Divider title="Before" />}
          {events.map((line, place) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: as above
            <tr key={`event ${place}`} data-differs={line.left === null || line.right === null}>
              <th scope="row" />
              <td>{line.left}</td>
              <td>{line.right}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </main>
  );
}

function ComparedHead(props: { left: number; right: number; reports: number; onStep: (by: number) => void }) {
  const { left, right, reports, onStep } = props;
  return (
    <thead>
      <tr>
        <th scope="col">
          <span className={styles.hidden}>What</span>
        </th>
        <th scope="col">report {wordNumber(left + 1)}</th>
        <th scope="col">
          report {wordNumber(right + 1)} of {wordNumber(reports)}{' '}
          <Button size="compact-xs" variant="default" disabled={right === 0} onClick={() => onStep(-1)} aria-label="Newer report">
            <kbd>[</kbd>
          </Button>{' '}
          <Button size="compact-xs" variant="default" disabled={right + 1 >= reports} onClick={() => onStep(1)} aria-label="Older report">
            <kbd>]</kbd>
          </Button>
        </th>
      </tr>
    </thead>
  );
}

const Divider = ({ title }: { title: string }) => (
  <tr>
    <th scope="rowgroup" colSpan={3} className={styles.divider}>
      {title}
    </th>
  </tr>
);

const FrameWords = ({ frame }: { frame: ReadableFrame }) => (
  <code data-ours={frame.ours}>
    {frame.function}{' '}
    <span className={styles.place}>
      {frame.file === null ? '' : `${shortPath(frame.file)}${frame.line === null ? '' : `:${frame.line}`}`}
    </span>
  </code>
);

const framesOf = ({ readable }: ReportView): readonly ReadableFrame[] =>
  readable.exceptions.length > 0
    ? readable.exceptions.flatMap((one) => one.frames.slice(0, one.frames.length - one.framesInCommon))
    : (readable.threads.find((thread) => thread.crashed)?.frames ?? []);

const eventsOf = ({ trail }: ReportView): readonly string[] => trail.map((event) => `${event.kind} ${wordEvent(event)}`);

function factsOf(report: ReportView, time: (iso: string) => string): [string, string][] {
  const { os, device, flags, attributes, circumstances } = report;
  return [
    ['Happened', time(report.occurredAt)],
    ['Version', `${report.version} (${report.build})`],
    ['System', os ? `${os.name} ${os.version}` : 'not told'],
    ['Device', device ? [device.manufacturer, device.model].filter(Boolean).join(' ') : 'not told'],
    ['Message', report.readable.exceptions[0]?.message ?? 'none'],
    ['Person', report.personId ?? report.installationId ?? 'not told'],
    ...circumstances.map(({ name, value }): [string, string] => [name, value]),
    ...Object.entries(flags).map(([name, variant]): [string, string] => [`flag ${name}`, variant]),
    ...Object.entries(attributes).map(([name, value]): [string, string] => [name, Array.isArray(value) ? value.join(', ') : String(value)]),
  ];
}

function pairFacts(
  left: ReportView,
  right: ReportView,
  time: (iso: string) => string,
): { name: string; one: string | null; other: string | null }[] {
  const [one, other] = [new Map(factsOf(left, time)), new Map(factsOf(right, time))];
  return [...new Set([...one.keys(), ...other.keys()])].map((name) => ({
    name,
    one: one.get(name) ?? null,
    other: other.get(name) ?? null,
  }));
}
