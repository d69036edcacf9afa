import { describe, expect, it } from 'vitest';
import { judgeIntake } from './intake-state.ts';

const quiet = { everAccepted: false, refusedRequests: 0, acceptedItems: 0, refusedItems: 0 };

describe('intake', () => {
  it.each([
    ['waiting', 'nothing ever came', quiet],
    ['trouble', 'the first request was refused', { ...quiet, refusedRequests: 1, refusedItems: 1 }],
    ['live', 'reports come', { ...quiet, everAccepted: true, acceptedItems: 20 }],
    ['live', 'it is quiet after reports came', { ...quiet, everAccepted: true }],
    ['live', 'a few lines of many are refused', { ...quiet, everAccepted: true, acceptedItems: 90, refusedItems: 10, refusedRequests: 2 }],
    ['trouble', 'much is refused', { ...quiet, everAccepted: true, acceptedItems: 60, refusedItems: 40, refusedRequests: 2 }],
  ] as const)('is %s when %s', (state, _, facts) => expect(judgeIntake(facts)).toBe(state));
});
