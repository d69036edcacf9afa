import { Menu, UnstyledButton } from '@mantine/core';
import { sayMeasure } from '@rough-ember/core/ask/answer-words';
import { chartOf, chartsOf } from '@rough-ember/core/ask/charts';
import {
  type CountName,
  countNames,
  counts,
  countsOf,
  crashFree,
  crashFreeNames,
  isStatistic,
  type Measure,
  type Statistic,
  statistics,
} from '@rough-ember/core/ask/measures';
import {
  mostSplits,
  parseQuestion,
  printField,
  printQuestion,
  problemOf,
  type Question,
  sessionsTell,
  splitFields,
  stepNames,
} from '@rough-ember/core/ask/question';
import type { Split } from '@rough-ember/core/cases/desk-settings';
import { meaningOf, wordField } from '@rough-ember/core/fields/fields';
import { useState } from 'react';
import scopeStyles from '../scope/ScopeSentence.module.css';
import { ChoiceWord, Word } from '../scope/ScopeWords';
import { useFields } from '../scope/use-fields';
import { WrittenLine } from '../scope/WrittenLine';
import { capitalised } from '../words/sentence';
import styles from './Ask.module.css';

interface QuestionSentenceProps {
  readonly appSlug: string;
  readonly question: Question;
  readonly onChange: (question: Question) => void;
}

/** What is asked of the scope, as a sentence whose words are its controls. */
export function QuestionSentence({ appSlug, question, onChange }: QuestionSentenceProps) {
  const [writes, setWrites] = useState(false);
  const { measure, splits, every } = question;
  const change = (more: Partial<Question>) => onChange(mended({ ...question, ...more }));
  if (writes)
    return (
      <WrittenLine
        label="Question"
        text={printQuestion(question)}
        placeholder="affected people by carrier, version per week as lines"
        parse={parseQuestion}
        onDone={(next) => {
          setWrites(false);
          onChange(next);
        }}
        onLeave={() => setWrites(false)}
      />
    );
  return (
    <section className={scopeStyles.scope} aria-label="Question">
      <MeasureWords appSlug={appSlug} measure={measure} onChange={(next) => change({ measure: next })} />
      {splits.map((split, at) => (
        <span key={printField(split)}>
          {at === 0 ? 'by' : 'and'}{' '}
          <SplitWord
            appSlug={appSlug}
            question={question}
            split={split}
            onTake={(next) => change({ splits: splits.map((one, place) => (place === at ? next : one)) })}
            onLeave={() => change({ splits: splits.filter((_, place) => place !== at) })}
          />
        </span>
      ))}
      {splits.length < mostSplits && (
        <AddSplit appSlug={appSlug} question={question} onTake={(split) => change({ splits: [...splits, split] })} />
      )}
      <ChoiceWord
        width={200}
        chosen={every}
        choices={[null, ...stepNames]}
        wordOf={(step) => (step === null ? 'over the whole time' : `per ${step}`)}
        title="days, weeks from Monday and months are those of UTC"
        onChoose={(step) => change({ every: step })}
      />
      <span className={scopeStyles.comma}>,</span>
      as
      <ChoiceWord
        width={180}
        chosen={chartOf(question)}
        choices={chartsOf(question)}
        wordOf={(chart) => chart}
        onChoose={(chart) => change({ chart })}
      />
      <UnstyledButton className={scopeStyles.add} onClick={() => setWrites(true)}>
        write it …
      </UnstyledButton>
    </section>
  );
}

/** A question without what does not go together with what was just chosen. */
function mended(question: Question): Question {
  if (problemOf(question) === null) return question;
  const told = { ...question, splits: question.splits.filter(sessionsTell) };
  if (problemOf(told) === null) return told;
  return { ...told, every: null };
}

const perChoices = ['sessions', 'people', 'affected people', 'reports', 'requests'] as const satisfies readonly CountName[];

/** What is counted, and for a thousand of what; or which statistic of which numbers. */
function MeasureWords({ appSlug, measure, onChange }: { appSlug: string; measure: Measure; onChange: (measure: Measure) => void }) {
  if (isStatistic(measure)) return <StatisticWords appSlug={appSlug} measure={measure} onChange={onChange} />;
  const { count, per } = countsOf(measure);
  return (
    <>
      <MeasureMenu
        appSlug={appSlug}
        word={capitalised(measure.kind === 'crash-free' ? measure.name : count)}
        title={sayMeasure(measure)}
        onChange={onChange}
      />
      {measure.kind !== 'crash-free' && (
        <ChoiceWord
          width={220}
          chosen={per}
          choices={[null, ...perChoices.filter((one) => one !== count)]}
          wordOf={(one) => (one === null ? 'in all' : `for 1,000 ${one}`)}
          onChoose={(one) => onChange(one === null ? { kind: 'count', count } : { kind: 'rate', count, per: one })}
        />
      )}
    </>
  );
}

const sections = [
  ['Of the reports', 'reports'],
  ['Of sessions, and whoever was in them', 'sessions'],
  ['Of what sessions did', 'activities'],
] as const;

