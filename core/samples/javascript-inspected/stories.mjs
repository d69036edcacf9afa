/** Errors that a console, an inspector and an uncaught exception print, with what they really are. */
import { inspect } from 'node:util';

class HttpFailure extends Error {}
class Reading extends RangeError {}
class Renamed extends Error {
  constructor(message, options) {
    super(message, options);
    this.name = 'NamedFailure';
  }
}
const withFields = (error, fields) => Object.assign(error, fields);
const renamed = (error, name) => withFields(error, { name });

/** `[type, message]` as they should be read; frames are those of the error's own stack. */
const know = (error, type, children = {}) => ({ error, type, ...children });
const inner = () => know(new TypeError('inner'), 'TypeError');

export const stories = {
  plain: () => know(new Error('plain'), 'Error'),
  extended: () => know(new HttpFailure('refused'), 'HttpFailure'),
  extendedRange: () => know(new Reading('no reading'), 'Reading'),
  renamed: () => know(new Renamed('by a name'), 'NamedFailure'),
  renamedLater: () => know(renamed(new Error('later'), 'TypeError'), 'TypeError'),
  withoutMessage: () => know(new Error(''), 'Error'),
  aborted: () => know(new DOMException('given up', 'AbortError'), 'AbortError'),
  withCode: () => know(withFields(new TypeError('bad argument'), { code: 'E_BAD' }), 'TypeError'),
  withFields: () =>
    know(withFields(new TypeError('bad'), { code: 12, detail: { list: [1, 2], text: 'a\nb', deep: { x: { y: {} } } } }), 'TypeError'),
  withText: () => know(withFields(new Error('outer'), { note: 'TypeError: not an error\n    at all (x.js:1:2)' }), 'Error'),
  severalLines: () => know(new Error('first\nsecond\n  third'), 'Error'),
  blankLine: () => know(new Error('first\n\nthird'), 'Error'),
  likeError: () => know(new Error('first\nTypeError: quoted\nlast'), 'Error'),
  likeFrame: () => know(new Error('seen\n    at looks.like (frame.js:1:2)\nand more'), 'Error'),
  likeFrames: () => know(new RangeError('seen\nfoo@frame.js:1:2\nbar@frame.js:3:4\nand more'), 'RangeError'),
  withColons: () => know(new Error('a: b: c -> d { e: f }'), 'Error'),
  cause: () => {
    const cause = inner();
    return know(new Error('outer', { cause: cause.error }), 'Error', { cause });
  },
  causeAndCode: () => {
    const cause = inner();
    return know(withFields(new Reading('outer', { cause: cause.error }), { code: 12 }), 'Reading', { cause });
  },
  causes: () => {
    const root = know(new HttpFailure('root'), 'HttpFailure');
    const middle = know(new Renamed('middle', { cause: root.error }), 'NamedFailure', { cause: root });
    const upper = know(new TypeError('upper', { cause: middle.error }), 'TypeError', { cause: middle });
    return know(new Error('top', { cause: upper.error }), 'Error', { cause: upper });
  },
  causeThatIsNone: () => know(new Error('outer', { cause: { status: 503, why: 'busy: TypeError: none' } }), 'Error'),
  causeWithFields: () => {
    const cause = know(withFields(new HttpFailure('root'), { status: 503, headers: { a: '1', b: ['2'] } }), 'HttpFailure');
    return know(withFields(new Error('outer', { cause: cause.error }), { tries: 3 }), 'Error', { cause });
  },
  severalErrors: () => {
    const errors = [know(new Error('one'), 'Error'), know(new Reading('two'), 'Reading'), know(new Renamed('three'), 'NamedFailure')];
    return know(
      new AggregateError(
        errors.map((one) => one.error),
        'all failed',
      ),
      'AggregateError',
      { errors },
    );
  },
  errorsAndValues: () => {
    const errors = [know(new TypeError('one'), 'TypeError'), know(new HttpFailure('two'), 'HttpFailure')];
    return know(new AggregateError([{ x: 1 }, errors[0].error, 'text', errors[1].error], 'some failed'), 'AggregateError', { errors });
  },
  errorsWithCauses: () => {
    const cause = inner();
    const errors = [know(new Error('one', { cause: cause.error }), 'Error', { cause }), know(new Error('two'), 'Error')];
    return know(
      new AggregateError(
        errors.map((one) => one.error),
        'nested',
      ),
      'AggregateError',
      { errors },
    );
  },
};

/** The frames of a stack are behind its header, which the message is known to be in. */
function framesOf({ stack, message }) {
  const from = message === '' ? 0 : stack.indexOf(message) + message.length;
  return stack
    .slice(from)
    .split('\n')
    .slice(1)
    .map((line) => line.trim().replace(/^at /, ''));
}
export const truthOf = ({ error, type, cause, errors }) => ({
  type,
  /** What the stack itself calls it. */
  named: /^[^:\n]*/.exec(error.stack)[0],
  message: error.message || null,
  frames: framesOf(error),
  ...(cause && { cause: truthOf(cause) }),
  ...(errors && { errors: errors.map(truthOf) }),
});

const [, , name, how] = process.argv;
if (name === undefined) console.log(JSON.stringify(Object.keys(stories)));
else {
  const known = stories[name]();
  console.log(JSON.stringify(truthOf(known)));
  if (how === 'inspect') process.stderr.write(`${inspect(known.error, { depth: 5 })}\n`);
  else if (how === 'log') console.error('upload failed:', known.error);
  else if (how === 'object') process.stderr.write(`${inspect({ when: 3, failed: known.error, after: 'x' }, { depth: 6 })}\n`);
  else if (how === 'stack') process.stderr.write(`${known.error.stack}\n`);
  else throw known.error;
}
