import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buttonApps, isBuildable, press } from '@rough-ember/demo/button-apps';
import { afterAll, describe, expect, it } from 'vitest';
import { casesOf, eventually } from './testing/owner.ts';
import { server } from './testing/server.ts';
import { setStage } from './testing/stage.ts';

const folder = mkdtempSync(join(tmpdir(), 'ember-buttons-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const stage = setStage((visitor) => visitor.enter());

describe.each(buttonApps.filter(isBuildable))('the app with buttons for $runtime', ({ runtime, buttons, build }) => {
  it('ends as each button has it, and what became of it stands among the cases', async () => {
    const place = join(folder, runtime);
    mkdirSync(place);
    const command = build(place);
    const version = `7.0.0-${runtime}`;
    const reporting = { server: server.address, key: server.intakeKey, version };
    for (const { name, kind } of buttons) {
      const kept = join(place, name);
      const { code } = await press(command, reporting, { folder: kept, button: name });
      // A crash ends the process, unless it was in a thread that the runtime lets die alone.
      if (kind !== 'crash') expect([name, code]).toEqual([name, 0]);
      await press(command, reporting, { folder: kept, button: 'none' });
    }
    const cases = await eventually(
      () => casesOf(version),
      (found) => found.reduce((sum, one) => sum + one.reports, 0) >= buttons.length,
    );
    // Each button made one report, and none two.
    expect(cases.reduce((sum, one) => sum + one.reports, 0)).toBe(buttons.length);
    for (const { kind, what, where = '' } of buttons) {
      const named = { kind, what: expect.stringContaining(what), where: expect.stringContaining(where) };
      expect(cases).toContainEqual(expect.objectContaining(named));
    }

    const { page } = stage.visitor;
    await stage.visitor.open(`/apps/larkfield-guide/cases?last=all&kind=crash,hang,error&version=${version}`);
    await stage.visitor.hydrated();
    await stage.visitor.cases().first().waitFor();
    for (const { what } of buttons) await page.locator('[data-case]', { hasText: what }).first().waitFor();
  });
});
