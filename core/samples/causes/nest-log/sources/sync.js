import { requireField } from './parse.js';

const later = (value) => Promise.resolve(value);

async function download(path) {
  const answer = await later({ status: path.length > 9 ? 500 : 200, body: null });
  if (answer.status !== 200) throw new Error(`status ${answer.status}`);
  return answer;
}

export async function refreshNests() {
  const answer = await download('/nests/all');
  return answer.body;
}

export async function refreshBirds() {
  const { body } = await download('/birds');
  return body.items.length;
}

export class Queue {
  constructor() {
    this.waiting = ['a;1', 'b;2'];
  }

  async flush() {
    for (const row of this.waiting) await this.send(row);
  }

  async send(row) {
    await later(row);
    return JSON.parse(`{${requireField(row, 1)}`);
  }

  schedule() {
    return later(null).then(() => this.drop(4));
  }

  drop(at) {
    return this.waiting[at].trim();
  }
}

export const inParallel = () => Promise.all([later(1), measure(undefined)]);

async function measure(sample) {
  await later(0);
  return sample.values.map((value) => value * 2);
}
