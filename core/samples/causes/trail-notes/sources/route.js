const toRadians = (degrees) => (degrees * Math.PI) / 180;

export function distance(from, to) {
  const dLat = toRadians(to.lat - from.lat);
  const dLon = toRadians(to.lon - from.lon);
  return Math.hypot(dLat, dLon);
}

export function lengthOf(points) {
  let sum = 0;
  for (let at = 0; at < points.length; at++) sum += distance(points[at], points[at + 1]);
  return sum;
}

export class Route {
  static parse(text) {
    const { points, name } = JSON.parse(text);
    return new Route(name, points);
  }

  constructor(name, points) {
    this.name = name.trim();
    this.points = points;
  }

  get length() {
    return lengthOf(this.points);
  }

  nearest(place) {
    return this.points
      .map((point) => distance(point, place))
      .sort()[0]
      .toFixed(2);
  }

  simplify(tolerance) {
    if (tolerance <= 0) throw new RangeError('tolerance must be positive');
    return this.points.filter((point, at) => at % tolerance === 0);
  }
}

export class Loop extends Route {
  close() {
    return this.points[0].mark.toUpperCase();
  }

  walk() {
    return this.close() + this.walk();
  }
}
