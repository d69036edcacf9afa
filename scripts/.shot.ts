import { readFileSync } from 'node:fs';
import { chromium } from 'playwright-core';
export async function main(args: string[]) {
  const first = JSON.parse(readFileSync('/tmp/demo1/first-start.json', 'utf8'));
  const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox'] });
  const ctx = await b.newContext({ viewport: { width: 1280, height: 800 }, colorScheme: args[0] === 'dark' ? 'dark' : 'light' });
  const p = await ctx.newPage();
  await p.goto('http://127.0.0.1:4390/sign-in');
  await p.fill('input[name=email]', first.email);
  await p.fill('input[name=password]', first.password);
  await p.click('button[type=submit]');
  await p.waitForURL(/apps/);
  for (const a of args.slice(1)) {
    const [path, out, click] = a.split('=>');
    await p.goto(`http://127.0.0.1:4390${path}`);
    await p.waitForTimeout(1200);
    if (click) {
      await p.click(click);
      await p.waitForTimeout(700);
    }
    await p.screenshot({ path: `/tmp/${out}.png` });
  }
  await b.close();
  return 0;
}
