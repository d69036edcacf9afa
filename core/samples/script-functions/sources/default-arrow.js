import { fail } from './forms.js';

export default () => {
  fail('arrow'); //@ default
};
