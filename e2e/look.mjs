import { chromium } from '@playwright/test';
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox'] });
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
page.on('pageerror', (e) => console.log('ERROR', e.message));
page.on('console', (m) => m.type() === 'error' && console.log('CONSOLE', m.text()));
await page.goto('http://127.0.0.1:4300/');
const demo = process.argv[2] ?? 'Dough toss';
await page
  .getByRole('article', { name: `Demo: ${demo}` })
  .getByRole('button', { name: 'Take a copy' })
  .click();
await page.getByRole('region', { name: 'Stage' }).waitFor();
await page.waitForTimeout(2500);
const steps = await import(process.argv[3] ?? '/tmp/steps.mjs');
await steps.default(page);
await browser.close();
