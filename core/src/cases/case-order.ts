import { failure, type Result, success } from '../result.ts';

/** In which order a list shows its cases. */
export const caseOrders = ['reports', 'people', 'rate', 'newest', 'latest', 'worsening', 'news'] as const;
export type CaseOrder = (typeof caseOrders)[number];

export const defaultCaseOrder: CaseOrder = 'reports';

/** Reads `order=people` of an address; what is absent is the default. */
export function parseCaseOrder(parameters: { get(name: string): string | null }): Result<CaseOrder, 'bad-order'> {
  const text = parameters.get('order');
  if (text === null) return success(defaultCaseOrder);
  const order = caseOrders.find((one) => one === text);
  return order ? success(order) : failure('bad-order', `order=${text.slice(0, 40)} is not known; use one of ${caseOrders.join(', ')}`);
}

export const wordCaseOrder = (order: CaseOrder): string =>
  ({
    reports: 'most reports first',
    people: 'most people first',
    rate: 'most per 1,000 sessions first',
    newest: 'newest first',
    latest: 'last seen first',
    worsening: 'getting worse first',
    news: 'what is new first',
  })[order];
