import { Button, Menu, UnstyledButton } from '@mantine/core';
import { caseSentence } from '@rough-ember/core/cases/case-sentence';
import { wordStatus } from '@rough-ember/core/cases/case-words';
import { commonSentence } from '@rough-ember/core/cases/common-sentence';
import { wordChange } from '@rough-ember/core/changes/word-change';
import type { Scope } from '@rough-ember/core/scope/scope';
import { wordSymbolFile } from '@rough-ember/core/symbols/families';
import type { CaseFile, ReportView } from '@rough-ember/server/desk/case-file';
import type { ReactNode } from 'react';
import { search } from '../desk/desk-address';
import { Strip } from '../desk/Strip';
import { Trend } from '../desk/Trend';
import type { PageShell } from '../shell/page-shell';
import { FrameLinks } from '../stack/frame-links';
import { type Culprit, RawStacks, Stacks } from '../stack/StackView';
import { MissingSymbols } from '../symbols/MissingSymbols';
import { NamingWork } from '../symbols/NamingWork';
import { TicketMenu } from '../tickets/TicketMenu';
import { wordCount, wordNumber } from '../words/numbers';
import { sentence } from '../words/sentence';
import { Before } from './Before';
import { CaseActions } from './CaseActions';
import styles from './CaseFileView.module.css';
import { CommonStepsLine } from './CommonStepsLine';
import { CopyMenu } from './CopyMenu';
import { DeleteMenu } from './DeleteMenu';
import { Attachments, Sections, Threads } from './Evidence';
import { Explanation } from './Explanation';
import { Facts } from './Facts';
import { LikelyChanges } from './LikelyChanges';
import { SimilarCases } from './SimilarCases';
import { Talk } from './Talk';
import { useEvidence } from './use-evidence';
import { When } from './When';
import { Who } from './Who';

export interface CaseFileProps {
  readonly shell: PageShell;
  readonly file: CaseFile;
  readonly scope: Scope;
  readonly onStep: (position: number) => void;
  /** Address of the case as a page of its own; absent when this is that page. */
  readonly pageAddress?: string;
  readonly raw: boolean;
  readonly onRaw: (raw: boolean) => void;
  /** Whether the keys of its menus are free; where several cases are marked, they act on those. */
  readonly hasKeys?: boolean;
}

/** A case to read from top to bottom: what in one sentence, where in the code, who, and why it is one case. */
export function CaseFileView(props: CaseFileProps) {
  const { shell, file } = props;
  const { item, report } = file;
  const mayAct = shell.account.role !== 'viewer';
  const appSlug = shell.app.slug;
  const who = useEvidence(appSlug, item.ref, 'who');
  const changes = useEvidence(appSlug, item.ref, 'changes');
  return (
    <article className={styles.file} aria-label={item.ref}>
      <CaseHead {...props} who={who} changes={changes} />

      <Where {...props} changes={changes} />

      <Section id="who" title="Who" note={`the ${wordCount(item.reports, 'report', 'reports')} of this case in the scope`}>
        <Who appSlug={appSlug} who={who} total={item.reports} mayAct={mayAct} />
      </Section>

      <Section id="when" title="When" note="days and hours are those of UTC">
        <When appSlug={appSlug} refName={item.ref} />
      </Section>

      {report.trail.length > 0 && (
        <Section id="before" title="Before" note="the trail of this report, oldest first">
          <CommonStepsLine appSlug={appSlug} refName={item.ref} kind={item.kind} />
          <Before trail={report.trail} occurredAt={report.occurredAt} />
        </Section>
      )}

      <Section id="state" title="State" note="of this report">
        <Remarks remarks={report.remarks} />
        <Facts report={report} now={file.now} appSlug={appSlug} filterable={file.filterable} mayAct={mayAct} />
        {report.attachments.length > 0 && <Attachments report={report} appSlug={appSlug} />}
        <Sections report={report} />
      </Section>

      <Section id="why" title="Why one case" note="what its reports have in common">
        <Explanation report={report} appSlug={appSlug} />
        <SimilarCases appSlug={appSlug} refName={item.ref} now={file.now} mayAct={mayAct} />
      </Section>

      <Section id="talk" title="Talk" note="notes, and what happened to the case">
        <Talk appSlug={appSlug} refName={item.ref} history={file.history} now={file.now} mayAct={mayAct} colleagues={file.colleagues} />
      </Section>
    </article>
  );
}

type WhoAnswer = ReturnType<typeof useEvidence<'who'>>;
type ChangesAnswer = ReturnType<typeof useEvidence<'changes'>>;

