/** Faults put into the running application: what was done is kept, and what happened is said. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import type { BrowserContext, Page } from '@playwright/test';
import {
  edits,
  expect,
  history,
  openChest,
  openEdit,
  saved,
  takeDemo,
  test,
  touchControl,
  typeValues,
  valueField,
  valueIs,
} from './helpers.ts';

/** Ways to leave the bench, and to be back on it. */
const WAYS: Readonly<Record<string, (page: Page, url: string, context: BrowserContext) => Promise<Page>>> = {
  'by the link to the shots': async (page, url) => {
    await page.getByRole('link', { name: 'Back to the shots' }).click();
    await page.goto(url);
    return page;
  },
  'by loading the page again': async (page) => {
    await page.reload();
    return page;
  },
  'by closing the tab': async (page, url, context) => {
    await page.close();
    const next = await context.newPage();
    await next.goto(url);
    return next;
  },
};

for (const [way, leave] of Object.entries(WAYS)) {
  test(`what was asked for while it was still being tried is done, ${way}`, async ({ page, context }) => {
    await takeDemo(page, 'Dough toss (captured)');
    await saved(page);
    const url = page.url();
    page.on('dialog', (dialog) => void dialog.accept());
    await page.getByRole('group', { name: 'Body parts' }).getByText('All', { exact: true }).click();
    await openEdit(page, 'Thin');
    await edits(page).getByRole('button', { name: 'Apply' }).click();
    // On a slow machine it may be done before this looks.
    const asked = edits(page).getByText(/applied when tried/);
    await expect(asked.or(history(page).getByRole('button', { name: 'Thin' })).first()).toBeVisible();
    const next = await leave(page, url, context);
    await expect(history(next).getByRole('button', { name: 'Thin' })).toHaveCount(1);
  });
}

for (const [way, leave] of Object.entries(WAYS)) {
  test(`every edit is kept, ${way}, however soon`, async ({ page, context }) => {
    let now = page;
    const url = await openChest(now);
    let value = 3;
    for (const wait of [0, 0, 50, 200, 1000]) {
      await typeValues(now, [value + 1, value + 2, value + 3]);
      value += 3;
      await now.waitForTimeout(wait);
      now = await leave(now, url, context);
      await valueIs(now, value);
    }
    // The way of work is there too.
    await now.keyboard.press('Control+z');
    await expect(valueField(now, 'chest ry')).toHaveValue((value - 1).toFixed(1));
  });
}

test('a worker that ends is started again, asked once more, and said; storing waits for none', async ({
  page,
}) => {
  await openChest(page);
  const worker = page.workers()[0]!;
  await worker.evaluate(() => self.close()).catch(() => undefined);
  await typeValues(page, [5, 6, 7]);
  await saved(page);
  await openEdit(page, 'Smooth');
  await expect(edits(page).getByRole('status', { name: 'Report' })).toContainText('keys');
  await expect(page.getByText(/had stopped and was started again/)).toBeVisible();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    (async () => {
      await page.getByRole('button', { name: 'Export' }).click();
      await page.getByText('Shot file').click();
    })(),
  ]);
  expect(download.suggestedFilename()).toBe('Night round.kneader.json');
  await page.reload();
  await valueIs(page, 7);
});

test('looking around puts nothing off: what was done is stored within a second of stepping', async ({
  page,
}) => {
  const url = await openChest(page);
  await typeValues(page, [8]);
  const began = Date.now();
  while (Date.now() - began < 2500) {
    await page.keyboard.press('ArrowRight');
    await page.waitForTimeout(60);
  }
  await expect(page.getByText('Saved', { exact: true })).toBeVisible({ timeout: 1 });
  await page.goto(url);
  await expect(page.getByRole('application', { name: 'Curves' })).toBeVisible();
  await page.keyboard.press('Home');
  await valueIs(page, 8);
});

