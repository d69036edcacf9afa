import { type FieldName, fieldNames, meaningOf } from '@rough-ember/core/fields/fields';
import { parseScope, type Scope } from '@rough-ember/core/scope/scope';
import type { SessionField } from '@rough-ember/core/session-index/person-day';
import type { BadEnds } from '@rough-ember/core/stability/figures';
import { search } from '../desk/desk-address';

/** What the address of Crash-free holds. */
export interface StabilityView {
  readonly scope: Scope;
  readonly badEnds: BadEnds;
  readonly down: SessionField;
  readonly across: SessionField;
  /** The chosen cell of the matrix. */
  readonly cell: { readonly down: string; readonly across: string } | null;
  readonly form: MatrixForm;
}

/** Two fields against each other as a matrix, or its cells as lines. */
export const matrixForms = ['matrix', 'lines'] as const;
export type MatrixForm = (typeof matrixForms)[number];

const printEnds = ({ hangs, kills }: BadEnds): string => [...(hangs ? ['hangs'] : []), ...(kills ? ['kills'] : [])].join(',');

/** What counts against a session, as an address says it. */
export function readEnds(parameters: URLSearchParams): BadEnds {
  const count = parameters.get('count') ?? '';
  return { hangs: count.includes('hangs'), kills: count.includes('kills') };
}

/** The parameters of the API for a scope and what counts in it. */
export const stabilityParameters = ({ scope, badEnds }: Pick<StabilityView, 'scope' | 'badEnds'>): string =>
  search(scope, { count: printEnds(badEnds) }).slice(1);

const usualDown = 'device.model';
const usualAcross = 'version';

/** Reads the view from an address; null when the scope in it cannot be read. */
export function readStabilityView(parameters: URLSearchParams): StabilityView | null {
  const scope = parseScope(parameters);
  if (!scope.ok) return null;
  const [down, across] = [parameters.get('cell-down'), parameters.get('cell-across')];
  return {
    scope: scope.value,
    badEnds: readEnds(parameters),
    down: readField(parameters.get('down') ?? usualDown) ?? { field: usualDown, key: '' },
    across: readField(parameters.get('across') ?? usualAcross) ?? { field: usualAcross, key: '' },
    cell: down === null || across === null ? null : { down, across },
    form: parameters.get('form') === 'lines' ? 'lines' : 'matrix',
  };
}

function readField(text: string): SessionField | null {
  const plain = fieldNames.find((name) => name === text);
  if (plain && !meaningOf(plain).isMap) return { field: plain, key: '' };
  const [, map, key] = /^(flags|attributes)\.(.+)$/.exec(text) ?? [];
  return map && key ? { field: map as FieldName, key } : null;
}

const printField = ({ field, key }: SessionField): string => (key === '' ? field : `${field}.${key}`);
const unless = (text: string, usual: string): string | null => (text === usual ? null : text);

export function writeStabilityView({ scope, badEnds, down, across, cell, form }: StabilityView): string {
  const written = search(scope, {
    count: printEnds(badEnds),
    down: unless(printField(down), usualDown),
    across: unless(printField(across), usualAcross),
    form: unless(form, 'matrix'),
  });
  if (cell === null) return written;
  // An empty value stands for what is not told, so it must be written.
  const chosen = `cell-down=${encodeURIComponent(cell.down)}&cell-across=${encodeURIComponent(cell.across)}`;
  return written === '' ? `?${chosen}` : `${written}&${chosen}`;
}

/** What the address of the screens and requests holds. */
export interface ActivityView {
  readonly scope: Scope;
  readonly badEnds: BadEnds;
  /** What is looked at beside the tables. */
  readonly chosen: { readonly kind: 'screen' | 'request'; readonly name: string } | null;
}

/** Reads the view from an address; null when the scope in it cannot be read. */
export function readActivityView(parameters: URLSearchParams): ActivityView | null {
  const scope = parseScope(parameters);
  if (!scope.ok) return null;
  const chosen = (['screen', 'request'] as const).flatMap((kind) => {
    const name = parameters.get(kind);
    return name === null ? [] : [{ kind, name }];
  });
  return { scope: scope.value, badEnds: readEnds(parameters), chosen: chosen[0] ?? null };
}

export const writeActivityView = ({ scope, badEnds, chosen }: ActivityView): string =>
  search(scope, { count: printEnds(badEnds), ...(chosen && { [chosen.kind]: chosen.name }) });
