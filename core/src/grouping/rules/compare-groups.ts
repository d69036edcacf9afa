/** Reports of a case that new rules would give a key. */
export interface RegroupedPart {
  readonly caseId: number;
  readonly number: number;
  readonly key: string;
  readonly title: string;
  readonly reports: number;
  /** The case that the key leads to already, or null. */
  readonly leadsTo: number | null;
}

/** A case under new rules: its number stays with the case that gives it most of its reports. */
export interface RegroupedCase {
  readonly title: string;
  readonly reports: number;
  /** Number of the case that it goes on as; null for a new one. */
  readonly stays: number | null;
  readonly from: readonly { readonly number: number; readonly reports: number }[];
}

/** What new rules would do. */
export interface Regrouping {
  /** Cases that several cases would become. */
  readonly merged: readonly RegroupedCase[];
  /** Cases that would become several. */
  readonly split: readonly { readonly number: number; readonly reports: number; readonly into: readonly RegroupedCase[] }[];
  readonly unchanged: number;
  /** Reports that would be in a case of another number. */
  readonly moving: number;
  readonly looked: number;
  /** Which case each key that leads nowhere yet belongs to. */
  readonly claims: ReadonlyMap<string, number>;
}

/**
 * Compares the cases as they are with those that new rules would make. A key that leads somewhere already goes there; of the
 * others, each case keeps the one with most of its reports, and a key that several would keep goes to the one that gives most.
 */
export function compareGroups(parts: readonly RegroupedPart[]): Regrouping {
  const claims = new Map<string, number>();
  const claimed = new Set<number>();
  for (const { leadsTo } of parts) if (leadsTo !== null) claimed.add(leadsTo);
  for (const part of [...parts].sort((a, b) => b.reports - a.reports)) {
    if (part.leadsTo !== null || claims.has(part.key) || claimed.has(part.caseId)) continue;
    claims.set(part.key, part.caseId);
    claimed.add(part.caseId);
  }
  const numberOf = new Map(parts.map(({ caseId, number }) => [caseId, number]));
  const byKey = gather(parts, (part) => part.key);
  const cases = new Map<string, RegroupedCase>();
  let moving = 0;
  for (const [key, own] of byKey) {
    const stays = own[0]?.leadsTo ?? claims.get(key) ?? null;
    const largest = own.reduce((most, one) => (one.reports > most.reports ? one : most));
    for (const part of own) if (part.caseId !== stays) moving += part.reports;
    cases.set(key, {
      title: largest.title,
      reports: sum(own),
      stays: stays === null ? null : (numberOf.get(stays) ?? null),
      from: own.map(({ number, reports }) => ({ number, reports })).sort((a, b) => b.reports - a.reports),
    });
  }
  const split = [...gather(parts, (part) => part.caseId).values()].flatMap((own) =>
    own.length > 1
      ? [{ number: own[0]?.number as number, reports: sum(own), into: own.map((part) => cases.get(part.key) as RegroupedCase) }]
      : [],
  );
  const merged = [...cases.values()].filter((one) => one.from.length > 1);
  const touched = new Set([...split.map((one) => one.number), ...merged.flatMap((one) => one.from.map((part) => part.number))]);
  return {
    merged: merged.sort((a, b) => b.reports - a.reports),
    split: split.sort((a, b) => b.reports - a.reports),
    unchanged: numberOf.size - touched.size,
    moving,
    looked: sum(parts),
    claims,
  };
}

const sum = (parts: readonly { readonly reports: number }[]): number => parts.reduce((total, one) => total + one.reports, 0);

function gather<Key>(parts: readonly RegroupedPart[], keyOf: (part: RegroupedPart) => Key): Map<Key, RegroupedPart[]> {
  const gathered = new Map<Key, RegroupedPart[]>();
  for (const part of parts) {
    const known = gathered.get(keyOf(part));
    if (known) known.push(part);
    else gathered.set(keyOf(part), [part]);
  }
  return gathered;
}
