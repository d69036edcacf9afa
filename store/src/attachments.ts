import type { AttachmentKind } from '@rough-ember/core/report/attachment';
import type { Knex } from 'knex';
import type { Database } from './database.ts';
import { uuidBytes, uuidText } from './uuid.ts';

export interface StorableAttachment {
  readonly id: string;
  readonly reportId: string;
  readonly kind: AttachmentKind;
  readonly name: string;
  readonly mediaType: string;
  readonly content: Uint8Array;
}

/** An attachment without its bytes. */
export interface AttachmentSummary {
  readonly id: string;
  readonly kind: AttachmentKind;
  readonly name: string;
  readonly mediaType: string;
  readonly sizeBytes: number;
}

/** Inserts attachments; gives the ids that were new. A report takes at most `perReport`; what is beyond is left out. */
export async function insertAttachments(
  transaction: Knex.Transaction,
  {
    appId,
    attachments,
    receivedAt,
    perReport,
  }: { appId: number; attachments: readonly StorableAttachment[]; receivedAt: Date; perReport: number },
): Promise<{ stored: Set<string>; beyondLimit: Set<string> }> {
  const stored = new Set<string>();
  const beyondLimit = new Set<string>();
  for (const one of attachments) {
    const known = await transaction('attachments')
      .where({ app_id: appId, attachment_id: uuidBytes(one.id) })
      .first('id');
    if (known) continue;
    const [row] = await transaction('attachments')
      .where({ app_id: appId, report_id: uuidBytes(one.reportId) })
      .count({ count: '*' });
    if (Number(row?.count) >= perReport) {
      beyondLimit.add(one.id);
      continue;
    }
    const [result] = (await transaction.raw(
      'INSERT IGNORE INTO attachments (app_id, attachment_id, report_id, kind, name, media_type, size_bytes, content, received_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)',
      [
        appId,
        uuidBytes(one.id),
        uuidBytes(one.reportId),
        one.kind,
        one.name,
        one.mediaType,
        one.content.length,
        Buffer.from(one.content),
        receivedAt,
      ],
    )) as [{ affectedRows: number }];
    if (result.affectedRows > 0) stored.add(one.id);
  }
  return { stored, beyondLimit };
}

/** The attachments of a report, the first that came first. */
export async function listAttachments(database: Database, appId: number, reportId: string): Promise<AttachmentSummary[]> {
  const rows: (Omit<AttachmentSummary, 'id'> & { idBytes: Buffer })[] = await database('attachments')
    .where({ app_id: appId, report_id: uuidBytes(reportId) })
    .orderBy('id')
    .select({ idBytes: 'attachment_id', kind: 'kind', name: 'name', mediaType: 'media_type', sizeBytes: 'size_bytes' });
  return rows.map(({ idBytes, ...rest }) => ({ id: uuidText(idBytes), ...rest }));
}

export async function readAttachment(
  database: Database,
  appId: number,
  id: string,
): Promise<(Omit<AttachmentSummary, 'id'> & { content: Buffer }) | null> {
  return (
    (await database('attachments')
      .where({ app_id: appId, attachment_id: uuidBytes(id) })
      .first({ kind: 'kind', name: 'name', mediaType: 'media_type', sizeBytes: 'size_bytes', content: 'content' })) ?? null
  );
}
