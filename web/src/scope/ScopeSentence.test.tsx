// @vitest-environment jsdom
import { defaultScope, type Scope } from '@rough-ember/core/scope/scope';
import { cleanup, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, describe, expect, it } from 'vitest';
import { fakeServer } from '../testing/fake-server';
import { renderPart } from '../testing/render-part';
import { ScopeSentence } from './ScopeSentence';

fakeServer();
afterEach(cleanup);

/** Shows the sentence of a scope; gives the scopes that were asked for by it. */
function show(scope: Partial<Scope> = {}, more: { choosesCases?: boolean } = {}): Scope[] {
  const asked: Scope[] = [];
  renderPart(
    <ScopeSentence
      appSlug="guide"
      scope={{ ...defaultScope, ...scope }}
      versions={['4.1.0', '4.2.0']}
      onChange={(next) => asked.push(next)}
      {...more}
    />,
  );
  return asked;
}
const choose = async (word: string, role: 'menuitem' | 'menuitemcheckbox', choice: string) => {
  const user = userEvent.setup();
  await user.click(screen.getByRole('button', { name: word }));
  await user.click(await screen.findByRole(role, { name: choice }));
};

describe('the sentence of a scope', () => {
  it.each([
    ['released builds', 'Any build', { builds: 'any' }],
    ['any version', '4.2.0 only', { versions: { match: 'only', version: '4.2.0' } }],
    // Nothing is later than the newest.
    ['any version', '4.1.0 and later', { versions: { match: 'from', version: '4.1.0' } }],
    ['last 30 days', 'All time', { days: null }],
  ] as const)('changes by its word "%s" to "%s"', async (word, choice, change) => {
    const asked = show();
    await choose(word, 'menuitem', choice);
    expect(asked).toEqual([{ ...defaultScope, ...change }]);
  });

  it('takes kinds in and out, in their order, and never the last one', async () => {
    const asked = show({ kinds: ['hang'] });
    await choose('Hangs', 'menuitemcheckbox', 'Crashes');
    expect(asked.map(({ kinds }) => kinds)).toEqual([['crash', 'hang']]);
    await userEvent.setup().click(screen.getByRole('menuitemcheckbox', { name: 'Hangs' }));
    expect(asked).toHaveLength(1);
  });

  it('says which cases only where a list shows some', async () => {
    show();
    expect(screen.queryByRole('button', { name: 'open cases' })).toBeNull();
    cleanup();
    const asked = show({}, { choosesCases: true });
    await choose('open cases', 'menuitem', 'Muted cases');
    expect(asked).toEqual([{ ...defaultScope, cases: 'muted' }]);
  });
});
