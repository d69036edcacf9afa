const louder = (inner) => (text) => inner(text.toUpperCase());

export const visitors = (list) =>
  list.map((visit) => {
    const { bird } = visit;
    return bird.length;
  });

const hourOf = (visit) => visit.at.hour.toFixed();

export const summarise = {
  byHour(list) {
    return list.reduce((hours, visit) => {
      hours.push(hourOf(visit));
      return hours;
    }, []);
  },
  loud: louder(function shout(text) {
    return text.missing.length;
  }),
  *each(list) {
    for (const one of list) yield one.trim();
  },
};
