import { Button, Textarea } from '@mantine/core';
import { currentAlgorithm } from '@rough-ember/core/grouping/function-names';
import { ruleSet } from '@rough-ember/core/grouping/rules/apply-rules';
import { ruleVerbs } from '@rough-ember/core/grouping/rules/grouping-rules';
import { algorithmLineOf, parseRules, withAlgorithm } from '@rough-ember/core/grouping/rules/parse-rules';
import { wordAgo } from '@rough-ember/core/words/time';
import type { GroupingChangeView, GroupingOverview, RulesPreview } from '@rough-ember/server/grouping/change-rules';
import { useState } from 'react';
import { addressOf, request } from '../client/api';
import { useAttempt } from '../client/use-attempt';
import { useLive } from '../client/use-live';
import type { PageShell } from '../shell/page-shell';
import { Shell } from '../shell/Shell';
import { SidePage } from '../shell/SidePage';
import { wordCount, wordNumber } from '../words/numbers';
import styles from './GroupingPage.module.css';

export interface GroupingPageProps {
  readonly shell: PageShell;
  readonly overview: GroupingOverview;
  /** A rule that was made by pointing at a frame, to be added. */
  readonly added: string;
}

export function GroupingPage(props: GroupingPageProps) {
  return (
    <Shell shell={props.shell} place="cases">
      <Grouping {...props} />
    </Shell>
  );
}

/** The rules of an app: written, looked at on what is there, applied, and taken back. */
function Grouping({ shell, overview: initial, added }: GroupingPageProps) {
  const path = { app: shell.app.slug };
  const { data: overview, problem: liveProblem } = useLive(shell.app.slug, addressOf('GET /apps/{app}/grouping', path), initial);
  const [latest] = overview.changes;
  const waiting = latest?.state === 'previewing' || latest?.state === 'previewed' ? latest.rules : overview.rules;
  const [rules, setRules] = useState(() => [waiting.trimEnd(), added].filter(Boolean).join('\n'));
  const { problem, attempt } = useAttempt();
  const mayAct = shell.account.role !== 'viewer';
  const preview = (wanted: string) => {
    setRules(wanted);
    return attempt(() => request('POST /apps/{app}/grouping/preview', path, { body: { rules: wanted } }));
  };
  const restore = (wanted: string) => attempt(() => request('POST /apps/{app}/grouping/restore', path, { body: { rules: wanted } }));
  const renewed = withAlgorithm(overview.rules, currentAlgorithm);
  const isPreviewed = latest?.state === 'previewed' && latest.rules === rules;
  return (
    <SidePage
      sentence={sentenceOf(overview)}
      problem={problem ?? liveProblem}
      sideLabel="Language and history"
      side={
        <>
          <RuleLanguage />
          <RuleHistory overview={overview} mayAct={mayAct} onLook={setRules} onRestore={(wanted) => void restore(wanted)} />
        </>
      }
    >
      <div className={styles.work}>
        {mayAct && latest?.rules !== renewed && (
          <NewerAlgorithm algorithm={algorithmOf(overview.rules)} onPreview={() => void preview(renewed)} />
        )}
        <RulesText rules={rules} mayAct={mayAct} onChange={setRules} />
        {mayAct && (
          <RuleActions
            canPreview={parseRules(rules).ok && rules !== overview.rules}
            isInForce={rules === overview.rules}
            onPreview={() => void preview(rules)}
            onApply={
              isPreviewed && latest
                ? () => void attempt(() => request('POST /apps/{app}/grouping/apply', path, { body: { id: latest.id } }))
                : null
            }
          />
        )}
        {latest && <Progress change={latest} />}
        {isPreviewed && overview.preview && <Preview preview={overview.preview} appSlug={shell.app.slug} prefix={shell.app.prefix} />}
      </div>
    </SidePage>
  );
}

