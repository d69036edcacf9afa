import { z } from 'zod';

/** What a row of the list may show beside what and where, with the words of the menu. */
export const deskColumns = {
  message: 'message',
  reports: 'reports',
  people: 'people',
  rate: 'per 1,000 sessions',
  versions: 'version strip',
  trend: 'trend',
  span: 'first and last version',
  assignee: 'who looks after it',
  lastSeen: 'last seen',
} as const;
export type DeskColumn = keyof typeof deskColumns;
export const deskColumnNames = Object.keys(deskColumns) as [DeskColumn, ...DeskColumn[]];

/** The columns that somebody has chosen, in the order of the list above. */
export const deskColumnsSchema = z
  .array(z.enum(deskColumnNames))
  .max(deskColumnNames.length)
  .transform((chosen) => deskColumnNames.filter((one) => chosen.includes(one)));

/** What somebody sees who has chosen nothing. */
export const usualDeskColumns: readonly DeskColumn[] = deskColumnNames;
