import { expect, it } from 'vitest';
import { caseOrders, defaultCaseOrder, parseCaseOrder, wordCaseOrder } from './case-order.ts';

const parse = (address: string) => parseCaseOrder(new URLSearchParams(address));

it('is read from an address, the default when it says nothing', () => {
  expect(parse('')).toEqual({ ok: true, value: defaultCaseOrder });
  for (const order of caseOrders) expect(parse(`order=${order}`)).toEqual({ ok: true, value: order });
});

it('is refused with what can be used', () => {
  const read = parse('order=loudest');
  expect(read.ok ? '' : read.problem.message).toContain('use one of reports, people, rate, newest, latest, worsening, news');
});

it('has different words for each', () => expect(new Set(caseOrders.map(wordCaseOrder)).size).toBe(caseOrders.length));
