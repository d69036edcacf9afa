/** When the feeder opens next. */
export function nextOpening(plan, now) {
  const [first] = plan.times.filter((time) => time > now);
  return first.toFixed(2);
}

/** The seed of tomorrow depends on who came today. */
export function planFor(birds) {
  if (birds.length > 3) throw new RangeError(`no plan for ${birds.length} kinds of birds`);
  return { times: birds.map((bird) => bird.hour) };
}
