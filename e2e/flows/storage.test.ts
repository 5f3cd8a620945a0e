/** What the browser's storage does to a shot: full, emptied, lying, changed by others. *Saved* is said of what can be read back, and nothing else. */
import type { Page } from '@playwright/test';
import { expect, openChest, saved, test, typeValues, valueIs } from './helpers.ts';

/** Removes what is stored under these names, as clearing the browser's data does. */
const empty = (page: Page, stores: readonly string[]) =>
  page.evaluate(async (names) => {
    const open = indexedDB.open('kneader');
    const db = await new Promise<IDBDatabase>((done) => (open.onsuccess = () => done(open.result)));
    const work = db.transaction(names, 'readwrite');
    for (const name of names) work.objectStore(name).clear();
    await new Promise((done) => (work.oncomplete = done));
    db.close();
  }, stores);

const notices = (page: Page) => page.getByRole('alert');
const state = (page: Page) => page.getByText(/^(Saved|Saving …|Not saved|Not stored here)$/);

test('parts of a shot that the browser has lost are stored again with the next edit', async ({ page }) => {
  const url = await openChest(page);
  await empty(page, ['lots']);
  await typeValues(page, [12]);
  await saved(page);
  await page.goto('/');
  await page.goto(url);
  await valueIs(page, 12);
});

async function copied(page: Page): Promise<void> {
  const url = page.url();
  await page.getByRole('button', { name: 'Make a copy' }).click();
  await expect(page).not.toHaveURL(url);
  await saved(page);
}

test('a shot that was taken away is said to be removed: with the browser’s data, and in another tab', async ({
  page,
  context,
}) => {
  await openChest(page);
  await typeValues(page, [7]);
  await saved(page);
  await empty(page, ['records', 'lots', 'stamps']);
  // Looking at it again tells, without an edit.
  await page.evaluate(() => window.dispatchEvent(new Event('focus')));
  await expect(page.getByRole('alert')).toContainText(/^Removed: in another tab, or with the browser’s data/);
  await expect(state(page)).toHaveText('Not stored here');
  await copied(page);
  await valueIs(page, 7);

  const other = await context.newPage();
  await other.goto('/');
  await other
    .getByRole('article', { name: /^Night round/ })
    .getByRole('button', { name: /^Remove/ })
    .click();
  await other.getByRole('button', { name: 'Remove', exact: true }).click();
  await expect(page.getByRole('alert')).toContainText(/^Removed/);
  await page.bringToFront();
  await typeValues(page, [9]);
  await expect(page.getByRole('alert')).toContainText('kept only as a copy');
  await copied(page);
  await valueIs(page, 9);
});

test('a browser that takes a shot and does not have it: not saved, said', async ({ page }) => {
  await openChest(page);
  await page.evaluate(() => {
    IDBObjectStore.prototype.put = function (_: unknown, key?: IDBValidKey) {
      return this.getKey(key!) as IDBRequest<IDBValidKey>;
    };
  });
  await typeValues(page, [5]);
  await expect(notices(page).filter({ hasText: 'does not give it back' })).toBeVisible();
  await expect(state(page)).toHaveText('Not saved');
});

test('where nothing can be noted and nothing stored, whoever leaves is asked; noted nowhere, an edit is stored at once', async ({
  page,
}) => {
  const url = await openChest(page);
  await page.evaluate(() => {
    for (let size = 4e6; size >= 1; size = Math.floor(size / 2))
      for (let i = 0; i < 4; i += 1)
        try {
          localStorage.setItem(`filled ${size} ${i}`, 'x'.repeat(size));
        } catch {
          break;
        }
  });
  await typeValues(page, [21, 22, 23]);
  await saved(page);
  await page.goto(url);
  await valueIs(page, 23);

  await page.evaluate(() => {
    IDBObjectStore.prototype.put = () => {
      throw new DOMException('full', 'QuotaExceededError');
    };
  });
  await typeValues(page, [24]);
  await expect(notices(page).filter({ hasText: 'no room left' })).toBeVisible();
  const asked = page.waitForEvent('dialog');
  await page.close({ runBeforeUnload: true });
  const dialog = await asked;
  expect(dialog.type()).toBe('beforeunload');
  await dialog.dismiss();
  await valueIs(page, 24);
});
