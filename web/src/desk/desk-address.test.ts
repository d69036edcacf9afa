import { defaultScope } from '@rough-ember/core/scope/scope';
import { describe, expect, it } from 'vitest';
import { readDeskView, search, writeDeskView } from './desk-address';

describe("the desk's address", () => {
  it.each(['', '?case=LG-3', '?last=7d&kind=error&version=4.3.0%2B&case=LG-3&report=12', '?cases=any&order=newest&case=LG-3'])(
    '%j comes back as it was',
    (address) => {
      const view = readDeskView(address);
      expect(view && writeDeskView(view)).toBe(address);
    },
  );

  it('is not read when its scope is wrong', () => expect(readDeskView('?last=soon')).toBeNull());
  it('is not read when its order is wrong', () => expect(readDeskView('?order=loudest')).toBeNull());
  it.each(['-1', 'x', '1.5'])('takes report=%s for the newest', (report) => expect(readDeskView(`?report=${report}`)?.position).toBe(0));
  it('leaves out what is empty', () => expect(search(defaultScope, { case: null, report: '' })).toBe(''));
});
