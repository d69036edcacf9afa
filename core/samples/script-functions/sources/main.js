import { stories } from './forms.js';

if (typeof Error.stackTraceLimit === 'number') Error.stackTraceLimit = 400;

const write = typeof print === 'function' ? print : console.log;
const show = (name, error) => write(`story ${name}\n${String(error)}\n${String(error && error.stack)}\nend`);

const results = [];
for (const name of Object.keys(stories)) {
  try {
    results.push([name, stories[name]()]);
  } catch (error) {
    show(name, error);
  }
}
for (const [name, result] of results) if (result && result.then) result.then(null, (error) => show(name, error));
