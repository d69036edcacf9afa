import { Button, Menu } from '@mantine/core';
import { skipRules } from '@rough-ember/core/grouping/skip-rules';
import { stackMarkdown, stackText } from '@rough-ember/core/symbolicate/stack-text';
import type { CaseFile, ReportView } from '@rough-ember/server/desk/case-file';
import { type ReactNode, useState } from 'react';
import { copyText } from '../client/copy-text';
import { Strip } from '../desk/Strip';
import { Trend } from '../desk/Trend';
import type { Frame } from '../shell/frame';
import { RawStacks, Stacks } from '../stack/StackView';
import { MissingSymbols } from '../symbols/MissingSymbols';
import { NamingWork } from '../symbols/NamingWork';
import { wordSymbolFile } from '../symbols/symbol-words';
import { wordCount, wordNumber } from '../words/numbers';
import { wordAgo, wordTime } from '../words/time';
import { Before } from './Before';
import { CaseActions } from './CaseActions';
import styles from './CaseFileView.module.css';
import { caseSentence } from './case-sentence';
import { Attachments, Sections, Threads } from './Evidence';
import { wordStanding } from './standing-words';
import { Talk } from './Talk';

export interface CaseFileProps {
  readonly frame: Frame;
  readonly file: CaseFile;
  readonly onStep: (position: number) => void;
  /** Address of the case as a page of its own; absent when this is that page. */
  readonly pageAddress?: string;
  readonly raw: boolean;
  readonly onRaw: (raw: boolean) => void;
  /** Whether the keys of its menus are free; where several cases are marked, they act on those. */
  readonly hasKeys?: boolean;
}

