import { describe, expect, it } from 'vitest';
import { dayMs, hourMs } from '../durations.ts';
import { parseDay, printDay } from '../session-index/person-day.ts';
import { ageOf, placeOfHour, placesOfDays, type Steps, stepsOf } from './steps.ts';

const now = Date.parse('2026-11-18T15:30:00Z');
const span = { first: parseDay('2026-10-28'), last: parseDay('2026-11-18') };
const days = ({ starts }: Steps) => starts.map((start) => printDay(start / dayMs));

describe('steps of time', () => {
  it('are days up to today', () => {
    const steps = stepsOf('day', span, now);
    expect(steps.starts).toHaveLength(22);
    expect([...placesOfDays(steps).subarray(span.first)]).toEqual(Array.from({ length: 22 }, (_, day) => day));
  });

  it('are weeks from Monday, the first of them cut', () => {
    const steps = stepsOf('week', span, now);
    expect(days(steps)).toEqual(['2026-10-26', '2026-11-02', '2026-11-09', '2026-11-16']);
    const places = placesOfDays(steps);
    expect(['2026-10-28', '2026-11-01', '2026-11-02', '2026-11-15', '2026-11-18'].map((day) => places[parseDay(day)])).toEqual([
      0, 0, 1, 2, 3,
    ]);
  });

  it('are months of the calendar', () => {
    const steps = stepsOf('month', span, now);
    expect(days(steps)).toEqual(['2026-10-01', '2026-11-01']);
    expect(placesOfDays(steps)[parseDay('2026-10-31')]).toBe(0);
    expect(placesOfDays(steps)[parseDay('2026-11-01')]).toBe(1);
  });

  it('are hours of two weeks at most', () => {
    const steps = stepsOf('hour', span, now);
    expect(steps.span.first).toBe(span.last - 13);
    expect(steps.starts.at(-1)).toBe(Date.parse('2026-11-18T15:00:00Z'));
    expect(placeOfHour(steps, now)).toBe(steps.starts.length - 1);
    expect(placeOfHour(steps, now + 5 * hourMs)).toBe(steps.starts.length - 1);
  });

  it('of all time go back as far as a screen has room for', () => {
    const steps = stepsOf('day', { first: 0, last: 65_535 }, now);
    expect(steps.starts).toHaveLength(400);
    expect(steps.span.last).toBe(span.last);
  });

  it('count from the release of a version, whatever its name is written like', () => {
    const steps = stepsOf('day since release', span, now, [{ version: '4.3', day: span.first + 5 }]);
    const age = ageOf(steps)('4.3.0');
    expect(age(span.first + 5)).toBe(0);
    expect(age(span.first + 7)).toBe(2);
    // Before it came out, and of a version whose release nobody knows.
    expect(age(span.first + 4)).toBe(steps.starts.length);
    expect(ageOf(steps)('9.9')(span.last)).toBe(steps.starts.length);
  });
});
