import { Button, Checkbox, Drawer, NumberInput, Stack, TextInput } from '@mantine/core';
import type { RolloutConditions } from '@rough-ember/core/stability/rollout-check';
import type { StabilitySettings } from '@rough-ember/server/stability/settings';
import { useState } from 'react';
import { addressOf, request } from '../client/api';
import { useAnswer } from '../client/use-answer';
import { useAttempt } from '../client/use-attempt';
import { ProblemNotice } from '../shell/Notice';

type NumberCondition = {
  [Name in keyof RolloutConditions]: RolloutConditions[Name] extends boolean ? never : Name;
}[keyof RolloutConditions];

interface Asked {
  readonly label: string;
  readonly description: string;
  readonly suffix?: string;
  readonly max: number;
  readonly decimals: number;
}

const asked: Readonly<Record<NumberCondition, Asked>> = {
  sessions: { label: 'Sessions at least', description: 'Before that it is too early to say anything.', max: 100_000_000, decimals: 0 },
  crashFreePercent: {
    label: 'Crash-free sessions at least',
    description: 'Judged by the lower end of the 95 % interval.',
    suffix: ' %',
    max: 100,
    decimals: 3,
  },
  startCrashesPerThousand: {
    label: 'Crashes in the first five seconds at most',
    description: 'For 1,000 sessions, judged by the upper end of the interval.',
    max: 1_000,
    decimals: 2,
  },
  newCasePeople: { label: 'A case that began in it hits at most', description: 'People.', max: 100_000_000, decimals: 0 },
};
const numberConditions = Object.keys(asked) as NumberCondition[];

interface ConditionFieldsProps {
  readonly conditions: RolloutConditions;
  readonly onChange: (part: Partial<RolloutConditions>) => void;
}

function ConditionFields({ conditions, onChange }: ConditionFieldsProps) {
  return (
    <>
      {numberConditions.map((name) => (
        <NumberInput
          key={name}
          label={asked[name].label}
          description={asked[name].description}
          suffix={asked[name].suffix}
          value={conditions[name] ?? ''}
          onChange={(value) => onChange({ [name]: value === '' ? null : Number(value) })}
          min={0}
          max={asked[name].max}
          decimalScale={asked[name].decimals}
          thousandSeparator=","
        />
      ))}
      <Checkbox
        label="Every symbol file that its reports ask for is there"
        checked={conditions.symbols}
        onChange={(event) => onChange({ symbols: event.currentTarget.checked })}
      />
      <Checkbox
        label="It is not worse than the version that it is compared with"
        checked={conditions.notWorse}
        onChange={(event) => onChange({ notWorse: event.currentTarget.checked })}
      />
    </>
  );
}

/** What an app aims at, and what a version must fulfil before it goes to more people. */
export function ConditionsDrawer({ appSlug, onClose, onSaved }: { appSlug: string; onClose: () => void; onSaved: () => void }) {
  const { answer, problem: loadProblem } = useAnswer(addressOf('GET /apps/{app}/stability-settings', { app: appSlug }));
  const [changed, setChanged] = useState<StabilitySettings | null>(null);
  const { problem, attempt } = useAttempt();
  const settings = changed ?? answer;
  const save = async () => {
    if (!settings || !(await attempt(() => request('PUT /apps/{app}/stability-settings', { app: appSlug }, { body: settings })))) return;
    onSaved();
    onClose();
  };
  const ask = (part: Partial<RolloutConditions>) =>
    settings && setChanged({ ...settings, conditions: { ...settings.conditions, ...part } });
  return (
    <Drawer opened onClose={onClose} closeButtonProps={{ 'aria-label': 'Close' }} position="right" title="Before a version goes further">
      <ProblemNotice problem={problem ?? loadProblem} />
      {settings && (
        <Stack gap="sm">
          <p>What is left empty is not asked. A pipeline gets the same answer from “ember check-rollout”.</p>
          <ConditionFields conditions={settings.conditions} onChange={ask} />
          <NumberInput
            label="Target of the app"
            description="Crash-free sessions: the line across the trend. Empty: no line."
            suffix=" %"
            value={settings.targetPercent ?? ''}
            onChange={(value) => setChanged({ ...settings, targetPercent: value === '' ? null : Number(value) })}
            min={0}
            max={100}
            decimalScale={3}
          />
          <TextInput
            label="Oldest version that is still supported"
            description="People tells how many have that or a later one. Empty: none is named."
            value={settings.supportedFrom ?? ''}
            onChange={({ currentTarget }) => setChanged({ ...settings, supportedFrom: currentTarget.value.trim() || null })}
            maxLength={100}
          />
          <Button onClick={save} disabled={changed === null}>
            Save
          </Button>
        </Stack>
      )}
    </Drawer>
  );
}
