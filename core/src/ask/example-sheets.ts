/** A chart as it is kept: a question, of which scope, and why somebody wanted to know. */
export interface KeptChart {
  readonly title: string;
  readonly note: string;
  /** As `parseQuestion` reads it. */
  readonly question: string;
  /** As address parameters; empty for the usual scope, or that of the sheet. */
  readonly scope: string;
}

export interface ExampleSheet {
  /** In addresses. */
  readonly name: string;
  readonly title: string;
  readonly charts: readonly KeptChart[];
}

const chart = (title: string, question: string, note: string, scope = ''): KeptChart => ({ title, question, note, scope });

/** Sheets that ship with the product: the questions that people ask most, each with how to read its answer. */
export const exampleSheets: readonly ExampleSheet[] = [
  {
    name: 'monday',
    title: 'Monday morning',
    charts: [
      chart(
        'Crash-free sessions',
        'crash-free sessions per day as number',
        'The share of all sessions of the last 30 days that did not end in a crash, with the range it lies in.',
      ),
      chart(
        'By version',
        'crash-free sessions by version per day as lines',
        'A dip of the newest version alone is its own; a dip of all is a server, or the day.',
      ),
      chart(
        'People who were hit, by kind',
        'affected people by kind per day as lines',
        'People, not reports: one phone in a loop makes a thousand reports and one person.',
        'kind=crash,hang,kill,error',
      ),
      chart('Where it happens', 'affected people by screen as bars', 'The screen that was shown last before a report.'),
    ],
  },
  {
    name: 'rollout',
    title: 'A version goes out',
    charts: [
      chart(
        'Crashed sessions by age of the version',
        'crashed sessions per sessions by version per day since release as lines',
        'Versions laid over each other from the day each came out: the newest should not lie above the last.',
      ),
      chart('Who has it', 'people by version per day as areas', 'How fast the new version reaches people.'),
      chart(
        'Crashes at the start',
        'sessions crashed at start per sessions by version as bars',
        'Whoever crashes within five seconds cannot report anything else, and leaves.',
      ),
      chart('Cases it began with', 'cases by version as bars', 'How many different cases reports of a version are in.'),
    ],
  },
  {
    name: 'devices',
    title: 'Devices and systems',
    charts: [
      chart(
        'Crashed sessions by device',
        'crashed sessions per sessions by device.model as bars',
        'For 1,000 sessions, with the range each lies in: bars whose ranges overlap may be alike.',
      ),
      chart(
        'Device against system version',
        'crashed sessions per sessions by device.model, os.version as matrix',
        'A whole row that is dark is a device, a whole column a system.',
      ),
      chart('Memory', 'killed sessions per sessions by device.memory as bars', 'What the system ends, it mostly ends for memory.'),
      chart('What people have', 'sessions by device.model as ring', 'What is worth testing on.'),
    ],
  },
  {
    name: 'places',
    title: 'Countries and networks',
    charts: [
      chart(
        'People who were hit, by country',
        'people with a crash per people by country as map',
        'For 1,000 people with a session, so that large countries do not look worse for being large.',
      ),
      chart('Hit by carrier', 'affected people by carrier as bars', 'What breaks with one carrier alone is often its proxy.'),
      chart(
        'Kinds of network',
        'reports by network, kind as bars',
        'Whether it was wifi or cellular when it happened.',
        'kind=crash,hang,kill,error',
      ),
    ],
  },
  {
    name: 'requests',
    title: 'Requests and servers',
    charts: [
      chart(
        'Failed requests',
        'failed requests per requests per day as lines',
        'Of 1,000 requests, those without an answer or with one of 400 and higher.',
      ),
      chart('How long they take', 'p95 of request time per day as lines', 'One request in twenty takes longer than this.'),
      chart('By version', 'median of request time by version as bars', 'Whether a new version asks for more at once.'),
      chart(
        'Handled errors',
        'reports by version per day as lines',
        'Errors that the app went on after; servers in trouble show here first.',
        'kind=error',
      ),
    ],
  },
  {
    name: 'people',
    title: 'People',
    charts: [
      chart('People each week', 'people per week as bars', 'Everybody with a session in the week, once.', 'last=90d'),
      chart('New people each week', 'new people per week as bars', 'Those who were never seen before.', 'last=90d'),
      chart(
        'Sessions for 1,000 people',
        'sessions per people by version as bars',
        'How often people open a version; a fall after an update is a complaint nobody wrote.',
      ),
      chart(
        'Crash-free people',
        'crash-free people by version as before and after',
        'In this window and in the one of the same length before.',
      ),
    ],
  },
  {
    name: 'hangs',
    title: 'Hangs and kills',
    charts: [
      chart(
        'Hung sessions',
        'hung sessions per sessions by version per week as lines',
        'Sessions in which the app stopped answering.',
        'last=90d',
      ),
      chart(
        'Killed sessions',
        'killed sessions per sessions by version per week as lines',
        'Sessions that the system ended, for memory or time.',
        'last=90d',
      ),
      chart(
        'Where it hangs',
        'affected people by screen, device.memory as matrix',
        'Small memory and one screen together name the cause.',
        'kind=hang,kill',
      ),
    ],
  },
  {
    name: 'quarter',
    title: 'The quarter',
    charts: [
      chart(
        'Reports by kind',
        'reports by kind per week as stacked bars',
        'All that went wrong, week by week.',
        'last=90d&kind=crash,hang,kill,error',
      ),
      chart('Crash-free sessions', 'crash-free sessions per week as lines', 'What a report to the management asks for.', 'last=90d'),
      chart('Open cases that people ran into', 'cases per week as bars', 'Different cases with a report in the week.', 'last=90d'),
      chart('Before and after', 'affected people by version as before and after', 'The last 30 days against the 30 before.'),
    ],
  },
  {
    name: 'builds',
    title: 'Builds that are not released',
    charts: [
      chart(
        'Debug builds',
        'reports by build.type, version as matrix',
        'What your own people and testers run into before anybody else.',
        'builds=any',
      ),
      chart(
        'Rooted devices and emulators',
        'reports by device.rooted, device.emulator as matrix',
        'Much of it is somebody who takes the app apart.',
        'builds=any',
      ),
      chart('Through the day', 'reports per hour as bars', 'The last days hour by hour, by the clock of UTC.', 'last=7d'),
    ],
  },
  {
    name: 'languages',
    title: 'Languages and orientation',
    charts: [
      chart('Languages', 'affected people by locale as bars', 'A format or a plural that breaks in one language hits those people alone.'),
      chart('Held upright or not', 'reports by orientation, screen as matrix', 'What breaks when the phone is turned.'),
      chart('System versions', 'affected people by os.version per week as lines', 'Whether an update of the system brought something.'),
    ],
  },
];
