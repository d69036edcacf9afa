import { Button } from '@mantine/core';
import { meaningOf } from '@rough-ember/core/fields/fields';
import { expectedAt } from '@rough-ember/core/scope/filter/expected-at';
import type { Filter } from '@rough-ember/core/scope/filter/filter';
import { parseFilter } from '@rough-ember/core/scope/filter/parse-filter';
import { printFilter } from '@rough-ember/core/scope/filter/print-filter';
import type { Scope } from '@rough-ember/core/scope/scope';
import type { FieldOverview } from '@rough-ember/server/desk/fields';
import { type KeyboardEvent, useEffect, useId, useState } from 'react';
import { wordNumber } from '../words/numbers';
import styles from './FilterForm.module.css';
import { useFields, useValues } from './use-fields';

interface Offer {
  readonly text: string;
  /** What stands in the filter when it is taken. */
  readonly written: string;
  readonly says: string;
}

const mostOffers = 9;

interface FilterFormProps {
  readonly appSlug: string;
  readonly scope: Scope;
  readonly onDone: (filter: Filter | null) => void;
  readonly onLeave: () => void;
}

/** The text of a filter with its caret, what would fit there, and what each key does. */
function useFilterText(appSlug: string, scope: Scope, onDone: FilterFormProps['onDone'], onLeave: () => void) {
  const [text, setText] = useState(() => printFilter(scope.filter));
  const [caret, setCaret] = useState(text.length);
  const [chosen, setChosen] = useState(-1);
  const [isTold, setIsTold] = useState(false);
  const parsed = parseFilter(text);
  const expected = expectedAt(text, caret);
  const fields = useFields(appSlug);
  const values = useValues(
    appSlug,
    { ...scope, filter: null },
    expected.kind === 'value' ? { field: expected.field, key: expected.key ?? '', part: expected.typed } : null,
  );
  const offers = offersFor(expected, fields, values?.values ?? []).slice(0, mostOffers);
  // Another text has other offers, of which none is chosen.
  // biome-ignore lint/correctness/useExhaustiveDependencies: the text decides
  useEffect(() => setChosen(-1), [text]);

  const take = ({ written }: Offer) => {
    const next = `${text.slice(0, expected.from)}${written}${text.slice(expected.to)}`;
    setText(next);
    setCaret(expected.from + written.length);
  };
  const finish = () => {
    if (parsed.ok) onDone(parsed.value);
    else setIsTold(true);
  };
  const onKey = (event: KeyboardEvent) => {
    const offer = offers[chosen];
    if (event.key === 'Escape') onLeave();
    else if (event.key === 'ArrowDown') setChosen(Math.min(chosen + 1, offers.length - 1));
    else if (event.key === 'ArrowUp') setChosen(Math.max(chosen - 1, -1));
    else if (event.key === 'Tab' && !event.shiftKey && (offer ?? (expected.typed !== '' ? offers[0] : undefined)))
      take((offer ?? offers[0]) as Offer);
    else if (event.key === 'Enter' && offer) take(offer);
    else if (event.key === 'Enter') finish();
    else return;
    event.preventDefault();
  };
  const write = (text: string, caret: number) => {
    setText(text);
    setCaret(caret);
    setIsTold(false);
  };
  return { text, write, caret, setCaret, parsed, offers, chosen, isTold, take, finish, onKey };
}

/** The filter as text, with completion; a mistake is pointed at before anything is asked. */
export function FilterForm({ appSlug, scope, onDone, onLeave }: FilterFormProps) {
  const id = useId();
  const { text, write, caret, setCaret, parsed, offers, chosen, isTold, take, finish, onKey } = useFilterText(
    appSlug,
    scope,
    onDone,
    onLeave,
  );
  const problem = parsed.ok ? null : parsed.problem;
  return (
    <div className={styles.form}>
      <div className={styles.line}>
        <input
          // biome-ignore lint/a11y/noAutofocus: the person has just asked for it
          autoFocus
          className={styles.text}
          role="combobox"
          aria-label="Filter"
          aria-expanded={offers.length > 0}
          aria-controls={`${id}-offers`}
          aria-activedescendant={chosen >= 0 ? `${id}-${chosen}` : undefined}
          aria-invalid={isTold && problem !== null}
          aria-describedby={`${id}-problem`}
          spellCheck={false}
          autoComplete="off"
          value={text}
          placeholder="flags.night-map = on AND os.version >= 14"
          onChange={({ currentTarget: field }) => write(field.value, field.selectionStart ?? field.value.length)}
          onSelect={(event) => setCaret(event.currentTarget.selectionStart ?? 0)}
          onKeyDown={onKey}
        />
        <Button size="compact-sm" onClick={finish}>
          Filter
        </Button>
        <Button size="compact-sm" variant="subtle" onClick={onLeave}>
          Leave
        </Button>
      </div>
      <p id={`${id}-problem`} className={styles.problem} role="status">
        {problem && (isTold || problem.at < caret - 1) && (
          <>
            <code aria-hidden="true">{`${' '.repeat(Math.min(problem.at, 120))}▲`}</code> {problem.message}
          </>
        )}
      </p>
      <Offers id={id} offers={offers} chosen={chosen} onTake={take} />
    </div>
  );
}

/** What fits where the caret is, for the text field above, which has the keys. */
function Offers({ id, offers, chosen, onTake }: { id: string; offers: readonly Offer[]; chosen: number; onTake: (offer: Offer) => void }) {
  if (offers.length === 0) return null;
  return (
    <div id={`${id}-offers`} role="listbox" aria-label="What fits here" className={styles.offers}>
      {offers.map((offer, at) => (
        // biome-ignore lint/a11y/useKeyWithClickEvents: the keys are those of the text field
        <div
          key={offer.text}
          id={`${id}-${at}`}
          role="option"
          aria-selected={at === chosen}
          tabIndex={-1}
          onMouseDown={(event) => event.preventDefault()}
          onClick={() => onTake(offer)}
        >
          <code>{offer.text}</code> <span>{offer.says}</span>
        </div>
      ))}
    </div>
  );
}

const quoted = (value: string): string =>
  /^[^\s()<>=!:,"'-][^\s()<>=!:,"']*$/.test(value) ? value : `"${value.replace(/["\\]/g, '\\$&')}"`;

function offersFor(
  expected: ReturnType<typeof expectedAt>,
  fields: FieldOverview | null,
  values: readonly { value: string; reports: number }[],
): Offer[] {
  const begun = expected.typed.toLowerCase();
  if (expected.kind === 'value')
    return values.map(({ value, reports }) => ({ text: value, written: `${quoted(value)} `, says: `${wordNumber(reports)} reports` }));
  const all = fields?.fields ?? [];
  if (expected.kind === 'key')
    return all
      .filter(({ field, key }) => field === expected.field && key.toLowerCase().includes(begun))
      .map(({ key, values: count }) => ({ text: key, written: `${keyText(key)} `, says: `${wordNumber(count)} values` }));
  return all
    .map(({ field, key, says }) => ({ text: key === '' ? field : `${field}.${keyText(key)}`, says, field }))
    .filter(({ text }) => begun === '' || text.toLowerCase().includes(begun))
    .sort((a, b) => Number(b.text.startsWith(begun)) - Number(a.text.startsWith(begun)))
    .map(({ text, says, field }) => ({ text, written: `${text} ${meaningOf(field).isText ? ':' : '= '}`.replace(' :', ':'), says }));
}

const keyText = (key: string): string => key.split('.').map(quoted).join('.');