function RulesText({ rules, mayAct, onChange }: { rules: string; mayAct: boolean; onChange: (rules: string) => void }) {
  const parsed = parseRules(rules);
  return (
    <Textarea
      label="Rules, one a line"
      classNames={{ input: styles.rules as string }}
      autosize
      minRows={8}
      maxRows={24}
      spellCheck={false}
      readOnly={!mayAct}
      value={rules}
      placeholder={placeholder}
      error={parsed.ok ? null : `Line ${parsed.problem.line}: ${parsed.problem.message}.`}
      onChange={(event) => onChange(event.currentTarget.value)}
    />
  );
}

/** What can be done with the rules as they are written: first a preview, then, where that is of these very rules, the real thing. */
function RuleActions(props: { canPreview: boolean; isInForce: boolean; onPreview: () => void; onApply: (() => void) | null }) {
  const { canPreview, isInForce, onPreview, onApply } = props;
  return (
    <p className={styles.actions}>
      <Button size="sm" variant={onApply ? 'default' : 'filled'} disabled={!canPreview} onClick={onPreview}>
        Preview on what is there
      </Button>
      {onApply && (
        <Button size="sm" onClick={onApply}>
          Apply
        </Button>
      )}
      {isInForce && <span className={styles.faint}>These are the rules in force.</span>}
    </p>
  );
}

/** What a line of rules can say. */
function RuleLanguage() {
  return (
    <section>
      <h2>What a line can say</h2>
      <dl className={styles.verbs}>
        {Object.entries(ruleVerbs).map(([verb, says]) => (
          <div key={verb}>
            <dt>
              <code>{verb}</code>
            </dt>
            <dd>{says}</dd>
          </div>
        ))}
      </dl>
      <p>
        A frame is named by <code>function</code>, <code>file</code> and <code>image</code>, a report also by <code>type</code>,{' '}
        <code>message</code> and <code>kind</code>; <code>*</code> stands for anything. <code>#</code> begins a remark.
      </p>
    </section>
  );
}

/** Rules that were tried or in force, and the way back to them. */
function RuleHistory({
  overview,
  mayAct,
  onLook,
  onRestore,
}: {
  overview: GroupingOverview;
  mayAct: boolean;
  onLook: (rules: string) => void;
  onRestore: (rules: string) => void;
}) {
  const noneOfItsOwn = algorithmLineOf(overview.rules);
  return (
    <section>
      <h2>History</h2>
      {overview.changes.length === 0 && <p>No rules were ever tried.</p>}
      <ol className={styles.history}>
        {overview.changes.map((change) => (
          <li key={change.id}>
            {change.askedBy} {stateWords[change.state]} {wordRules(change.rules)}
            {change.state === 'applied' && change.moved > 0 && `, which moved ${wordCount(change.moved, 'report', 'reports')}`}{' '}
            <span className={styles.faint}>{wordAgo(change.askedAt, overview.now)}</span>{' '}
            <Button size="compact-xs" variant="subtle" onClick={() => onLook(change.rules)}>
              look at
            </Button>
            {mayAct && change.state === 'applied' && change.rules !== overview.rules && (
              <Button size="compact-xs" variant="subtle" onClick={() => onRestore(change.rules)}>
                back to these
              </Button>
            )}
          </li>
        ))}
      </ol>
      {mayAct && overview.rules !== noneOfItsOwn && (
        <Button size="xs" variant="default" onClick={() => onRestore(noneOfItsOwn)}>
          Back to no rules
        </Button>
      )}
    </section>
  );
}

/** An app that was there before the algorithm of today keeps its own until somebody wants the other. */
function NewerAlgorithm({ algorithm, onPreview }: { algorithm: number; onPreview: () => void }) {
  if (algorithm === currentAlgorithm) return null;
  return (
    <p className={styles.newer}>
      This app groups by algorithm {algorithm}, as it did when it was new. {newsOfCurrent} Nothing changes before you apply it.{' '}
      <Button size="xs" variant="default" onClick={onPreview}>
        Preview algorithm {currentAlgorithm}
      </Button>
    </p>
  );
}

const placeholder = `# Checks that only report what their caller did
skip function com.larkfield.guide.text.Require.*
outside function com.vendor.*
join "out of memory for tiles" type *OutOfMemoryError function *TileCache.*`;

const stateWords = {
  previewing: 'is previewing',
  previewed: 'previewed',
  applying: 'is applying',
  applied: 'applied',
  dropped: 'tried',
} as const;