function MeasureMenu({
  appSlug,
  word,
  title,
  onChange,
}: {
  appSlug: string;
  word: string;
  title?: string;
  onChange: (measure: Measure) => void;
}) {
  const [opened, setOpened] = useState(false);
  return (
    <Menu width={330} opened={opened} onChange={setOpened}>
      <Word title={title ?? ''}>{word}</Word>
      <Menu.Dropdown className={scopeStyles.long}>
        {sections.map(([label, from]) => (
          <div key={from}>
            <Menu.Label>{label}</Menu.Label>
            {countNames
              .filter((name) => counts[name].from === from)
              .map((name) => (
                <MeasureItem key={name} name={name} says={counts[name].says} onTake={() => onChange({ kind: 'count', count: name })} />
              ))}
            {from === 'sessions' &&
              crashFreeNames.map((name) => (
                <MeasureItem key={name} name={name} says={crashFree[name].says} onTake={() => onChange({ kind: 'crash-free', name })} />
              ))}
            {from === 'activities' && (
              <MeasureItem
                name="request time"
                says="how long requests took"
                onTake={() => onChange({ kind: 'request time', statistic: 'median' })}
              />
            )}
          </div>
        ))}
        {opened && (
          <AttributeItems
            appSlug={appSlug}
            onTake={(attribute) => onChange({ kind: 'attribute', statistic: 'median', attribute, of: 'reports' })}
          />
        )}
      </Menu.Dropdown>
    </Menu>
  );
}

function MeasureItem({ name, says, onTake }: { name: string; says: string; onTake: () => void }) {
  return (
    <Menu.Item onClick={onTake}>
      {name}
      <span className={styles.says}>{says}</span>
    </Menu.Item>
  );
}

function AttributeItems({ appSlug, onTake }: { appSlug: string; onTake: (attribute: string) => void }) {
  const overview = useFields(appSlug);
  const attributes = (overview?.fields ?? []).filter(({ field }) => field === 'attributes');
  return (
    <>
      <Menu.Label>Of the values of an attribute</Menu.Label>
      {attributes.map(({ key }) => (
        <Menu.Item key={key} onClick={() => onTake(key)}>
          {key}
        </Menu.Item>
      ))}
      {overview && attributes.length === 0 && <Menu.Item disabled>no attribute is filterable yet; the desk settings make one so</Menu.Item>}
    </>
  );
}

function StatisticWords({
  appSlug,
  measure,
  onChange,
}: {
  appSlug: string;
  measure: Extract<Measure, { statistic: Statistic }>;
  onChange: (measure: Measure) => void;
}) {
  const possible = measure.kind === 'attribute' ? statistics : statistics.filter((one) => one !== 'sum' && one !== 'mean');
  return (
    <>
      <ChoiceWord
        width={160}
        chosen={measure.statistic}
        choices={possible}
        wordOf={capitalised}
        onChoose={(statistic) => onChange({ ...measure, statistic } as Measure)}
      />
      of
      <MeasureMenu
        appSlug={appSlug}
        word={measure.kind === 'attribute' ? measure.attribute : 'request time'}
        title={sayMeasure(measure)}
        onChange={onChange}
      />
      {measure.kind === 'attribute' && (
        <ChoiceWord
          width={180}
          chosen={measure.of}
          choices={['reports', 'sessions'] as const}
          wordOf={(of) => `of ${of}`}
          onChoose={(of) => onChange({ ...measure, of })}
        />
      )}
    </>
  );
}

interface SplitProps {
  readonly appSlug: string;
  readonly question: Question;
  readonly onTake: (split: Split) => void;
}

function SplitWord({ appSlug, question, split, onTake, onLeave }: SplitProps & { split: Split; onLeave: () => void }) {
  const [opened, setOpened] = useState(false);
  return (
    <Menu width={280} opened={opened} onChange={setOpened} withInitialFocusPlaceholder={false}>
      <Word title={meaningOf(split.field).says}>{wordField(split.field, split.key || null)}</Word>
      <Menu.Dropdown className={scopeStyles.long}>
        <Menu.Item onClick={onLeave}>Take it out</Menu.Item>
        <Menu.Divider />
        {opened && <SplitItems appSlug={appSlug} question={question} onTake={onTake} />}
      </Menu.Dropdown>
    </Menu>
  );
}

function AddSplit({ appSlug, question, onTake }: SplitProps) {
  const [opened, setOpened] = useState(false);
  return (
    <Menu width={280} opened={opened} onChange={setOpened} withInitialFocusPlaceholder={false}>
      <Menu.Target>
        <UnstyledButton className={scopeStyles.add} aria-label="Divide by a field">
          {question.splits.length === 0 ? '+ by …' : '+ and …'}
        </UnstyledButton>
      </Menu.Target>
      <Menu.Dropdown className={scopeStyles.long}>
        {opened && <SplitItems appSlug={appSlug} question={question} onTake={onTake} />}
      </Menu.Dropdown>
    </Menu>
  );
}

/** The fields that an answer to the question can be divided by. */
function SplitItems({ appSlug, question, onTake }: SplitProps) {
  const overview = useFields(appSlug);
  const choices = (overview?.fields ?? [])
    .filter(({ field }) => splitFields.includes(field))
    .filter((one) => problemOf({ ...question, splits: [one], every: null }) === null)
    .filter((one) => !question.splits.some(({ field, key }) => field === one.field && key === one.key));
  if (!overview) return <Menu.Item disabled>looking …</Menu.Item>;
  return (
    <>
      {choices.map(({ field, key, says }) => (
        <Menu.Item key={printField({ field, key })} onClick={() => onTake({ field, key })}>
          {wordField(field, key || null)}
          <span className={styles.says}>{says}</span>
        </Menu.Item>
      ))}
    </>
  );
}
