/** A page of an app that one goes to by its name. */
export interface AppPlace {
  /** Behind `/apps/<app>/`. */
  readonly path: string;
  /** In the bar on top, when it is there. */
  readonly title?: string;
  /** In the palette. */
  readonly label: string;
}

/** Every page of an app that asks for nothing more, in the order of the bar and of the palette. */
export const places = [
  { path: 'now', title: 'Now', label: 'Now: what changed' },
  { path: 'cases', title: 'Cases', label: 'Cases' },
  { path: 'crash-free', title: 'Crash-free', label: 'Crash-free sessions and people' },
  { path: 'sessions', label: 'Sessions' },
  { path: 'screens', label: 'Screens and requests of the app' },
  { path: 'ways', label: 'Ways through the app: where they end, and who gets how far' },
  { path: 'people', label: 'People: who begins, stays and comes back' },
  { path: 'versions', title: 'Versions', label: 'Versions and rollouts' },
  { path: 'ask', title: 'Ask', label: 'Ask: a question of your own' },
  { path: 'sheets', label: 'Sheets: charts that were kept' },
  { path: 'symbols', title: 'Symbols', label: 'Symbols' },
  { path: 'intake', title: 'Intake', label: 'Intake' },
  { path: 'alerts', title: 'Alerts', label: 'Alerts: who is told of what' },
  { path: 'private', label: 'Private: what is taken out, kept and deleted' },
  { path: 'bench', title: 'Bench', label: 'Bench' },
  { path: 'settings', title: 'Settings', label: 'Settings of the app and the server, what they cost, and who changed them' },
  { path: 'tickets', label: 'Tickets, and the tracker' },
  { path: 'pigeon-loft', label: 'Pigeon loft: what the demo sent' },
  { path: 'for-you', label: 'For you: what you were told' },
  { path: 'person', label: 'Find a person' },
  { path: 'grouping', label: 'Grouping rules' },
  { path: 'desk', label: 'Desk settings: filterable attributes, editor and repository' },
] as const satisfies readonly AppPlace[];

/** The places of the bar. */
export const barPlaces = places.filter((one): one is Extract<(typeof places)[number], { title: string }> => 'title' in one);
export type Place = (typeof barPlaces)[number]['path'] | 'for-you';