/** A case to read from top to bottom: what in one sentence, where in the code, who, and why it is one case. */
export function CaseFileView({ frame, file, onStep, pageAddress, raw, onRaw, hasKeys = true }: CaseFileProps) {
  const { item, report, position } = file;
  const mayAct = frame.account.role !== 'viewer';
  const title = `${item.what} in ${item.where}`;
  return (
    <article className={styles.file} aria-label={item.ref}>
      <header className={styles.head}>
        <div className={styles.tags}>
          <span className={styles.tag}>{item.ref}</span>
          {item.firstVersion === file.stripVersions.at(-1)?.version && <span className={styles.tagHot}>new in {item.firstVersion}</span>}
          <span className={styles.tag}>{item.kind === 'error' ? 'handled error' : item.kind}</span>
          <span className={item.state === 'reopened' ? styles.tagHot : styles.tag}>{wordStanding(item)}</span>
          <span className={styles.actions}>
            {mayAct && (
              <CaseActions
                appSlug={frame.app.slug}
                target={{ cases: [item.ref] }}
                versions={file.stripVersions.map((one) => one.version)}
                colleagues={file.colleagues}
                me={frame.account.email}
                isDone={item.state === 'closed' || item.state === 'muted'}
                assignee={item.assignee}
                hasKeys={hasKeys}
              />
            )}
            {pageAddress && (
              <Button component="a" href={pageAddress} size="compact-sm" variant="default">
                Open as page
              </Button>
            )}
            <CopyMenu report={report} title={`${item.ref}: ${title}`} />
          </span>
        </div>
        <h1 className={styles.title}>
          {item.what} in <code>{item.where}</code>
        </h1>
        <p className={styles.sentence}>
          {caseSentence(item, file.now).map(({ text, strong }) => (strong ? <b key={text}>{text}</b> : <span key={text}>{text}</span>))}
        </p>
        {file.outsideScope && (
          <p className={styles.outside}>No report of this case lies in the scope above, so all its reports are shown.</p>
        )}
        <div className={styles.shape}>
          <Strip versions={file.stripVersions} reports={item.strip} labelled />
          <Trend trend={item.trend} width={120} height={22} />
        </div>
        <nav className={styles.sections} aria-label="Sections of the case">
          <a href="#where">Where</a>
          <a href="#who">Who</a>
          {report.trail.length > 0 && <a href="#before">Before</a>}
          <a href="#state">State</a>
          <a href="#why">Why one case</a>
          <a href="#talk">Talk</a>
          <span className={styles.stepper}>
            report {wordNumber(position + 1)} of {wordNumber(item.reports)}
            {position === 0 ? ', the newest' : ''}
            <Button
              size="compact-xs"
              variant="default"
              disabled={position === 0}
              onClick={() => onStep(position - 1)}
              aria-label="Newer report"
            >
              <kbd>[</kbd>
            </Button>
            <Button
              size="compact-xs"
              variant="default"
              disabled={position >= item.reports - 1}
              onClick={() => onStep(position + 1)}
              aria-label="Older report"
            >
              <kbd>]</kbd>
            </Button>
          </span>
        </nav>
      </header>

      <Section
        id="where"
        title="Where"
        note={
          <>
            {wordSymbols(report)} ·{' '}
            <button type="button" className={styles.switch} aria-pressed={raw} onClick={() => onRaw(!raw)}>
              {raw ? 'show readable' : 'show raw'} <kbd>r</kbd>
            </button>
          </>
        }
      >
        <NamingWork reports={file.reportsInWork} of="of this case" />
        <div className={styles.missing}>
          {report.missing.map((missing) => (
            <MissingSymbols
              key={`${missing.kind} ${missing.symbolId} ${missing.name}`}
              appSlug={frame.app.slug}
              serverAddress={frame.serverAddress}
              mayUpload={frame.account.role !== 'viewer'}
              {...missing}
            />
          ))}
        </div>
        {raw ? <RawStacks stacks={report.raw} /> : <Stacks key={report.id} exceptions={report.readable.exceptions} />}
        <Threads report={report} />
      </Section>

      <Section id="who" title="Who" note={`the ${wordCount(item.reports, 'report', 'reports')} of this case in the scope`}>
        <div className={styles.spreads}>
          <Spread title="Version" values={file.spread.version} total={item.reports} />
          <Spread title={report.os?.name ?? 'OS version'} values={file.spread.os} total={item.reports} />
          <Spread title="Device" values={file.spread.device} total={item.reports} />
        </div>
      </Section>

      {report.trail.length > 0 && (
        <Section id="before" title="Before" note="the trail of this report, oldest first">
          <Before trail={report.trail} occurredAt={report.occurredAt} />
        </Section>
      )}

      <Section id="state" title="State" note="of this report">
        <Facts report={report} now={file.now} />
        {report.attachments.length > 0 && <Attachments report={report} appSlug={frame.app.slug} />}
        <Sections report={report} />
      </Section>

      <Section id="why" title="Why one case" note="what its reports have in common">
        <Explanation report={report} />
      </Section>

      <Section id="talk" title="Talk" note="notes, and what happened to the case">
        <Talk api={`/api/v1/apps/${frame.app.slug}/cases/${item.ref}`} history={file.history} now={file.now} mayAct={mayAct} />
      </Section>
    </article>
  );
}

function Section({ id, title, note, children }: { id: string; title: string; note: ReactNode; children: ReactNode }) {
  return (
    <section className={styles.section} id={id} aria-labelledby={`${id}-title`}>
      <h2 className={styles.sectionTitle} id={`${id}-title`}>
        {title} <span>· {note}</span>
      </h2>
      {children}
    </section>
  );
}

/** What made the stack readable, or that nothing had to. */
function wordSymbols({ readable, missing, version, build }: ReportView): string {
  const found = readable.needs.filter((need) => need.found);
  if (missing.length > 0) return `${missing.map(wordSymbolFile).join(', ')} missing`;
  if (found.length === 0) return 'as it was written; no symbol file needed';
  return `symbolicated with ${found
    .map((need) => (need.symbolId ? `${wordSymbolFile(need)} ${need.symbolId}` : `the ${wordSymbolFile(need)} of ${version} (${build})`))
    .join(', ')}`;
}

