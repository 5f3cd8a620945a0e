/** Records beside shots: what was changed and left at once is there, two tabs do not undo each other, one that no longer reads hides no other. */
import type { Page } from '@playwright/test';
import { expect, saved, takeDemo, test } from './helpers.ts';

async function withShelf(page: Page): Promise<void> {
  await page.goto('/pantry');
  await page.getByRole('button', { name: /shelf/i }).first().click();
  await expect(page.getByRole('article', { name: 'Blink' })).toBeVisible();
}

async function openWords(page: Page, name: string): Promise<void> {
  await page.getByRole('button', { name: `Name, folder, tags and versions of ${name}` }).click();
  await expect(page.getByRole('dialog')).toBeVisible();
}

const keep = (page: Page) => page.getByRole('dialog').getByRole('button', { name: 'Keep' }).click();

test('an action renamed is renamed, however soon the page is left', async ({ page }) => {
  await withShelf(page);
  page.on('dialog', (dialog) => void dialog.accept());
  let name = 'Blink';
  for (let i = 0; i < 4; i += 1) {
    await openWords(page, name);
    name = `Blink ${i + 10}`;
    await page.getByRole('dialog').getByRole('textbox', { name: 'Name' }).fill(name);
    await keep(page);
    await page.reload();
    await expect(page.getByRole('article', { name, exact: true })).toBeVisible();
  }
});

test('two tabs that change one action both have their way', async ({ page, context }) => {
  await withShelf(page);
  const other = await context.newPage();
  await other.goto('/pantry');
  await openWords(page, 'Nod');
  await openWords(other, 'Nod');
  await page.getByRole('dialog').getByRole('textbox', { name: 'Name' }).fill('Yes');
  await keep(page);
  await expect(page.getByRole('article', { name: 'Yes' })).toBeVisible();
  // The other still shows what it read before.
  await other.getByRole('dialog').getByRole('textbox', { name: 'Notes' }).fill('twice');
  await keep(other);
  await other.reload();
  await openWords(other, 'Yes');
  await expect(other.getByRole('dialog').getByRole('textbox', { name: 'Notes' })).toHaveValue('twice');
});

test('where a character faces is kept, however soon Characters is left', async ({ page }) => {
  await takeDemo(page, 'Night round');
  await saved(page);
  const id = page.url().split('/').pop()!;
  page.on('dialog', (dialog) => void dialog.accept());
  for (const degrees of ['90', '35', '-20']) {
    await page.goto(`/characters/${id}`);
    const field = page.getByRole('spinbutton', { name: 'Where Bram faces, degrees' });
    await field.fill(degrees);
    await field.press('Enter');
    await page.goto('/');
    await page.goto(`/characters/${id}`);
    await expect(field).toHaveValue(degrees);
  }
});

test('a routine of a newer version is said, and hides no other', async ({ page }) => {
  await page.goto('/routines');
  const routine = (name: string, more: object = {}) => ({
    name: `${name}.json`,
    mimeType: 'application/json',
    buffer: Buffer.from(
      JSON.stringify({
        format: 'kneader-routine',
        version: 1,
        name,
        steps: [{ edit: 'clean.thin', options: {}, on: 'everything' }],
        ...more,
      }),
    ),
  });
  await page.locator('input[type=file]').setInputFiles(routine('Mine'));
  await expect(page.getByText('Mine')).toBeVisible();
  await page.evaluate(async () => {
    const base = await new Promise<IDBDatabase>((resolve) => {
      const opening = indexedDB.open('kneader');
      opening.onsuccess = () => resolve(opening.result);
    });
    const work = base.transaction('routines', 'readwrite');
    work
      .objectStore('routines')
      .put({ id: 'newer', savedAt: 1, routine: { format: 'kneader-routine', version: 99 } }, 'newer');
    await new Promise((resolve) => (work.oncomplete = resolve));
    base.close();
  });
  await page.reload();
  await expect(page.getByText('Mine')).toBeVisible();
  await expect(page.getByText(/1 routine cannot be read by this version/)).toBeVisible();
});

test('the pantry says what is stored, and that it could not be cleared away', async ({ page }) => {
  await withShelf(page);
  const said = page.locator('.page-head').getByRole('status');
  await expect(said).toHaveText('Saved');
  await page.getByRole('button', { name: 'Remove Blink' }).click();
  await page.getByRole('menuitem', { name: 'Removed (1)' }).click();
  await page.evaluate(() => {
    const remove: unknown = Reflect.get(IDBObjectStore.prototype, 'delete');
    IDBObjectStore.prototype.delete = () => {
      throw new DOMException('no', 'UnknownError');
    };
    Object.assign(window, { letGo: () => Object.assign(IDBObjectStore.prototype, { delete: remove }) });
  });
  const clear = async () => {
    await page.locator('.pantry-tools').getByRole('button', { name: 'Clear away' }).click();
    await page
      .locator('.ant-popover:not(.ant-popover-hidden)')
      .getByRole('button', { name: 'Clear away' })
      .click();
  };
  await clear();
  await expect(page.getByRole('alert').filter({ hasText: 'Not everything was cleared away' })).toBeVisible();
  await expect(said).toHaveText('Not saved');
  await page.evaluate('letGo()');
  await clear();
  await expect(page.getByRole('menuitem', { name: 'Removed (0)' })).toBeVisible();
  await expect(said).toHaveText('Saved');
});
