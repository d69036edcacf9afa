import { Menu, TextInput, UnstyledButton } from '@mantine/core';
import { type FieldName, wordField } from '@rough-ember/core/fields/fields';
import { conditionsOf, type Filter } from '@rough-ember/core/scope/filter/filter';
import { wordCondition } from '@rough-ember/core/scope/filter/print-filter';
import type { Scope } from '@rough-ember/core/scope/scope';
import { useState } from 'react';
import { wordNumber } from '../words/numbers';
import styles from './ScopeSentence.module.css';
import { hasValue, replaceCondition, withCondition } from './scope-context';
import { useFields, useValues } from './use-fields';

interface ConditionsProps {
  readonly appSlug: string;
  readonly scope: Scope;
  readonly onChange: (scope: Scope) => void;
  /** Shows the filter as text. */
  readonly onWrite: () => void;
}

/** What else reports must fulfil, each condition a word of the sentence; and a menu for one more. */
export function Conditions({ appSlug, scope, onChange, onWrite }: ConditionsProps) {
  const conditions = conditionsOf(scope.filter);
  return (
    <>
      {conditions.map((condition, place) => (
        <span key={wordCondition(condition)} className={styles.condition}>
          {place === 0 ? 'where' : 'and'}{' '}
          <Menu width={280} withInitialFocusPlaceholder={false}>
            <Menu.Target>
              <UnstyledButton className={styles.word}>{wordCondition(condition)}</UnstyledButton>
            </Menu.Target>
            <Menu.Dropdown className={styles.long}>
              <Menu.Item onClick={() => onChange(replaceCondition(scope, place, null))}>Take it out</Menu.Item>
              <Menu.Item onClick={() => onChange(replaceCondition(scope, place, opposite(condition)))}>Say the opposite</Menu.Item>
              <Menu.Item onClick={onWrite}>Write it as text …</Menu.Item>
              {condition.kind === 'restriction' && (condition.comparator === '=' || condition.comparator === '!=') && (
                <OtherValues
                  appSlug={appSlug}
                  scope={replaceCondition(scope, place, null)}
                  field={condition.field}
                  name={condition.key ?? ''}
                  onTake={(value) => onChange(replaceCondition(scope, place, { ...condition, value }))}
                />
              )}
            </Menu.Dropdown>
          </Menu>
        </span>
      ))}
      <AddCondition appSlug={appSlug} scope={scope} onChange={onChange} onWrite={onWrite} isFirst={conditions.length === 0} />
    </>
  );
}

const opposite = (condition: Filter): Filter => (condition.kind === 'not' ? condition.part : { kind: 'not', part: condition });

function OtherValues({
  appSlug,
  scope,
  field,
  name,
  part = '',
  onTake,
}: {
  appSlug: string;
  scope: Scope;
  field: FieldName;
  name: string;
  part?: string;
  onTake: (value: string) => void;
}) {
  const found = useValues(appSlug, scope, { field, key: name, part });
  if (!found) return <Menu.Item disabled>looking …</Menu.Item>;
  if (found.values.length === 0) return <Menu.Item disabled>no report of the scope tells this</Menu.Item>;
  return (
    <>
      <Menu.Divider />
      {found.values.map(({ value, reports }) => (
        <Menu.Item key={value} onClick={() => onTake(value)} rightSection={<span className={styles.count}>{wordNumber(reports)}</span>}>
          <span className={styles.choice}>{value.split('\n', 1)[0]}</span>
        </Menu.Item>
      ))}
      {found.different > found.values.length && (
        <Menu.Item disabled>and {wordNumber(found.different - found.values.length)} more; write part of one</Menu.Item>
      )}
    </>
  );
}

/** One more condition: a field, and then a value of those really seen. */
function AddCondition({ appSlug, scope, onChange, onWrite, isFirst }: ConditionsProps & { isFirst: boolean }) {
  const [opened, setOpened] = useState(false);
  const [field, setField] = useState<{ field: FieldName; key: string } | null>(null);
  const [part, setPart] = useState('');
  const leave = () => {
    setOpened(false);
    setField(null);
    setPart('');
  };
  const choose = (next: typeof field) => {
    setField(next);
    setPart('');
  };
  return (
    <Menu
      width={300}
      opened={opened}
      onChange={(isOpen) => (isOpen ? setOpened(true) : leave())}
      closeOnItemClick={false}
      withInitialFocusPlaceholder={false}
      trapFocus={false}
    >
      <Menu.Target>
        <UnstyledButton className={styles.add} aria-label="Add a condition">
          {isFirst ? '+ where …' : '+ and …'}
        </UnstyledButton>
      </Menu.Target>
      <Menu.Dropdown className={styles.long}>
        {opened && (
          <TextInput
            size="xs"
            data-autofocus
            autoFocus
            aria-label={field ? 'Part of a value' : 'Part of a field'}
            placeholder={field ? `${wordField(field.field, field.key || null)} is …` : 'field, flag or attribute …'}
            value={part}
            onChange={(event) => setPart(event.currentTarget.value)}
          />
        )}
        {opened && field === null && <FieldChoices appSlug={appSlug} part={part} onTake={choose} onWrite={onWrite} />}
        {opened && field !== null && (
          <OtherValues
            appSlug={appSlug}
            scope={scope}
            field={field.field}
            name={field.key}
            part={part}
            onTake={(value) => {
              onChange(withCondition(scope, hasValue(field.field, field.key, value)));
              leave();
            }}
          />
        )}
      </Menu.Dropdown>
    </Menu>
  );
}

/** Fields that the words of the sentence hold already. */
const saidElsewhere: readonly FieldName[] = ['kind', 'person', 'installation'];

function FieldChoices({
  appSlug,
  part,
  onTake,
  onWrite,
}: {
  appSlug: string;
  part: string;
  onTake: (field: { field: FieldName; key: string }) => void;
  onWrite: () => void;
}) {
  const overview = useFields(appSlug);
  const wanted = part.toLowerCase();
  const choices = (overview?.fields ?? [])
    .filter(({ field }) => !saidElsewhere.includes(field))
    .map((one) => ({ ...one, words: wordField(one.field, one.key || null) }))
    .filter(({ words, field }) => words.toLowerCase().includes(wanted) || field.includes(wanted));
  return (
    <>
      <Menu.Item onClick={onWrite}>Write it as text …</Menu.Item>
      <Menu.Divider />
      {choices.map(({ field, key, words, says }) => (
        <Menu.Item
          key={`${field} ${key}`}
          onClick={() => onTake({ field, key })}
          rightSection={<span className={styles.count}>{says}</span>}
        >
          {words}
        </Menu.Item>
      ))}
    </>
  );
}
