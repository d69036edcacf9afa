import { readFileSync } from 'node:fs';
import { chromium } from 'playwright-core';

const { email, password } = JSON.parse(readFileSync('.data/first-start.json', 'utf8'));
const [, , ...jobs] = process.argv;
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu'] });
for (const scheme of (process.env.SCHEMES ?? 'light').split(',')) {
  const context = await browser.newContext({
    viewport: { width: Number(process.env.W ?? 1280), height: Number(process.env.H ?? 800) },
    colorScheme: scheme as 'light',
  });
  const page = await context.newPage();
  page.on('console', (m) => {
    if (m.type() === 'error') console.log('console', m.text().slice(0, 300));
  });
  page.on('pageerror', (e) => console.log('pageerror', e.message.slice(0, 300)));
  await page.goto('http://127.0.0.1:4310/sign-in');
  await page.fill('[name=email]', email);
  await page.fill('[name=password]', password);
  await page.click('button[type=submit]');
  await page.waitForURL(/cases/);
  for (const job of jobs) {
    const [path, name, ...steps] = job.split('|') as [string, string, ...string[]];
    await page.goto(`http://127.0.0.1:4310${path}`);
    await page.waitForTimeout(900);
    for (const step of steps) {
      const [verb, arg] = step.split('=') as [string, string];
      if (verb === 'click') await page.click(arg);
      if (verb === 'wait') await page.waitForTimeout(Number(arg));
      if (verb === 'scroll') await page.mouse.wheel(0, Number(arg));
      await page.waitForTimeout(400);
    }
    await page.screenshot({ path: `/tmp/${name}-${scheme}.png` });
  }
}
await browser.close();
