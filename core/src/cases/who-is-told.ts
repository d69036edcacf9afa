/** Why somebody is told of what happened to a case. */
export const tellingReasons = ['mentioned', 'assigned', 'takes-part', 'follows'] as const;
export type TellingReason = (typeof tellingReasons)[number];

/** What happened to a case, as its history has it. */
export interface Happening {
  readonly kind: string;
  /** Mail address of whoever did it; empty when a report did. */
  readonly actor: string;
  readonly detail: Readonly<Record<string, unknown>>;
}

/** Somebody who sees the app of the case. */
export interface Colleague {
  readonly id: number;
  readonly email: string;
  readonly name: string;
}

/** Of this, whoever takes part hears; of the rest the history is enough. */
const heardOf: ReadonlySet<string> = new Set(['note', 'assign', 'close', 'open', 'reopened']);

/**
 * Who is told of something that happened to a case, and why, by their number: whoever a note mentions, whom the case was given to, and those who
 * take part in it, who look after it or did something to it before, and those who follow it. Nobody is told of what they did themselves.
 */
export function whoIsTold(
  { kind, actor, detail }: Happening,
  colleagues: readonly Colleague[],
  {
    assignee,
    actors,
    followers,
  }: { readonly assignee: string | null; readonly actors: readonly string[]; readonly followers: readonly number[] },
): Map<number, TellingReason> {
  const mentioned = kind === 'note' ? mentionsIn(String(detail.text ?? ''), colleagues) : [];
  const told = new Map<number, TellingReason>();
  for (const one of colleagues) {
    if (one.email === actor) continue;
    if (mentioned.includes(one)) told.set(one.id, 'mentioned');
    else if (kind === 'assign' && detail.assignee === one.email) told.set(one.id, 'assigned');
    else if (heardOf.has(kind) && (one.email === assignee || actors.includes(one.email))) told.set(one.id, 'takes-part');
    else if (heardOf.has(kind) && followers.includes(one.id)) told.set(one.id, 'follows');
  }
  return told;
}

/** Begins a mention where no address has it, and no code: `@` behind a letter, a digit or a dot is part of something else. */
const mention = /(?<![\p{L}\p{N}._%+@/-])@([\p{L}\p{N}][\p{L}\p{N}._+-]*)/gu;

/**
 * The people that a text mentions: `@perdita` by the part of their address before the `@`, or by a name of theirs; `@perdita.lark@larkfield.example`
 * by the whole address. A name that several have means all of them. What stands in code is no mention.
 */
export function mentionsIn<Person extends Pick<Colleague, 'email' | 'name'>>(text: string, people: readonly Person[]): Person[] {
  const prose = text.replace(/```[\s\S]*?(?:```|$)/g, ' ').replace(/`[^`\n]*`/g, ' ');
  const named = new Set<string>();
  for (const { 1: found = '', index } of prose.matchAll(mention)) {
    const behind = prose.slice(index + 1 + found.length);
    const host = /^@[\p{L}\p{N}.-]+/u.exec(behind)?.[0] ?? '';
    // A dot or a dash at its end closes the sentence.
    named.add(host === '' ? plain(found) : plain(found + host));
  }
  return people.filter((one) => namesOf(one).some((name) => named.has(name)));
}

const plain = (name: string): string => name.replace(/[._+-]+$/, '').toLowerCase();

function namesOf({ email, name }: Pick<Colleague, 'email' | 'name'>): string[] {
  const local = email.split('@', 1)[0] as string;
  const parts = name.split(/\s+/).filter(Boolean);
  return [email, local, ...parts, parts.join('.')].map(plain);
}
