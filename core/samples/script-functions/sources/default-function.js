import { fail } from './forms.js';

export default function () {
  fail('greeting'); //@ default
}