/** What the case is, in a sentence, and what can be done to it. */
function CaseHead({ who, ...props }: CaseFileProps & { who: WhoAnswer; changes: ChangesAnswer }) {
  const { shell, file, scope, onStep } = props;
  const { item, report } = file;
  const appSlug = shell.app.slug;
  return (
    <header className={styles.head}>
      <div className={styles.tags}>
        <span className={styles.tag}>{item.ref}</span>
        {item.firstVersion === file.stripVersions.at(-1)?.version && <span className={styles.tagHot}>new in {item.firstVersion}</span>}
        <span className={styles.tag}>{item.kind === 'error' ? 'handled error' : item.kind}</span>
        <span className={item.state === 'reopened' ? styles.tagHot : styles.tag}>{wordStatus(item)}</span>
        <CaseButtons {...props} />
      </div>
      <h1 className={styles.title}>
        {item.what} in <code>{item.where}</code>
      </h1>
      <p className={styles.sentence}>
        {caseSentence(item, file).map(({ text, strong }) => (strong ? <b key={text}>{text}</b> : <span key={text}>{text}</span>))}
        {who.answer &&
          commonSentence(who.answer.standOuts).map(({ text, strong }) =>
            strong ? <b key={text}>{text}</b> : <span key={text}>{text}</span>,
          )}
      </p>
      {file.outsideScope && <p className={styles.outside}>No report of this case lies in the scope above, so all its reports are shown.</p>}
      <div className={styles.shape}>
        <Strip versions={file.stripVersions} reports={item.strip} labelled />
        <Trend trend={item.trend} width={120} height={22} />
      </div>
      <nav className={styles.sections} aria-label="Sections of the case">
        <a href="#where">Where</a>
        <a href="#who">Who</a>
        <a href="#when">When</a>
        {report.trail.length > 0 && <a href="#before">Before</a>}
        <a href="#state">State</a>
        <a href="#why">Why one case</a>
        <a href="#talk">Talk</a>
        <ReportStepper file={file} scope={scope} appSlug={appSlug} onStep={onStep} />
      </nav>
    </header>
  );
}

