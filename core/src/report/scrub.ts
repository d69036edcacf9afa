import { RE2JS } from 're2js';
import { z } from 'zod';
import type { Report } from './report.ts';
import type { SessionItem } from './session.ts';
import type { TrailEvent } from './trail.ts';

/** What an app wants to have taken out of everything it sends, before it is stored. */
export const scrubRulesSchema = z.object({
  mail: z.boolean().default(true).describe('Mail addresses.'),
  cards: z.boolean().default(true).describe('Payment card numbers: 13 to 19 digits whose check digit is right.'),
  tokens: z.boolean().default(true).describe('Bearer and basic credentials, and what follows "password=", "token=" and the like.'),
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

const mail = /[\p{L}\p{N}._%+-]{1,64}@[\p{L}\p{N}-]{1,63}(?:\.[\p{L}\p{N}-]{1,63}){0,4}\.[\p{L}]{2,24}/gu;
/** Card numbers begin with 2 to 6 and stand alone; addresses, ids and build numbers run into letters or a point. */
const card = /(?<![\w.])[2-6](?:[ -]?\d){12,18}(?![\w.])/g;
const bearer = /\b(Bearer|Basic)\s+[A-Za-z0-9+/._~-]{8,}=*/g;
const named =
  /\b((?:api[_-]?key|access[_-]?token|refresh[_-]?token|auth[_-]?token|token|password|passwd|secret)["']?\s{0,3}[=:]\s{0,3})("[^"\n]{1,500}"|'[^'\n]{1,500}'|[^\s"'&,;]{3,500})/gi;

/** The check digit of payment cards (ISO/IEC 7812-1, annex B). */
export function hasCheckDigit(digits: string): boolean {
  let sum = 0;
  for (let at = digits.length - 1, double = false; at >= 0; at--, double = !double) {
    const value = Number(digits[at]) * (double ? 2 : 1);
    sum += value > 9 ? value - 9 : value;
  }
  return sum % 10 === 0;
}

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
    let scrubbed = text;
    const replace = (pattern: RegExp, by: (match: string, first: string) => string) => {
      scrubbed = scrubbed.replace(pattern, (match: string, first: string) => {
        const replacement = by(match, first);
        if (replacement !== match) this.count++;
        return replacement;
      });
    };
    if (this.rules.tokens) {
      replace(bearer, (_, scheme) => `${scheme} ${removed('token')}`);
      replace(named, (match, before) => {
        const quote = /["']$/.exec(match)?.[0] ?? '';
        return match.includes(removed('token')) ? match : `${before}${quote}${removed('token')}${quote}`;
      });
    }
    if (this.rules.mail && scrubbed.includes('@')) replace(mail, () => removed('mail address'));
    if (this.rules.cards) replace(card, (match) => (hasCheckDigit(match.replace(/\D/g, '')) ? removed('card number') : match));
    for (const { name, pattern } of this.own) {
      const matcher = pattern.matcher(scrubbed);
      if (!matcher.find()) continue;
      this.count++;
      scrubbed = pattern.matcher(scrubbed).replaceAll(removed(name).replace(/[\\$]/g, '\\$&'));
    }
    return scrubbed;
  }

  /** A report with every text that people or programs wrote scrubbed; names of code, files and devices stay. */
  report(report: Report): Report {
    return {
      ...report,
      ...this.person(report),
      exceptions: report.exceptions.map((one) => (one.message === null ? one : { ...one, message: this.text(one.message) })),
      trail: report.trail.map((event) => this.trailEvent(event)),
      attributes: this.attributes(report.attributes),
      sections: report.sections.map(({ name, text }) => ({ name, text: this.text(text) })),
      remarks: report.remarks.map((remark) => this.text(remark)),
    };
  }

  session(item: SessionItem): SessionItem {
    return {
      ...item,
      ...this.person(item),
      attributes: this.attributes(item.attributes),
      screens: item.screens.map((one) => ({ ...one, name: this.text(one.name) })),
      requests: item.requests.map((one) => ({ ...one, host: this.text(one.host), path: this.text(one.path) })),
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
      Object.entries(all).map(([name, value]) => [name, this.hidden.has(name) ? (this.mark(name) as Value) : this.value(value)]),
    );
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
