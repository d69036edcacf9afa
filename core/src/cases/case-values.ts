import { templateSchema } from '../templates/template.ts';
import { type CaseToTell, caseMarkdown, casePlainText, type TextPlace } from './case-text.ts';

/** What templates may ask for of a case. */
export const casePlaceholders = ['title', 'text', 'markdown', 'link', 'ref', 'app', 'version', 'people', 'reports'] as const;
export type CaseValues = Readonly<Record<(typeof casePlaceholders)[number], string>>;

/** A text of the team with {{title}} and the like in it, that a case is copied as. */
export const caseTemplate = templateSchema(casePlaceholders);

const longestTitle = 200;

/** What stands for each placeholder. */
export function caseValues(file: CaseToTell, where: TextPlace): CaseValues {
  const { item, report } = file;
  return {
    title: `${item.ref}: ${item.what} in ${item.where}`.replace(/\s+/g, ' ').slice(0, longestTitle),
    text: casePlainText(file, where),
    markdown: caseMarkdown(file, where),
    link: where.address,
    ref: item.ref,
    app: where.appName,
    version: report.version,
    people: String(item.people),
    reports: String(item.reports),
  };
}
