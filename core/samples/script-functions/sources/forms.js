// Each line that calls ends with the function it stands in, behind "//@", in the words that a stack should use for it.

import arrow from './default-arrow.js';
import Harbour from './default-class.js';
import greet from './default-function.js';

export function fail(what) {
  throw new RangeError(`no ${what}`); //@ fail
}

class Nest { //@ new Nest
  eggs = this.count(); //@ new Nest

  count() {
    return fail('eggs'); //@ Nest.count
  }
}

class Base {
  constructor() {
    this.lay(); //@ new Base
  }

  lay() {
    fail('perch'); //@ Base.lay
  }
}

class Implicit extends Base { //@ new Implicit
  get size() {
    return fail('size'); //@ get Implicit.size
  }

  set size(value) {
    fail(value); //@ set Implicit.size
  }
}

class Explicit extends Base {
  constructor() { //@ new Explicit
    super(); //@ new Explicit
  }
}

const key = 'rows';

class Members {
  handle = () => {
    fail('handle'); //@ Members.handle
  };

  static limit() {
    fail('limit'); //@ Members.limit
  }

  #secret() {
    fail('secret'); //@ Members.#secret
  }

  reveal() {
    this.#secret(); //@ Members.reveal
  }

  [key]() {
    fail('rows'); //@ Members.[key]
  }

  [Symbol.iterator]() {
    fail('iterator'); //@ Members.[Symbol.iterator]
  }

  *walk() {
    yield 1;
    fail('step'); //@ Members.walk
  }

  async later() {
    await null;
    fail('later'); //@ Members.later
  }

  async *stream() {
    yield 1;
    fail('stream'); //@ Members.stream
  }
}

const plain = {
  visit() {
    fail('visit'); //@ visit
  },
  leave: () => {
    fail('leave'); //@ leave
  },
  stay: () => fail('stay'), //@ stay
};

const named = (value) => fail(value); //@ named
const wrapped = wrap(function inner(value) {
  return fail(value); //@ inner
});

function wrap(call) {
  return (value) => call(value); //@ wrap.<anonymous>
}

function each(list) { //@ each
  list.forEach((one) => { //@ each
    fail(one); //@ each.<anonymous>
  });
}

function sorted(list) {
  return list.sort( //@ sorted
    (a, b) => fail(a + b), //@ sorted.<anonymous>
  );
}

async function settle() {
  await null;
  return fail('settle'); //@ settle
}

const fetchAll = async () => {
  await settle(); //@ fetchAll
};

function withDefault(value = fail('default')) { //@ withDefault
  return value;
}

function tagged(parts, ...values) {
  return fail(parts.join() + values); //@ tagged
}

function outer() {
  function within() {
    return (() => fail('deep'))(); //@ within.<anonymous>
  }
  return within(); //@ outer
}

function deep(n) {
  if (n === 0) fail('depth'); //@ deep
  return deep(n - 1) + 1; //@ deep
}

const first = (iterator) => {
  iterator.next(); //@ first
  iterator.next(); //@ first
};

export const stories = {
  field: () => new Nest(), //@ field
  implicit: () => new Implicit(), //@ implicit
  explicit: () => new Explicit(), //@ explicit
  getter: () => Implicit.prototype.size, //@ getter
  setter: () => { //@ setter
    Implicit.prototype.size = 3; //@ setter
  },
  property: () => new Members().handle(), //@ property
  static: () => Members.limit(), //@ static
  private: () => new Members().reveal(), //@ private
  computed: () => new Members().rows(), //@ computed
  symbol: () => [...new Members()], //@ symbol
  generator: () => first(new Members().walk()), //@ generator
  asyncMethod: () => new Members().later(), //@ asyncMethod
  asyncGenerator: async () => { //@ asyncGenerator
    for await (const one of new Members().stream()) String(one); //@ asyncGenerator
  },
  method: () => plain.visit(), //@ method
  propertyFunction: () => plain.leave(), //@ propertyFunction
  propertyArrow: () => plain.stay(), //@ propertyArrow
  namedArrow: () => named('named'), //@ namedArrow
  wrapped: () => wrapped('wrapped'), //@ wrapped
  each: () => each(['seed']), //@ each
  sorted: () => sorted(['a', 'b']), //@ sorted
  async: () => fetchAll(), //@ async
  parameter: () => withDefault(), //@ parameter
  template: () => tagged`a${1}b`, //@ template
  nested: () => outer(), //@ nested
  deep: () => deep(300), //@ deep
  defaultFunction: () => greet(), //@ defaultFunction
  defaultClass: () => new Harbour().open(), //@ defaultClass
  defaultArrow: () => arrow(), //@ defaultArrow
  staticBlock: () => declare(), //@ staticBlock
  staticField: () => declareField(), //@ staticField
};

function declare() {
  return class Declared { //@ declare
    static {
      fail('block'); //@ Declared.<static>
    }
  };
}

function declareField() {
  return class Kept { //@ declareField
    static count = fail('static field'); //@ Kept.<static>
  };
}
