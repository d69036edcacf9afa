/** An hour and a day in milliseconds; days are those of UTC, which knows no summer time. */
export const hourMs = 3_600_000;
export const dayMs = 24 * hourMs;
