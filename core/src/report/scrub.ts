import { RE2JS } from 're2js';
import { z } from 'zod';
import type { Report } from './report.ts';
import { knownSecrets, undisguised } from './scrub-patterns.ts';
import type { SessionItem } from './session.ts';
import type { TrailEvent } from './trail.ts';

/** What an app wants to have taken out of everything it sends, before it is stored. */
export const scrubRulesSchema = z.object({
  mail: z.boolean().default(true).describe('Mail addresses.'),
  cards: z.boolean().default(true).describe('Payment card numbers: 13 to 19 digits whose check digit is right.'),
  tokens: z
    .boolean()
    .default(true)
    .describe(
      'Bearer and basic credentials, JSON web tokens, cookies, passwords in addresses, what follows "password=", "token=" and the like.',
    ),
  ibans: z.boolean().default(true).describe('Numbers of bank accounts (IBAN) whose check digits are right.'),
  phones: z.boolean().default(false).describe('Phone numbers with their country, such as +47 22 12 34 56.'),
  patterns: z
    .array(
      z.object({
        name: z.string().trim().min(1).max(60),
        pattern: z
          .string()
          .min(1)
          .max(500)
          .superRefine((pattern, context) => {
            const problem = patternProblem(pattern);
            if (problem !== null) context.addIssue({ code: 'custom', message: problem });
          }),
      }),
    )
    .max(20)
    .default([])
    .describe('Regular expressions of the linear-time kind (RE2 syntax): no back references, no look-around.'),
  attributes: z
    .array(z.string().trim().min(1).max(200))
    .max(100)
    .default([])
    .describe('Attributes by name; "personId" and "contact" may be among them.'),
});
export type ScrubRules = z.infer<typeof scrubRulesSchema>;
export const defaultScrubRules: ScrubRules = scrubRulesSchema.parse({});

/** Why a pattern cannot be used, or null. */
export function patternProblem(pattern: string): string | null {
  try {
    if (RE2JS.compile(pattern).matcher('').find()) return 'matches the empty text, so it would match everywhere';
    return null;
  } catch (error) {
    return error instanceof Error ? error.message : String(error);
  }
}

const removed = (what: string): string => `[removed: ${what}]`;
/** Whether nothing is left of a text but the mark of what was taken out. */
export const isRemoved = (text: string): boolean => /^\[removed: [^\]]*\]$/.test(text);

/** Takes private things out of texts; made once for a set of rules. Every pattern runs in time linear in the text. */
export class Scrubber {
  private readonly own: { name: string; pattern: RE2JS }[];
  private readonly hidden: ReadonlySet<string>;
  private count = 0;

  constructor(private readonly rules: ScrubRules) {
    this.own = rules.patterns.map(({ name, pattern }) => ({ name, pattern: RE2JS.compile(pattern) }));
    this.hidden = new Set(rules.attributes);
  }

  /** How many places were scrubbed so far. */
  get removals(): number {
    return this.count;
  }

  text(text: string): string {
    const [scrubbed, removals] = this.scrub(text);
    const bare = undisguised(text);
    if (bare !== null) {
      // What was private only without its disguises costs them the text; any other keeps its signs.
      const [scrubbedBare, removalsBare] = this.scrub(bare);
      if (removalsBare > removals) {
        this.count += removalsBare;
        return scrubbedBare;
      }
    }
    this.count += removals;
    return scrubbed;
  }

