import type { Storage } from './storage.ts';
import { uuid } from './uuid.ts';

const installationName = 'ember.installation';

/** The id of this installation; without a storage that works, every launch counts as one of its own. */
export function installationOf(storage: Storage): string {
  try {
    const known = storage.get(installationName);
    if (known !== null && /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i.test(known)) return known;
  } catch {
    return uuid();
  }
  const made = uuid();
  try {
    storage.set(installationName, made);
  } catch {
    // It is full.
  }
  return made;
}
