import type { TrailEvent } from './item.ts';

const maximumEvents = 100;

/** An event before its time is noted. */
export type NewEvent = TrailEvent extends infer Event ? (Event extends TrailEvent ? Omit<Event, 'at'> : never) : never;

/** The last things that happened. */
export class Trail {
  private readonly events: TrailEvent[] = [];

  note(event: NewEvent): void {
    this.events.push({ at: new Date().toISOString(), ...event } as TrailEvent);
    if (this.events.length > maximumEvents) this.events.shift();
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
