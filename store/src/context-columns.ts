import { createHash } from 'node:crypto';
import { deviceName } from '@rough-ember/core/fields/fields';
import type { ReportContext } from '@rough-ember/core/report/context';
import { isRemoved } from '@rough-ember/core/report/scrub';
import { versionSortKey } from '@rough-ember/core/version/version-order';
import { uuidBytes } from './uuid.ts';

/** The key of somebody whom the app knows by an id of its own. */
export const keyOfPerson = (personId: string): Buffer => createHash('sha256').update(`person:${personId}`).digest().subarray(0, 16);

/** The key of somebody by how they can be reached: a mail address or telephone number as they left it, in any case. */
export const keyOfContact = (contact: string): Buffer =>
  createHash('sha256').update(`contact:${contact.trim().toLowerCase()}`).digest().subarray(0, 16);

/** Who something counts for: the user id the app gave, else the installation. */
function personKey({ personId, installationId }: Pick<ReportContext, 'personId' | 'installationId'>): Buffer | null {
  if (personId !== null) return keyOfPerson(personId);
  return installationId === null ? null : uuidBytes(installationId);
}

/** The columns that reports and sessions share: where something happened, and to whom. */
export const contextColumns = (context: ReportContext) => ({
  version: context.version,
  version_key: versionSortKey(context.version),
  build: context.build,
  build_type: context.buildType,
  os_name: context.os?.name ?? null,
  os_version: context.os?.version ?? null,
  device_model: context.device && deviceName(context.device),
  country: context.country,
  installation_id: context.installationId ? uuidBytes(context.installationId) : null,
  person_key: personKey(context),
  contact_key: context.contact === null || isRemoved(context.contact) ? null : keyOfContact(context.contact),
});
