import type { TrailEvent } from './item.ts';

const maximumEvents = 100;

/** An event before its time is noted. */
export type NewEvent = TrailEvent extends infer Event ? (Event extends TrailEvent ? Omit<Event, 'at'> : never) : never;

const longestName = 300;

/** A name that the server would refuse must not cost the report it comes with. */
const withinLimits = (event: TrailEvent): TrailEvent =>
  event.kind === 'screen'
    ? { ...event, name: event.name.slice(0, longestName) }
    : event.kind === 'request'
      ? { ...event, method: event.method.slice(0, 20), host: event.host.slice(0, longestName) }
      : event;

/** The last things that happened. */
export class Trail {
  private readonly events: TrailEvent[] = [];

  /** @param onNote is told of each event, also of those that the trail forgets again */
  constructor(private readonly onNote: (event: TrailEvent) => void = () => {}) {}

  note(event: NewEvent): void {
    const noted = withinLimits({ at: new Date().toISOString(), ...event } as TrailEvent);
    if (noted.kind === 'screen' && noted.name === '') return;
    this.events.push(noted);
    if (this.events.length > maximumEvents) this.events.shift();
    this.onNote(noted);
  }

  get list(): readonly TrailEvent[] {
    return [...this.events];
  }
}

/** A path as a template: numbers and ids stand for themselves, and a query is never kept. */
export const pathTemplate = (path: string): string =>
  (path.split(/[?#]/, 1)[0] as string)
    .split('/')
    .map((part) => (/^\d+$/.test(part) ? '{number}' : /^[0-9a-f]{8}-?[0-9a-f-]{8,}$/i.test(part) ? '{id}' : part))
    .join('/')
    .slice(0, 1_000);
