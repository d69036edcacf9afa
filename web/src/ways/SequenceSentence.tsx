import { Menu, TextInput, UnstyledButton } from '@mantine/core';
import {
  mostSteps,
  parseSequence,
  printOutcome,
  printSequence,
  printStep,
  type RequestOutcome,
  type Sequence,
  type StepPattern,
} from '@rough-ember/core/sequences/sequence';
import type { KnownStep } from '@rough-ember/server/sequences/look-at-paths';
import { useState } from 'react';
import scopeStyles from '../scope/ScopeSentence.module.css';
import { Word } from '../scope/ScopeWords';
import { WrittenLine } from '../scope/WrittenLine';
import { wordDuration } from '../sessions/session-words';
import { wordNumber } from '../words/numbers';

interface SequenceSentenceProps {
  readonly sequence: Sequence;
  /** What sessions did, to choose from. */
  readonly steps: readonly KnownStep[];
  readonly onChange: (sequence: Sequence) => void;
}

/** Steps that sessions are held against, as a sentence whose words are its controls. */
export function SequenceSentence({ sequence, steps, onChange }: SequenceSentenceProps) {
  const [writes, setWrites] = useState(false);
  if (writes)
    return (
      <WrittenLine
        label="Sequence"
        text={printSequence(sequence)}
        placeholder="screen map then tap offline then request tiles 5xx within 10 s then crash"
        parse={parseSequence}
        onDone={(next) => {
          setWrites(false);
          onChange(next);
        }}
        onLeave={() => setWrites(false)}
      />
    );
  const put = (at: number, step: StepPattern) => onChange(sequence.map((one, place) => (place === at ? step : one)));
  return (
    <section className={scopeStyles.scope} aria-label="Sequence">
      Sessions with
      {sequence.map((step, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: steps have no identity but their place
        <span key={at}>
          {at > 0 && 'then '}
          <StepWord
            step={step}
            steps={steps}
            isFirst={at === 0}
            onTake={(next) => put(at, next)}
            onLeave={() => onChange(startOf(sequence.filter((_, place) => place !== at)))}
            onEarlier={() => onChange(startOf(swapped(sequence, at)))}
          />
        </span>
      ))}
      {sequence.length < mostSteps && (
        <AddStep first={sequence.length === 0} steps={steps} onTake={(step) => onChange([...sequence, step])} />
      )}
      <UnstyledButton className={scopeStyles.add} onClick={() => setWrites(true)}>
        write it …
      </UnstyledButton>
      {sequence.length > 0 && (
        <UnstyledButton className={scopeStyles.add} onClick={() => onChange([])}>
          clear
        </UnstyledButton>
      )}
    </section>
  );
}

/** The first step follows none, so nothing says how soon it must. */
const startOf = (sequence: Sequence): Sequence => sequence.map((step, at) => (at === 0 ? { ...step, withinMs: null } : step));

const swapped = (sequence: Sequence, at: number): Sequence =>
  sequence.map((step, place) => (place === at - 1 ? sequence[at] : place === at ? sequence[at - 1] : step) as StepPattern);

const withinChoices = [null, 1_000, 10_000, 60_000, 600_000];
const outcomeChoices: readonly (RequestOutcome | null)[] = [
  null,
  { kind: 'ok' },
  { kind: 'failed' },
  { kind: 'class', hundreds: 4 },
  { kind: 'class', hundreds: 5 },
];

interface StepWordProps {
  readonly step: StepPattern;
  readonly steps: readonly KnownStep[];
  readonly isFirst: boolean;
  readonly onTake: (step: StepPattern) => void;
  readonly onLeave: () => void;
  readonly onEarlier: () => void;
}

function StepWord({ step, steps, isFirst, onTake, onLeave, onEarlier }: StepWordProps) {
  return (
    <Menu width={360}>
      <Word>{printStep(step)}</Word>
      <Menu.Dropdown className={scopeStyles.long}>
        <Menu.Item onClick={onLeave}>Take it out</Menu.Item>
        {!isFirst && <Menu.Item onClick={onEarlier}>One earlier</Menu.Item>}
        {!isFirst && (
          <>
            <Menu.Label>After the step before</Menu.Label>
            {withinChoices.map((withinMs) => (
              <Menu.Item key={withinMs} disabled={withinMs === step.withinMs} onClick={() => onTake({ ...step, withinMs })}>
                {withinMs === null ? 'At any time' : `Within ${wordDuration(withinMs)}`}
              </Menu.Item>
            ))}
          </>
        )}
        {step.kind === 'request' && (
          <>
            <Menu.Label>How it went</Menu.Label>
            {outcomeChoices.map((outcome) => (
              <Menu.Item key={outcome && printOutcome(outcome)} onClick={() => onTake({ ...step, outcome })}>
                {outcome === null ? 'However it went' : printOutcome(outcome)}
              </Menu.Item>
            ))}
          </>
        )}
        <Menu.Label>Another step in its place</Menu.Label>
        <StepChoices steps={steps} onTake={(next) => onTake({ ...next, withinMs: step.withinMs })} />
      </Menu.Dropdown>
    </Menu>
  );
}

function AddStep({ first, steps, onTake }: { first: boolean; steps: readonly KnownStep[]; onTake: (step: StepPattern) => void }) {
  return (
    <Menu width={360}>
      <Menu.Target>
        <UnstyledButton className={scopeStyles.add}>{first ? '+ first step' : '+ then'}</UnstyledButton>
      </Menu.Target>
      <Menu.Dropdown className={scopeStyles.long}>
        <StepChoices steps={steps} onTake={onTake} />
      </Menu.Dropdown>
    </Menu>
  );
}

const shownChoices = 60;

/** The steps that sessions took, narrowed by what is typed. */
function StepChoices({ steps, onTake }: { steps: readonly KnownStep[]; onTake: (step: StepPattern) => void }) {
  const [text, setText] = useState('');
  const wanted = text.trim().toLowerCase();
  const found = steps.filter(({ step }) => step.toLowerCase().includes(wanted)).slice(0, shownChoices);
  return (
    <>
      <TextInput
        aria-label="Find a step"
        placeholder="screen, tap, request, crash …"
        value={text}
        onChange={(event) => setText(event.currentTarget.value)}
      />
      {found.map(({ step, looked }) => (
        <Menu.Item
          key={step}
          rightSection={<span className={scopeStyles.count}>{wordNumber(looked)}</span>}
          onClick={() => {
            const parsed = parseSequence(step);
            if (parsed.ok) for (const one of parsed.value) onTake(one);
          }}
        >
          {step}
        </Menu.Item>
      ))}
      {found.length === 0 && <Menu.Label>No session that was looked at took such a step; “write it …” takes any.</Menu.Label>}
    </>
  );
}
