import { Button, Checkbox, Drawer, NumberInput, Stack, TagsInput, TextInput } from '@mantine/core';
import type { KeyRules } from '@rough-ember/core/report/key-rules';
import { reportKinds } from '@rough-ember/core/report/report-kinds';
import type { IntakeKeyView } from '@rough-ember/server/intake/intake-overview';
import { useState } from 'react';
import { request } from '../client/api';
import { useAttempt } from '../client/use-attempt';
import { ProblemNotice } from '../shell/Notice';

interface RulesProps {
  readonly rules: KeyRules;
  readonly onChange: (part: Partial<KeyRules>) => void;
}

/** Which items the key takes. */
function KindsTaken({ rules, onChange }: RulesProps) {
  return (
    <>
      <Checkbox.Group
        label="Takes reports of these kinds"
        value={rules.kinds}
        onChange={(kinds) => onChange({ kinds: reportKinds.filter((kind) => kinds.includes(kind)) })}
      >
        <Stack gap={4} mt={4}>
          {reportKinds.map((kind) => (
            <Checkbox key={kind} value={kind} label={kind === 'error' ? 'handled errors' : kind} />
          ))}
        </Stack>
      </Checkbox.Group>
      <Checkbox label="Takes sessions" checked={rules.sessions} onChange={(event) => onChange({ sessions: event.currentTarget.checked })} />
    </>
  );
}

/** How much of each kind the key keeps. */
function SharesKept({ rules, onChange }: RulesProps) {
  return (
    <>
      {reportKinds.map((kind) => (
        <NumberInput
          key={kind}
          label={`Share of ${kind === 'error' ? 'handled errors' : `${kind} reports`} that is kept`}
          value={rules.samplePercent[kind]}
          onChange={(value) => onChange({ samplePercent: { ...rules.samplePercent, [kind]: Number(value) } })}
          min={0}
          max={100}
          suffix=" %"
        />
      ))}
    </>
  );
}

/** Name and rules of one key. Changes hold from the next request on. */
export function KeyDrawer(props: { appSlug: string; intakeKey: IntakeKeyView; onClose: () => void; onChange: () => void }) {
  const { appSlug, intakeKey, onClose, onChange } = props;
  const [name, setName] = useState(intakeKey.name);
  const [rules, setRules] = useState<KeyRules>(intakeKey.rules);
  const { problem, attempt } = useAttempt();
  const change = (part: Partial<KeyRules>) => setRules({ ...rules, ...part });
  const save = async () => {
    const path = { app: appSlug, id: String(intakeKey.id) };
    if (!(await attempt(() => request('PUT /apps/{app}/intake-keys/{id}', path, { body: { name, rules } })))) return;
    onChange();
    onClose();
  };
  return (
    <Drawer opened onClose={onClose} closeButtonProps={{ 'aria-label': 'Close' }} position="right" title={`Intake key “${intakeKey.name}”`}>
      <Stack gap="sm">
        <TextInput label="Name" value={name} onChange={(event) => setName(event.currentTarget.value)} maxLength={100} />
        <KindsTaken rules={rules} onChange={change} />
        <TagsInput
          label="Build types excluded from the figures"
          description="Stored and grouped, but out of the desk and the figures unless asked for."
          value={rules.excludedBuildTypes}
          onChange={(excludedBuildTypes) => change({ excludedBuildTypes })}
          maxTags={20}
        />
        <TagsInput
          label="Build types refused"
          value={rules.refusedBuildTypes}
          onChange={(refusedBuildTypes) => change({ refusedBuildTypes })}
          maxTags={20}
        />
        <SharesKept rules={rules} onChange={change} />
        <NumberInput
          label="Items a minute"
          description="What comes beyond is asked to come later. Empty: no limit."
          value={rules.itemsPerMinute ?? ''}
          onChange={(value) => change({ itemsPerMinute: value === '' ? null : Number(value) })}
          min={1}
          allowDecimal={false}
        />
        <ProblemNotice problem={problem} />
        <Button onClick={save}>Save the rules</Button>
      </Stack>
    </Drawer>
  );
}