function CaseButtons({ shell, file, changes, onStep, pageAddress, hasKeys = true }: CaseFileProps & { changes: ChangesAnswer }) {
  const likeliest = changes.answer?.found?.changes[0];
  const { item, position } = file;
  const mayAct = shell.account.role !== 'viewer';
  const appSlug = shell.app.slug;
  return (
    <span className={styles.actions}>
      {mayAct && (
        <CaseActions
          appSlug={appSlug}
          target={{ cases: [item.ref] }}
          versions={file.stripVersions.map((one) => one.version)}
          colleagues={file.colleagues}
          me={shell.account.email}
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
      <TicketMenu appSlug={appSlug} refName={item.ref} mayAct={mayAct} />
      <CopyMenu file={file} likelyChange={likeliest ? wordChange(likeliest) : null} appName={shell.app.name} />
      {mayAct && <DeleteMenu appSlug={appSlug} file={file} onDeleted={() => onStep(Math.max(0, Math.min(position, item.reports - 2)))} />}
    </span>
  );
}

/** Which report of the case is shown, and the way to its neighbours. */
function ReportStepper({ file, scope, appSlug, onStep }: Pick<CaseFileProps, 'file' | 'scope' | 'onStep'> & { appSlug: string }) {
  const { item, position } = file;
  const other = position + 1 < item.reports ? position + 1 : position - 1;
  const compareAddress = `/apps/${appSlug}/compare${search(scope, { case: item.ref, left: String(position), right: String(other) })}`;
  return (
    <span className={styles.stepper}>
      <ReportChoice file={file} onStep={onStep} compareAddress={compareAddress} />
      <Button size="compact-xs" variant="default" disabled={position === 0} onClick={() => onStep(position - 1)} aria-label="Newer report">
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
  );
}

/** The stacks of the report, and the symbol files that they lack. */
function Where({ shell, file, changes, raw, onRaw, hasKeys = true }: CaseFileProps & { changes: ChangesAnswer }) {
  const { report } = file;
  const mayAct = shell.account.role !== 'viewer';
  const appSlug = shell.app.slug;
  return (
    <Section
      id="where"
      title="Where"
      note={
        <>
          {report.isEmptied ? 'not kept any more' : wordSymbols(report)} ·{' '}
          <button type="button" className={styles.switch} aria-pressed={raw} onClick={() => onRaw(!raw)}>
            {raw ? 'show readable' : 'show raw'} <kbd>r</kbd>
          </button>
        </>
      }
    >
      {report.isEmptied && (
        <p className={styles.outside}>
          The stack of this report went with what it held, as the <a href={`/apps/${appSlug}/private`}>retention of {shell.app.name}</a>{' '}
          says. It is still counted; newer reports are a <kbd>[</kbd> away.
        </p>
      )}
      <NamingWork reports={file.reportsInWork} of="of this case" />
      <div className={styles.missing}>
        {[...report.missing, ...report.unfitting].map((file) => (
          <MissingSymbols
            key={`${file.kind} ${file.symbolId} ${file.name}`}
            appSlug={appSlug}
            server={shell}
            mayUpload={shell.account.role !== 'viewer'}
            {...file}
          />
        ))}
      </div>
      <FrameLinks
        value={{
          settings: file.settings,
          appSlug,
          version: report.version,
          rules: mayAct ? `/apps/${appSlug}/grouping` : null,
        }}
      >
        {raw ? (
          <RawStacks stacks={report.raw} />
        ) : (
          <Stacks key={report.id} exceptions={report.readable.exceptions} culprit={culpritOf(report)} />
        )}
        <Threads report={report} />
      </FrameLinks>
      <LikelyChanges
        changes={changes}
        appSlug={appSlug}
        refName={file.item.ref}
        assignee={file.item.assignee}
        colleagues={file.colleagues}
        mayAct={mayAct}
        hasKeys={hasKeys}
      />
    </Section>
  );
}

/** What was changed of a report so that it could be kept: whoever reads on should know that it is not as it was sent. */
function Remarks({ remarks }: { remarks: readonly string[] }) {
  if (remarks.length === 0) return null;
  return (
    <details className={styles.remarks} open={remarks.length <= shownRemarks}>
      <summary>This report is not quite as it was sent ({wordCount(remarks.length, 'change', 'changes')})</summary>
      <ul>
        {remarks.map((remark) => (
          <li key={remark}>{sentence(remark)}</li>
        ))}
      </ul>
    </details>
  );
}

const shownRemarks = 3;

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

/** Which report is shown, and those worth a look first. */
function ReportChoice({ file, onStep, compareAddress }: { file: CaseFile; onStep: (position: number) => void; compareAddress: string }) {
  const { position, typical, complete, item } = file;
  const names = [
    ...(position === 0 ? ['the newest'] : []),
    ...(position === typical && item.reports > 2 ? ['the most typical'] : []),
    ...(position === complete && item.reports > 2 ? ['the most complete'] : []),
  ];
  return (
    <Menu withInitialFocusPlaceholder={false} width={220} position="bottom-end">
      <Menu.Target>
        <UnstyledButton className={styles.choice}>
          report {wordNumber(position + 1)} of {wordNumber(item.reports)}
          {names.length > 0 && `, ${names[0]}`}
        </UnstyledButton>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Item onClick={() => onStep(0)}>The newest</Menu.Item>
        <Menu.Item onClick={() => onStep(typical)}>The most typical</Menu.Item>
        <Menu.Item onClick={() => onStep(complete)}>The most complete</Menu.Item>
        <Menu.Item onClick={() => onStep(item.reports - 1)}>The oldest</Menu.Item>
        {item.reports > 1 && (
          <Menu.Item component="a" href={compareAddress}>
            Compare with another …
          </Menu.Item>
        )}
      </Menu.Dropdown>
    </Menu>
  );
}

/** The frame that decided what case it is. */
function culpritOf({ explanation }: ReportView): Culprit | null {
  const frame = explanation?.kept[0]?.frame;
  return frame === undefined || explanation?.exception == null ? null : { exception: explanation.exception, frame };
}

/** What made the stack readable, or that nothing had to. */
function wordSymbols({ readable, missing, unfitting, version, build }: ReportView): string {
  const found = readable.needs.filter((need) => need.found);
  if (missing.length > 0) return `${missing.map(wordSymbolFile).join(', ')} missing`;
  if (unfitting.length > 0) return `${unfitting.map(wordSymbolFile).join(', ')} of another build, it seems`;
  if (found.length === 0) return 'as it was written; no symbol file needed';
  return `symbolicated with ${found
    .map((need) => (need.symbolId ? `${wordSymbolFile(need)} ${need.symbolId}` : `the ${wordSymbolFile(need)} of ${version} (${build})`))
    .join(', ')}`;
}
