// The night counter, in the language level that the byte-code compiler takes.
import { summarise, visitors } from './visitors.js';

const failures = [];
function attempt(name, run) {
  try {
    run();
  } catch (error) {
    failures.push(`== ${name}\n${error.stack}`);
  }
}

function countNight(visits) {
  const lamps = { count: () => visits.lamps.length };
  return lamps.count() + visitors(visits);
}

export default function night() {
  attempt('callback', () => visitors([{ bird: 'owl' }, null]));
  attempt('property', () => summarise.byHour([{ at: 'midnight' }]));
  attempt('wrapped', () => summarise.loud('owl'));
  attempt('nested', () => countNight([]));
}

night();
const log = typeof print === 'function' ? print : console.log;
for (const failure of failures) log(failure);
