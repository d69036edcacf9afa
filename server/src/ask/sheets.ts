import { exampleSheets } from '@rough-ember/core/ask/example-sheets';
import { chartSchema, mostCharts, readCharts, type SheetChart, type SheetContent, sheetSchema } from '@rough-ember/core/ask/sheet';
import { type App, findAppById } from '@rough-ember/store/apps';
import type { Database } from '@rough-ember/store/database';
import {
  addSheet,
  changeSheet,
  findSheet,
  findSheetBy,
  listSheets,
  removeSheet,
  type Sheet,
  type SheetReader,
  shareSheet,
} from '@rough-ember/store/sheets';
import { z } from 'zod';
import { hashSecret, makeSecret } from '../accounts/secrets.ts';
import { ApiError } from '../errors.ts';
import type { Services } from '../services.ts';

/** A sheet as it is listed. */
export interface SheetItem {
  /** In addresses: its number, or the name of one that ships with the product. */
  readonly name: string;
  readonly title: string;
  readonly charts: number;
  readonly isExample: boolean;
  readonly forTeam: boolean;
  readonly madeBy: string | null;
  readonly changedAt: string | null;
}

/** A sheet as it is shown. */
export interface SheetView extends SheetContent {
  readonly name: string;
  readonly isExample: boolean;
  /** What a change must name, so that nobody's is lost. */
  readonly revision: number;
  /** Whether a link shows it without a sign-in. */
  readonly isShared: boolean;
  readonly madeBy: string | null;
}

type SheetServices = Pick<Services, 'database' | 'changes'>;

export const changedSheetSchema = sheetSchema.extend({ revision: z.int().min(1) });
export const sheetChartSchema = chartSchema;

/** The sheets that somebody may see of an app, their own and the team's first, then those that ship with the product. */
export async function loadSheets(database: Database, reader: SheetReader): Promise<SheetItem[]> {
  const own = await listSheets(database, reader);
  return [
    ...own.map((sheet) => ({
      name: String(sheet.id),
      title: sheet.title,
      charts: readCharts(sheet.charts)?.length ?? 0,
      isExample: false,
      forTeam: sheet.forTeam,
      madeBy: sheet.madeBy,
      changedAt: sheet.changedAt.toISOString(),
    })),
    ...exampleSheets.map(({ name, title, charts }) => ({
      name,
      title,
      charts: charts.length,
      isExample: true,
      forTeam: true,
      madeBy: null,
      changedAt: null,
    })),
  ];
}

const noSheet = () => new ApiError('not-found', 'There is no such sheet, or somebody else keeps it for themselves.');

const viewOf = (sheet: Sheet): SheetView => ({
  name: String(sheet.id),
  title: sheet.title,
  forTeam: sheet.forTeam,
  scope: sheet.scope,
  charts: readCharts(sheet.charts) ?? [],
  isExample: false,
  revision: sheet.revision,
  isShared: sheet.isShared,
  madeBy: sheet.madeBy,
});

const idOf = (name: string): number => {
  if (!/^[1-9]\d{0,8}$/.test(name)) throw noSheet();
  return Number(name);
};

/** A sheet that ships with the product; null when there is none of the name. */
function exampleView(name: string): SheetView | null {
  const example = exampleSheets.find((one) => one.name === name);
  if (!example) return null;
  const charts = example.charts.map(({ scope, ...chart }) => ({ ...chart, scope: scope || null, width: 'half' as const }));
  return { name, title: example.title, forTeam: true, scope: '', charts, isExample: true, revision: 1, isShared: false, madeBy: null };
}

export async function loadSheet(database: Database, reader: SheetReader, name: string): Promise<SheetView> {
  const example = exampleView(name);
  if (example) return example;
  const sheet = await findSheet(database, reader, idOf(name));
  if (!sheet) throw noSheet();
  return viewOf(sheet);
}

