import { type Tracker, trackerSchema } from '@rough-ember/core/tickets/tracker';
import { RequestProblem } from '../client/api';

/** What one fills in of a tracker, in the order in which it is asked; `group` is the sentence above it. */
export interface TrackerInput {
  readonly name: string;
  readonly group: 'form' | 'make' | 'hear' | 'change';
  readonly label: string;
  readonly description?: string;
  readonly placeholder?: string;
  readonly usual?: string;
  readonly isLong?: boolean;
  valueIn(tracker: Tracker): string | undefined;
}

const headersText = (headers: Tracker['headers']): string =>
  Object.entries(headers)
    .map(([name, value]) => `${name}: ${value}`)
    .join('\n');

export const trackerInputs: readonly TrackerInput[] = [
  {
    name: 'form',
    group: 'form',
    label: 'Its own form for a new ticket',
    description: 'Opened filled in, with {{title}}, {{text}}, {{link}}, {{ref}}, {{app}} and {{version}}.',
    placeholder: 'https://boxes.larkfield.example/new?title={{title}}&body={{text}}',
    valueIn: ({ form }) => form ?? '',
  },
  {
    name: 'page',
    group: 'form',
    label: 'The page of a ticket',
    placeholder: 'https://boxes.larkfield.example/{{number}}',
    valueIn: ({ page }) => page ?? '',
  },
  {
    name: 'make',
    group: 'make',
    label: 'Address that makes a ticket',
    placeholder: 'https://boxes.larkfield.example/api/tickets',
    valueIn: ({ make }) => make?.address,
  },
  {
    name: 'makeBody',
    group: 'make',
    label: 'Body, as JSON',
    description: 'Also with {{markdown}}: the case with its stack.',
    usual: '{"title": "{{title}}", "body": "{{markdown}}"}',
    isLong: true,
    valueIn: ({ make }) => make?.body,
  },
  {
    name: 'makeNumber',
    group: 'make',
    label: 'Where the number is in the answer',
    description: 'A JSON Pointer.',
    usual: '/number',
    valueIn: ({ make }) => make?.number,
  },
  {
    name: 'headers',
    group: 'make',
    label: 'Headers, a line each',
    usual: 'authorization: Bearer {{secret}}',
    isLong: true,
    valueIn: ({ headers }) => headersText(headers),
  },
  {
    name: 'ask',
    group: 'hear',
    label: 'Address that tells what became of a ticket',
    description: 'Asked every ten minutes. Not needed where the tracker tells by itself.',
    placeholder: 'https://boxes.larkfield.example/api/tickets/{{number}}',
    valueIn: ({ ask }) => ask?.address,
  },
  { name: 'askState', group: 'hear', label: 'Where the state is in the answer', usual: '/state', valueIn: ({ ask }) => ask?.state },
  {
    name: 'doneStates',
    group: 'hear',
    label: 'States that mean done',
    usual: 'closed, done, resolved',
    valueIn: ({ doneStates }) => doneStates.join(', '),
  },
  {
    name: 'toldNumber',
    group: 'hear',
    label: 'Where the number is in what it tells by itself',
    usual: '/data/number',
    valueIn: ({ told }) => told.number,
  },
  { name: 'toldState', group: 'hear', label: 'And the state', usual: '/data/state', valueIn: ({ told }) => told.state },
  {
    name: 'close',
    group: 'change',
    label: 'Address that closes a ticket',
    placeholder: 'https://boxes.larkfield.example/api/tickets/{{number}}/state',
    valueIn: ({ close }) => close?.address,
  },
  { name: 'closeBody', group: 'change', label: 'Body, as JSON', usual: '{"state": "closed"}', valueIn: ({ close }) => close?.body },
  { name: 'open', group: 'change', label: 'Address that opens it again', valueIn: ({ open }) => open?.address },
  { name: 'openBody', group: 'change', label: 'Body, as JSON', usual: '{"state": "open"}', valueIn: ({ open }) => open?.body },
];

/** The input that a refusal of the schema is about. */
const labelOf: Readonly<Record<string, string>> = {
  form: 'form',
  page: 'page',
  'make.address': 'make',
  'make.body': 'makeBody',
  'make.number': 'makeNumber',
  headers: 'headers',
  'ask.address': 'ask',
  'ask.state': 'askState',
  doneStates: 'doneStates',
  'told.number': 'toldNumber',
  'told.state': 'toldState',
  'close.address': 'close',
  'close.body': 'closeBody',
  'open.address': 'open',
  'open.body': 'openBody',
};

/** The tracker that a form says; throws a RequestProblem that names the input. What has no address is not done. */
export function readTracker(given: FormData): Tracker {
  const text = (name: string) => String(given.get(name) ?? '').trim();
  const where = <Value>(name: string, rest: Value) => (text(name) === '' ? null : { address: text(name), ...rest });
  const headers = text('headers')
    .split('\n')
    .filter((line) => line.trim() !== '')
    .map((line) => [line.slice(0, Math.max(0, line.indexOf(':'))).trim(), line.slice(line.indexOf(':') + 1).trim()]);
  const parsed = trackerSchema.safeParse({
    form: text('form') || null,
    page: text('page') || null,
    headers: Object.fromEntries(headers),
    make: where('make', { body: text('makeBody'), number: text('makeNumber') }),
    ask: where('ask', { state: text('askState') }),
    close: where('close', { body: text('closeBody') }),
    open: where('open', { body: text('openBody') }),
    doneStates: text('doneStates')
      .split(',')
      .map((one) => one.trim())
      .filter((one) => one !== ''),
    told: { number: text('toldNumber'), state: text('toldState') },
    ticketFollowsCase: given.get('ticketFollowsCase') !== null,
    caseFollowsTicket: given.get('caseFollowsTicket') !== null,
  });
  if (parsed.success) return parsed.data;
  const [issue] = parsed.error.issues;
  const place = issue?.path.join('.') ?? '';
  const name = labelOf[place] ?? labelOf[String(issue?.path[0])];
  const label = trackerInputs.find((one) => one.name === name)?.label ?? place;
  throw new RequestProblem(`${label}: ${issue?.message}.`, 'Change it and save again.');
}
