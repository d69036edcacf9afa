import type { TrailEvent } from './trail.ts';

/** `−1.2 s`, `−3 min 4 s` */
export function wordBefore(at: string, occurredAt: string): string {
  const seconds = (Date.parse(occurredAt) - Date.parse(at)) / 1000;
  const sign = seconds < 0 ? '+' : '−';
  const size = Math.abs(seconds);
  if (size < 60) return `${sign}${size.toFixed(1)} s`;
  const minutes = Math.floor(size / 60);
  return minutes < 60 ? `${sign}${minutes} min ${Math.floor(size % 60)} s` : `${sign}${Math.floor(minutes / 60)} h ${minutes % 60} min`;
}

/** An event in a line. */
export function wordEvent(event: TrailEvent): string {
  switch (event.kind) {
    case 'screen':
      return event.name;
    case 'tap':
      return event.text === null ? event.target : `${event.target} “${event.text}”`;
    case 'request': {
      const took = event.durationMs === null ? '' : `, ${Math.round(event.durationMs)} ms`;
      return `${event.method} ${event.host}${event.path} → ${event.status ?? 'no answer'}${took}`;
    }
    case 'log':
      return `${event.level}: ${event.message}`;
    case 'lifecycle':
      return event.state;
    case 'flag':
      return `${event.name} = ${event.variant}`;
    case 'custom': {
      const values = Object.entries(event.attributes).map(([name, value]) => `${name} ${Array.isArray(value) ? value.join(', ') : value}`);
      return [event.name, ...values].join(' · ');
    }
  }
}