/** A sheet that everybody of the team may see, whoever made it; null when it is not there for them. */
export async function findTeamSheet(database: Database, app: App, name: string): Promise<SheetView | null> {
  const example = exampleView(name);
  if (example) return example;
  const sheet = /^[1-9]\d{0,8}$/.test(name) ? await findSheetBy(database, { id: Number(name), appId: app.id }) : null;
  return sheet?.forTeam ? viewOf(sheet) : null;
}

const stored = ({ charts, ...content }: SheetContent) => ({ ...content, charts: JSON.stringify(charts) });

export async function makeSheet(
  { database, changes }: SheetServices,
  reader: SheetReader,
  content: SheetContent,
): Promise<{ name: string }> {
  const id = await addSheet(database, reader, stored(content));
  if (id === null) throw new ApiError('bad-request', 'The app has as many sheets as there can be. Drop one first.');
  changes.note(reader.appId);
  return { name: String(id) };
}

export async function keepSheet(
  { database, changes }: SheetServices,
  reader: SheetReader,
  name: string,
  { revision, ...content }: z.infer<typeof changedSheetSchema>,
): Promise<{ revision: number }> {
  const id = idOf(name);
  if (!(await changeSheet(database, reader, { id, revision }, stored(content)))) {
    if ((await findSheet(database, reader, id)) === null) throw noSheet();
    throw new ApiError('overtaken', 'Somebody changed the sheet since you looked. Look at it again and change it anew.');
  }
  changes.note(reader.appId);
  return { revision: revision + 1 };
}

/** Puts one more chart at the end of a sheet. */
export async function addChart(services: SheetServices, reader: SheetReader, name: string, chart: SheetChart): Promise<{ charts: number }> {
  for (let attempt = 0; attempt < 5; attempt++) {
    const sheet = await findSheet(services.database, reader, idOf(name));
    if (!sheet) throw noSheet();
    const charts = [...(readCharts(sheet.charts) ?? []), chart];
    if (charts.length > mostCharts) throw new ApiError('bad-request', `A sheet has room for ${mostCharts} charts. Begin another one.`);
    const { title, forTeam, scope } = sheet;
    if (await changeSheet(services.database, reader, sheet, { title, forTeam, scope, charts: JSON.stringify(charts) })) {
      services.changes.note(reader.appId);
      return { charts: charts.length };
    }
  }
  throw new ApiError('overtaken', 'Others are changing the sheet at this moment. Try again.');
}

export async function dropSheet({ database, changes }: SheetServices, reader: SheetReader, name: string): Promise<void> {
  if (!(await removeSheet(database, reader, idOf(name)))) throw noSheet();
  changes.note(reader.appId);
}

/** Makes a link that shows a sheet without a sign-in, in place of the one before; its secret is kept as a hash alone. */
export async function makeSheetLink(
  { database, publicUrl }: Pick<Services, 'database' | 'publicUrl'>,
  reader: SheetReader,
  name: string,
): Promise<{ link: string }> {
  const secret = makeSecret('sheet', 24);
  if (!(await shareSheet(database, reader, idOf(name), hashSecret(secret)))) throw noSheet();
  return { link: `${publicUrl}/sheet/${secret}` };
}

export async function endSheetLink(database: Database, reader: SheetReader, name: string): Promise<void> {
  if (!(await shareSheet(database, reader, idOf(name), null))) throw noSheet();
}

/** The sheet of a link, with the app it is of. */
export async function requireSharedSheet(database: Database, secret: string): Promise<{ app: App; sheet: SheetView }> {
  const sheet = /^sheet_[\w-]{20,60}$/.test(secret) ? await findSheetBy(database, { linkHash: hashSecret(secret) }) : null;
  const app = sheet && (await findAppById(database, sheet.appId));
  if (!sheet || !app) throw new ApiError('not-found', 'This link shows nothing; it was revoked, or is not whole.');
  return { app, sheet: viewOf(sheet) };
}
