import { askAsOwner } from './owner.ts';
import { server } from './server.ts';
import type { Visitor } from './visitor.ts';

let apps = 0;

/** An app that nothing was ever sent of, and its intake key; the letters tell the files apart that make some. */
export async function freshApp(visitor: Visitor, letters: string): Promise<{ slug: string; key: string; name: string }> {
  apps++;
  const wanted = { name: `Feeder ${letters} ${apps}`, prefix: `${letters}${apps}`, platforms: ['Android'], ourPackages: [] };
  const { slug } = await visitor.post<{ slug: string }>('/api/v1/apps', wanted);
  const { keys } = await askAsOwner<{ keys: { keyText: string }[] }>(`/api/v1/apps/${slug}/intake`);
  return { slug, key: keys[0]?.keyText as string, name: wanted.name };
}

/** Sends items with an intake key; gives the answer. */
export const sendItems = async (key: string, items: readonly object[]) =>
  (
    await fetch(`${server.address}/intake/v1/batch`, {
      method: 'POST',
      headers: { authorization: `Bearer ${key}`, 'user-agent': 'FeederCam/2.1' },
      body: items.map((item) => JSON.stringify(item)).join('\n'),
    })
  ).json();