  private scrub(text: string): [scrubbed: string, removals: number] {
    let removals = 0;
    let scrubbed = text;
    for (const { rule, what, pattern, isSecret } of knownSecrets) {
      if (!this.rules[rule]) continue;
      scrubbed = scrubbed.replace(pattern, (found: string, ...rest: unknown[]) => {
        const { before = '', behind = '' } = (typeof rest.at(-1) === 'object' ? rest.at(-1) : {}) as { before?: string; behind?: string };
        const secret = found.slice(before.length, found.length - behind.length);
        if (/^["']?\[removed: /.test(secret) || (isSecret && !isSecret(found))) return found;
        removals++;
        const quote = /^(["']).*\1$/s.exec(secret)?.[1] ?? '';
        return `${before}${quote}${removed(what)}${quote}${behind}`;
      });
    }
    for (const { name, pattern } of this.own) {
      const matcher = pattern.matcher(scrubbed);
      if (!matcher.find()) continue;
      removals++;
      scrubbed = pattern.matcher(scrubbed).replaceAll(removed(name).replace(/[\\$]/g, '\\$&'));
    }
    return [scrubbed, removals];
  }

  /** A report with every text that people or programs wrote scrubbed; what a symbol file is asked for by stays: names of code and its files. */
  report(report: Report): Report {
    return {
      ...report,
      ...this.person(report),
      exceptions: report.exceptions.map((one) => ({
        ...one,
        type: this.text(one.type),
        message: one.message === null ? null : this.text(one.message),
        stack: one.stack === null ? null : this.text(one.stack),
      })),
      threads: report.threads.map((one) => ({
        ...one,
        name: this.text(one.name),
        waitsFor: one.waitsFor && { ...one.waitsFor, what: this.text(one.waitsFor.what) },
      })),
      flags: this.flags(report.flags),
      trail: report.trail.map((event) => this.trailEvent(event)),
      attributes: this.attributes(report.attributes),
      sections: report.sections.map(({ name, text }) => ({ name: this.text(name), text: this.text(text) })),
      remarks: report.remarks.map((remark) => this.text(remark)),
    };
  }

  session(item: SessionItem): SessionItem {
    return {
      ...item,
      ...this.person(item),
      flags: this.flags(item.flags),
      attributes: this.attributes(item.attributes),
      screens: item.screens.map((one) => ({ ...one, name: this.text(one.name) })),
      requests: item.requests.map((one) => ({ ...one, host: this.text(one.host), path: this.text(one.path) })),
      trail: item.trail.map((event) => this.trailEvent(event)),
    };
  }

  trailEvent(event: TrailEvent): TrailEvent {
    return this.values(event, trailNames);
  }

  private person<Fields extends 'personId' | 'contact'>(who: Readonly<Record<Fields, string | null>>) {
    const hide = (field: Fields) => (this.hidden.has(field) && who[field] !== null ? this.mark(field) : who[field]);
    return { personId: hide('personId' as Fields), contact: hide('contact' as Fields) };
  }

  private mark(what: string): string {
    this.count++;
    return removed(what);
  }

  private attributes<Value>(all: Readonly<Record<string, Value>>): Record<string, Value> {
    return Object.fromEntries(
      Object.entries(all).map(([name, value]) => [this.text(name), this.hidden.has(name) ? (this.mark(name) as Value) : this.value(value)]),
    );
  }

  private flags(all: Readonly<Record<string, string>>): Record<string, string> {
    return Object.fromEntries(Object.entries(all).map(([name, variant]) => [this.text(name), this.text(variant)]));
  }

  private value<Value>(value: Value): Value {
    if (typeof value === 'string') return this.text(value) as Value;
    if (Array.isArray(value)) return value.map((one) => this.value(one)) as Value;
    // A card number may have been sent as a number.
    if (typeof value === 'number' && Number.isSafeInteger(value) && value >= 1e12) {
      const scrubbed = this.text(String(value));
      return (scrubbed === String(value) ? value : scrubbed) as Value;
    }
    return value;
  }

  /** Every text of an event but for those fields that are names by their meaning. */
  private values<Event extends object>(event: Event, kept: ReadonlySet<string>): Event {
    return Object.fromEntries(
      Object.entries(event).map(([field, value]) => {
        if (field === 'attributes') return [field, this.attributes(value as Record<string, unknown>)];
        return [field, kept.has(field) ? value : this.value(value)];
      }),
    ) as Event;
  }
}

const trailNames = new Set(['kind', 'at', 'level', 'method', 'state', 'status', 'durationMs']);
