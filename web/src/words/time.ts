const months = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

/** `22 Nov 2026, 17:59 UTC`: one zone for everybody, so that two people who compare times see the same. */
export function wordTime(iso: string): string {
  return `${wordDate(iso)}, ${iso.slice(11, 16)} UTC`;
}

/** `22 Nov 2026` */
export function wordDate(iso: string): string {
  return `${Number(iso.slice(8, 10))} ${months[Number(iso.slice(5, 7)) - 1]} ${iso.slice(0, 4)}`;
}

/** How long ago, in one step: `just now`, `4 minutes ago`, `yesterday`, `12 days ago`, then the date. */
export function wordAgo(iso: string, now: string): string {
  const seconds = (Date.parse(now) - Date.parse(iso)) / 1000;
  if (seconds < 60) return 'just now';
  const minutes = Math.floor(seconds / 60);
  if (minutes < 60) return minutes === 1 ? 'a minute ago' : `${minutes} minutes ago`;
  const hours = Math.floor(minutes / 60);
  if (hours < 24) return hours === 1 ? 'an hour ago' : `${hours} hours ago`;
  const days = Math.floor(hours / 24);
  if (days < 60) return days === 1 ? 'a day ago' : `${days} days ago`;
  return `on ${wordDate(iso)}`;
}

/** `22 Nov`: a day near enough to need no year. */
export const wordDay = (iso: string): string => wordDate(iso).slice(0, -5);
