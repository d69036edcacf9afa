// Feeder Cam in small: each story ends in an error that nobody catches.
// Written for every engine, so no syntax younger than the oldest of them.
function Clip(seconds) {
  this.seconds = seconds;
}
Clip.prototype.trim = function (to) {
  return this.cuts.filter((cut) => cut < to);
};

function openFeed(address) {
  if (address.indexOf('rtsp:') !== 0) throw new TypeError('not a camera address: ' + address);
}

function connect(address) {
  try {
    openFeed(address);
  } catch (error) {
    throw new Error('camera "Hazel hedge" is away', { cause: error });
  }
}

var stories = {
  property: () => new Clip(12).trim(4),
  callback: () =>
    [3, 1, 2].map(function frameAt(second) {
      return second.frames.length;
    }),
  constructor: () => {
    function Feeder(camera) {
      this.zoom = camera.lens.zoom;
    }
    return new Feeder({});
  },
  evaluated: () => eval('(function rule(visit) { return visit.species.name })({})'),
  cause: () => {
    connect('http://hazel.example');
  },
  rejection: () => {
    Promise.resolve('hazel').then(function readFeeder(name) {
      openFeed(name);
    });
  },
  'thrown-text': () => {
    throw 'the memory card is full';
  },
  aggregate: () => {
    throw new AggregateError([new RangeError('no frame 90'), new TypeError('not a clip')], 'two clips could not be cut');
  },
};

var story =
  typeof process === 'object'
    ? process.argv[2]
    : typeof scriptArgs === 'object'
      ? scriptArgs[0]
      : typeof arguments === 'object'
        ? arguments[0]
        : undefined;
if (typeof STORY === 'string') story = STORY;
stories[story]();
