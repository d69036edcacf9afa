import { fail } from './forms.js';

export default class {
  open() {
    fail('harbour'); //@ default.open
  }
}
