/** Tells a visit from wind in the leaves. */
export function detect(frames, { threshold }) {
  const changes = frames.slice(1).map((frame, index) => difference(frames[index], frame));
  return changes.filter((change) => change > threshold).length > 2;
}

function difference(before, after) {
  let sum = 0;
  for (let at = 0; at < before.pixels.length; at++) sum += Math.abs(before.pixels[at] - after.pixels[at]);
  return sum / before.pixels.length;
}