test('a second tab is told, looking there stops nothing here, and it can take the shot over or copy it', async ({
  page,
  context,
}) => {
  const url = await openChest(page);
  await typeValues(page, [4]);
  await saved(page);
  const other = await context.newPage();
  await other.goto(url);
  const notice = other.getByText('Open in another tab');
  await expect(notice).toBeVisible();
  await other.keyboard.press('ArrowRight');
  await other.keyboard.press('ArrowRight');
  await other.waitForTimeout(700);
  await typeValues(page, [9]);
  await saved(page);

  // A copy keeps what was done there.
  await touchControl(other, 'chest');
  await other.keyboard.press('Home');
  await typeValues(other, [22]);
  await expect(other.getByRole('button', { name: 'Work here' })).toBeHidden();
  await other.getByRole('button', { name: 'Make a copy' }).click();
  await expect(other.getByRole('heading', { name: 'Night round 2' })).toBeVisible();
  await saved(other);

  // Taken over: with all that the first tab had.
  await other.goto(url);
  await typeValues(page, [11]);
  await other.getByRole('button', { name: 'Work here' }).click();
  await expect(notice).toBeHidden();
  await valueIs(other, 11);
  await expect(page.getByText('Open in another tab')).toBeVisible();
  await expect(history(page).getByRole('button').first()).toBeVisible();
});

test('Characters in another tab writes nothing over what the bench has stored, and says so', async ({
  page,
  context,
}) => {
  const url = await openChest(page);
  const other = await context.newPage();
  await other.goto(url.replace('/shots/', '/characters/'));
  const facing = other.getByRole('spinbutton', { name: /^Where Bram faces/ });
  await expect(facing).toBeVisible();
  await typeValues(page, [17]);
  await saved(page);
  await facing.fill('90');
  await other.keyboard.press('Enter');
  await expect(other.getByText(/Another tab has changed this shot/)).toBeVisible();
  await page.reload();
  await valueIs(page, 17);
});

test('a stage whose picture was taken away says so', async ({ page }) => {
  await openChest(page);
  await page.evaluate(() => {
    const canvas = document.querySelector<HTMLCanvasElement>('.stage canvas')!;
    const context = canvas.getContext('webgl2') ?? canvas.getContext('webgl');
    context!.getExtension('WEBGL_lose_context')!.loseContext();
  });
  await expect(page.getByText(/took the stage’s picture away/)).toBeVisible();
});

test('a record without a card gets one; one that no longer reads can be saved and removed', async ({
  page,
}) => {
  await openChest(page);
  await page.getByRole('link', { name: 'Back to the shots' }).click();
  await expect(page.getByRole('article', { name: 'Night round' }).first()).toBeVisible();
  await page.evaluate(
    () =>
      new Promise<void>((resolve, reject) => {
        const asked = indexedDB.open('kneader');
        asked.onerror = () => reject(new Error('no storage'));
        asked.onsuccess = () => {
          const write = asked.result.transaction(['heads', 'records'], 'readwrite');
          write.objectStore('heads').clear();
          write.objectStore('records').put({ version: 1, id: 'broken', session: 7, view: null }, 'broken');
          write.oncomplete = () => resolve();
        };
      }),
  );
  await page.reload();
  await expect(page.getByRole('article', { name: 'Night round' }).first()).toBeVisible();
  const broken = page.getByText('A stored shot no longer reads.');
  await expect(broken).toBeVisible();
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save as a file' }).click(),
  ]);
  expect(file.suggestedFilename()).toBe('broken.record.json');
  await page.getByRole('button', { name: 'Remove', exact: true }).click();
  await page.getByRole('button', { name: 'OK' }).click();
  await expect(broken).toBeHidden();
});

test('a browser that is killed finds the shot as it was a second and a half before', async ({
  launchOptions,
  baseURL,
}) => {
  const folder = mkdtempSync(join(tmpdir(), 'kneader-killed-'));
  const open = () => chromium.launchPersistentContext(folder, { ...launchOptions, baseURL: baseURL! });
  try {
    let url = '';
    let value = 3;
    for (let kill = 0; kill < 4; kill += 1) {
      const context = await open();
      const page = context.pages()[0]!;
      if (url === '') url = await openChest(page);
      else {
        await page.goto(url);
        await valueIs(page, value);
      }
      await typeValues(page, [value + 1, value + 2]);
      value += 2;
      await page.waitForTimeout(1500);
      // All its processes at once, as when the machine fails.
      execFileSync('pkill', ['-9', '-f', folder]);
      await context.close().catch(() => undefined);
    }
    const context = await open();
    const page = context.pages()[0]!;
    await page.goto(url);
    await valueIs(page, value);
    await context.close();
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
});
