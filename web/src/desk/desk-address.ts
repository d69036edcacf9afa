import { type CaseOrder, defaultCaseOrder, parseCaseOrder } from '@rough-ember/core/cases/case-order';
import { parseScope, printScope, type Scope } from '@rough-ember/core/scope/scope';

/** What the desk's address holds: its scope and order, the selected case, and which of its reports. */
export interface DeskView {
  readonly scope: Scope;
  readonly order: CaseOrder;
  readonly selected: string | null;
  readonly position: number;
}

/** Reads the view from an address; null when the scope in it cannot be read. */
export function readDeskView(search: string): DeskView | null {
  const parameters = new URLSearchParams(search);
  const scope = parseScope(parameters);
  const order = parseCaseOrder(parameters);
  if (!scope.ok || !order.ok) return null;
  const position = Number(parameters.get('report') ?? 0);
  return {
    scope: scope.value,
    order: order.value,
    selected: parameters.get('case'),
    position: Number.isSafeInteger(position) && position > 0 ? position : 0,
  };
}

/** Writes parameters of an address, the question mark included; an empty set gives an empty text. */
export function search(scope: Scope, more: Readonly<Record<string, string | null>> = {}): string {
  const extra = Object.entries(more).flatMap(([name, value]) =>
    value === null || value === '' ? [] : [`${name}=${encodeURIComponent(value)}`],
  );
  const all = [printScope(scope), ...extra].filter((part) => part !== '');
  return all.length === 0 ? '' : `?${all.join('&')}`;
}

/** The order as an address parameter; null when it is the default. */
export const orderParameter = (order: CaseOrder): string | null => (order === defaultCaseOrder ? null : order);

export const writeDeskView = ({ scope, order, selected, position }: DeskView): string =>
  search(scope, { order: orderParameter(order), case: selected, report: position > 0 ? String(position) : null });