function CopyMenu({ report, title }: { report: ReportView; title: string }) {
  const [said, setSaid] = useState<string | null>(null);
  const copy = async (text: string) => {
    setSaid((await copyText(text)) ? 'Copied' : 'Could not copy');
    setTimeout(() => setSaid(null), 1500);
  };
  return (
    <Menu position="bottom-end">
      <Menu.Target>
        <Button size="compact-sm" variant="default">
          <span aria-live="polite">{said ?? 'Copy ▾'}</span>
        </Button>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Item onClick={() => copy(stackText(report.readable))}>Stack as text</Menu.Item>
        <Menu.Item onClick={() => copy(stackMarkdown(report.readable, title, window.location.href))}>Stack as Markdown</Menu.Item>
        <Menu.Item onClick={() => copy(window.location.href)}>Address of this view</Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
}

function Spread({ title, values, total }: { title: string; values: readonly { value: string; reports: number }[]; total: number }) {
  return (
    <div>
      <h3 className={styles.spreadTitle}>{title}</h3>
      {values.length === 0 && <div className={styles.faint}>not told by these reports</div>}
      {values.map(({ value, reports }) => (
        <div key={value} className={styles.spreadRow} title={`${wordNumber(reports)} of ${wordNumber(total)} reports`}>
          <span className={styles.spreadValue}>{value}</span>
          <span className={styles.spreadBar}>
            <i style={{ width: `${(100 * reports) / total}%` }} />
          </span>
          <span className={styles.spreadCount}>{wordNumber(reports)}</span>
        </div>
      ))}
    </div>
  );
}

function Facts({ report, now }: { report: ReportView; now: string }) {
  const facts: [string, ReactNode][] = [
    ['Happened', `${wordTime(report.occurredAt)}, ${wordAgo(report.occurredAt, now)}`],
    ['Arrived', wordTime(report.receivedAt)],
    ['Version', `${report.version} (${report.build})${report.buildType === 'release' ? '' : `, ${report.buildType}`}`],
    ['System', report.os ? `${report.os.name} ${report.os.version}` : 'not told'],
    ['Device', report.device ? [report.device.manufacturer, report.device.model].filter(Boolean).join(' ') : 'not told'],
    ['Thread', report.readable.threads.find((thread) => thread.crashed)?.name ?? 'not told'],
    ['Person', report.personId ?? 'not told'],
    ['Installation', report.installationId ? <code key="id">{report.installationId}</code> : 'not told'],
    ['Report', <code key="id">{report.id}</code>],
    ...report.circumstances.map(({ name, value }): [string, ReactNode] => [name, value]),
    ...Object.entries(report.flags).map(([name, variant]): [string, ReactNode] => [`flag ${name}`, variant]),
    ...Object.entries(report.attributes).map(([name, value]): [string, ReactNode] => [
      name,
      Array.isArray(value) ? value.join(', ') : String(value),
    ]),
  ];
  return (
    <dl className={styles.facts}>
      {facts.map(([name, value]) => (
        <div key={name}>
          <dt>{name}</dt>
          <dd>{value}</dd>
        </div>
      ))}
    </dl>
  );
}

/** The grouping's own reasons: which exception decided, which functions were kept, and why the others were not. */
function Explanation({ report }: { report: ReportView }) {
  const { explanation, readable } = report;
  if (!explanation) return <p className={styles.faint}>The report is not grouped yet.</p>;
  const deciding = explanation.exception === null ? null : readable.exceptions[explanation.exception];
  const counts = new Map<string, number>();
  for (const { rule } of explanation.skipped) counts.set(skipRules[rule], (counts.get(skipRules[rule]) ?? 0) + 1);
  return (
    <div className={styles.why}>
      {explanation.basis === 'message' ? (
        <p>
          No stack came with these reports, so they are grouped by type and message, with numbers, ids, paths and quoted parts left out.
        </p>
      ) : (
        <>
          <p>
            Reports are in this case when {deciding ? <code>{deciding.type}</code> : 'the crash'}
            {deciding?.relation === 'cause' ? ', the innermost cause that our code had a part in,' : ''} came through{' '}
            {explanation.basis === 'our-frames' ? 'these functions of ours' : 'these outside functions, since none of ours is on the stack'}
            :
          </p>
          <ol>
            {explanation.kept.map((kept) => (
              <li key={kept.frame}>
                <code>{kept.function}</code>
              </li>
            ))}
          </ol>
        </>
      )}
      {counts.size > 0 && <p className={styles.faint}>Left out: {[...counts].map(([rule, count]) => `${count} × ${rule}`).join(', ')}.</p>}
    </div>
  );
}
