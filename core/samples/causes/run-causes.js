import { causes } from './causes.js';

const write = typeof print === 'function' ? print : console.log;
const show = (name, error) => write(`cause ${name}\n${String(error)}\n${String(error && error.stack)}\nend`);

function run(name) {
  try {
    return causes[name]();
  } catch (error) {
    show(name, error);
    return null;
  }
}

for (const name of Object.keys(causes)) {
  const result = run(name);
  if (result && result.then) result.then(null, (error) => show(name, error));
}