const countRules = (text: string): number => {
  const rules = parseRules(text);
  return rules.ok ? rules.value.filter(({ verb }) => verb !== 'algorithm').length : 0;
};

function wordRules(text: string): string {
  const count = countRules(text);
  const rules = count === 0 ? 'no rules' : wordCount(count, 'rule', 'rules');
  return algorithmLineOf(text) === '' ? rules : `${rules} and ${algorithmLineOf(text)}`;
}

const newsOfCurrent = `Algorithm ${currentAlgorithm} keeps one cause in one case over engines, optimisers and desugared builds, and knows a stack overflow by the functions it goes round in.`;

function algorithmOf(text: string): number {
  const rules = parseRules(text);
  return rules.ok ? ruleSet(rules.value).algorithm : currentAlgorithm;
}

function sentenceOf({ rules }: GroupingOverview) {
  const count = countRules(rules);
  const by = `, by algorithm ${algorithmOf(rules)}`;
  if (count === 0) return <>Reports are grouped by their stacks alone{by}: this app has no rules of its own.</>;
  return (
    <>
      <b>{wordCount(count, 'rule', 'rules')}</b> {count === 1 ? 'has' : 'have'} a say in which reports are one case{by}.
    </>
  );
}

function Progress({ change }: { change: GroupingChangeView }) {
  if (change.state !== 'previewing' && change.state !== 'applying') return null;
  return (
    <p role="status" className={styles.progress}>
      {change.state === 'previewing' ? 'Looking at' : 'Moving'} {wordNumber(change.looked)} of{' '}
      {wordCount(change.total, 'report', 'reports')}
      {change.state === 'applying' && change.moved > 0 && `, ${wordNumber(change.moved)} went to another case`}. This page can be left.
      <progress max={Math.max(1, change.total)} value={change.looked} />
    </p>
  );
}

function Preview({ preview, appSlug, prefix }: { preview: RulesPreview; appSlug: string; prefix: string }) {
  const { merged, split, unchanged, moving, looked } = preview;
  const link = (number: number) => (
    <a href={`/apps/${appSlug}/cases/${prefix}-${number}?last=all&cases=any`}>
      {prefix}-{number}
    </a>
  );
  return (
    <section aria-label="Preview">
      <h2 className={styles.title}>
        {merged.length === 0 && split.length === 0
          ? 'No case would merge or split'
          : `${wordCount(merged.length, 'case', 'cases')} would be made of several, ${wordCount(split.length, 'case', 'cases')} would split`}
      </h2>
      <p className={styles.faint}>
        {wordCount(unchanged, 'case stays', 'cases stay')} as {unchanged === 1 ? 'it is' : 'they are'}; of{' '}
        {wordCount(looked, 'report', 'reports')} looked at, {wordNumber(moving)} would be in a case of another number.
      </p>
      {merged.length > 0 && <h3>Would merge</h3>}
      <ul className={styles.cases}>
        {merged.map(({ title, reports, stays, from }) => (
          <li key={`${title} ${stays}`}>
            <b>{title}</b>, {wordCount(reports, 'report', 'reports')}: {stays === null ? 'a new case' : <>goes on as {link(stays)}</>}, from{' '}
            {from.map((one, at) => (
              <span key={one.number}>
                {at > 0 && ', '}
                {link(one.number)} ({wordNumber(one.reports)})
              </span>
            ))}
          </li>
        ))}
      </ul>
      {split.length > 0 && <h3>Would split</h3>}
      <ul className={styles.cases}>
        {split.map(({ number, reports, into }) => (
          <li key={number}>
            {link(number)}, {wordCount(reports, 'report', 'reports')}, into{' '}
            {into.map((one, at) => (
              <span key={`${one.title} ${one.stays}`}>
                {at > 0 && ', '}
                <b>{one.title}</b> ({wordNumber(one.reports)}
                {one.stays === number ? ', keeps the number' : one.stays === null ? ', new' : <>, goes on as {link(one.stays)}</>})
              </span>
            ))}
          </li>
        ))}
      </ul>
    </section>
  );
}
