import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { buildGuideHistory } from '@rough-ember/demo/guide-history';
import { larkfieldGuide } from '@rough-ember/demo/larkfield';
import type { Services } from '@rough-ember/server/services';
import type { Settings } from '@rough-ember/server/settings';
import { changeAppSetting } from '@rough-ember/store/app-settings';
import { findApp, readDeskSettings } from '@rough-ember/store/apps';

const guide = larkfieldGuide.app.slug;

/** Makes the git repository of the demo's sources, once, and has the server read sources there; as it was where there is no git. */
export function withDemoSources(settings: Settings): Settings {
  const root = join(settings.dataFolder, 'sources');
  const cameOut = Object.fromEntries(larkfieldGuide.releases.map(({ version, days }) => [version, days]));
  const isThere = existsSync(join(root, guide)) || buildGuideHistory(join(root, guide), cameOut);
  return isThere ? { ...settings, sourcesFolder: root } : settings;
}

/** Names that repository in the desk settings of the guide, unless somebody has named another place. */
export async function nameDemoSources({ database }: Pick<Services, 'database'>): Promise<void> {
  const app = await findApp(database, guide);
  if (!app) return;
  const desk = await readDeskSettings(database, app.id);
  if (desk.sources[0]?.folder === larkfieldGuide.sources)
    await changeAppSetting(database, {
      ...{ appId: app.id, setting: 'desk' as const, by: 'the demo' },
      value: { ...desk, sources: [{ folder: guide, revision: 'v{version}' }] },
    });
}
