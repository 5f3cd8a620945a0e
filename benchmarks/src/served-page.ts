/** The built application in a browser, as a person has it (`npm run build` first). */
import { spawn } from 'node:child_process';
import { resolve } from 'node:path';
import { chromium } from '@playwright/test';
import type { Page } from '@playwright/test';

const PORT = '4377';
export const ADDRESS = `http://127.0.0.1:${PORT}/`;

/** Serves, opens a page of 1280×800 on the shots, and gives it to `use`; all is closed afterwards. */
export async function withServedPage<Result>(use: (page: Page) => Promise<Result>): Promise<Result> {
  const server = spawn(resolve('../node_modules/.bin/tsx'), [resolve('../server/src/main.ts')], {
    env: { ...process.env, PORT },
    stdio: 'ignore',
  });
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-quic', '--no-first-run'],
  });
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await openWhenUp(page);
    return await use(page);
  } finally {
    await browser.close();
    server.kill();
  }
}

async function openWhenUp(page: Page): Promise<void> {
  for (let attempt = 0; ; attempt += 1) {
    try {
      await page.goto(ADDRESS);
      return;
    } catch (error) {
      if (attempt === 40) throw error;
      await page.waitForTimeout(250);
    }
  }
}
