import type { SettingChangeView } from '@rough-ember/server/app-settings/load-settings';

type Change = Pick<SettingChangeView, 'setting' | 'before' | 'after'>;

/** What each setting is called. */
export const settingWords: Readonly<Record<Change['setting'], string>> = {
  name: 'name',
  zone: 'time zone',
  platforms: 'platforms',
  'our-packages': 'packages of our own',
  'scrub-rules': 'what is taken out of texts',
  retention: 'how long things are kept',
  desk: 'the desk',
  stability: 'target and rollout conditions',
};

const longest = 80;

/** A value as it stands in a sentence. */
function wordValue(value: unknown): string {
  if (value === null || value === undefined) return 'nothing';
  if (Array.isArray(value) && value.every((one) => typeof one === 'string')) return value.length === 0 ? 'none' : value.join(', ');
  const text = typeof value === 'string' ? value : JSON.stringify(value);
  return text.length > longest ? `${text.slice(0, longest - 1)}…` : text;
}

const isObject = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null && !Array.isArray(value);

/** What a change changed: "name: Guide → Larkfield Guide"; of settings with parts, only those that differ. */
export function wordSettingChange({ before, after }: Change): string[] {
  if (!isObject(after)) return [`${wordValue(before)} → ${wordValue(after)}`];
  const was = isObject(before) ? before : {};
  const names = [...new Set([...Object.keys(was), ...Object.keys(after)])];
  const differing = names.filter((name) => JSON.stringify(was[name]) !== JSON.stringify(after[name]));
  if (before === null) return ['nothing was set before'];
  return differing.map((name) => `${name}: ${wordValue(was[name])} → ${wordValue(after[name])}`);
}
