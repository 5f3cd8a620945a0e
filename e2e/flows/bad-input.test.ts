/** What goes wrong, in the place where the person looks: a sentence, nothing lost, no white page, a quiet console. */
import { readFile } from 'node:fs/promises';
import type { Page } from '@playwright/test';
import {
  downloaded,
  dropFiles,
  edits,
  expect,
  history,
  openEdit,
  saved,
  takeDemo,
  test,
  touchControl,
} from './helpers.ts';

const MODELS = '/usr/share/assimp/models';
const notices = (page: Page) => page.getByRole('alert');

test('files that cannot be read are refused with what and where, and the page goes on', async ({ page }) => {
  await page.goto('/');
  const captured = await readFile(`${MODELS}/BVH/01_01.bvh`, 'utf8');
  const files: [string, string | Buffer, RegExp][] = [
    ['empty.bvh', '', /The file is empty/],
    ['notes.txt', 'notes', /Kneader reads \.kneader\.zip, \.kneader\.json, \.bvh, \.glb/],
    ['cut.bvh', captured.slice(0, 900), /cut short|should stand|line/],
    ['word.bvh', captured.replace('OFFSET', 'OFSET'), /OFSET.*line/s],
    ['cut.kneader.json', '{"format":"kneader-shot","version":1,', /not a JSON file, or it was cut short/],
    ['newer.kneader.json', '{"format":"kneader-shot","version":9}', /version 9.*newer Kneader/],
    ['noise.glb', Buffer.from([1, 2, 3, 4, 5, 6, 7, 8]), /glTF/],
    ['badArray.gltf', await readFile(`${MODELS}/glTF2/wrongTypes/badArray.gltf`), /glTF file cannot be read/],
  ];
  for (const [name, content, sentence] of files) {
    await dropFiles(page, [{ name, content }]);
    const notice = notices(page).filter({ hasText: `“${name}” was not opened` });
    await expect(notice).toContainText(sentence);
    await notice.getByRole('button', { name: 'Close' }).click();
    await expect(notice).toHaveCount(0);
  }
  await expect(page.getByRole('article', { name: 'Demo: Night round' })).toBeVisible();
});

test('an address that leads nowhere says so', async ({ page }) => {
  await page.goto('/shots/gone');
  await expect(page.getByText('There is no such shot here')).toBeVisible();
  await page.goto('/nowhere');
  await expect(page.getByText('There is no such page')).toBeVisible();
});

test('a stored record that no longer reads is refused, kept, and does not hide the others', async ({
  page,
}) => {
  await takeDemo(page, 'Night round');
  await saved(page);
  const address = page.url();
  await page.goto('/');
  await page.evaluate(async (id) => {
    const open = indexedDB.open('kneader');
    const db = await new Promise<IDBDatabase>((done) => (open.onsuccess = () => done(open.result)));
    const put = (store: string, change: (record: Record<string, unknown>) => unknown) =>
      new Promise<void>((done) => {
        const objects = db.transaction(store, 'readwrite').objectStore(store);
        const get = objects.get(id) as IDBRequest<Record<string, unknown>>;
        get.onsuccess = () => (objects.put(change(get.result), id).onsuccess = () => done());
      });
    await put('records', (record) => ({ ...record, session: { steps: 'many' } }));
    db.close();
  }, address.split('/').pop()!);
  await page.goto(address);
  await expect(page.getByText('This shot cannot be opened')).toBeVisible();
  await expect(page.getByText(/The stored record no longer reads.*Nothing was removed/)).toBeVisible();
  await page.getByRole('button', { name: 'Back to the shots' }).click();
  await expect(page.getByRole('article', { name: 'Night round', exact: true })).toBeVisible();
});

test('a browser that refuses to store: it is said, and the shot can still be saved to a file', async ({
  page,
}) => {
  await takeDemo(page, 'Night round');
  await saved(page);
  await page.evaluate(() => {
    const put: unknown = Reflect.get(IDBObjectStore.prototype, 'put');
    IDBObjectStore.prototype.put = () => {
      throw new DOMException('full', 'QuotaExceededError');
    };
    Object.assign(window, { makeRoom: () => Object.assign(IDBObjectStore.prototype, { put }) });
  });
  await touchControl(page, 'hips');
  await openEdit(page, 'Move keys');
  await edits(page).getByRole('spinbutton', { name: 'Value', exact: true }).fill('3');
  await edits(page).getByRole('button', { name: 'Apply', exact: true }).click();
  await expect(history(page).getByRole('button', { name: 'Move keys' })).toBeVisible();
  await expect(notices(page).filter({ hasText: 'no room left' })).toBeVisible();
  const file = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Export' }).click();
  await page.getByRole('menuitem', { name: /Shot file/ }).click();
  expect((await downloaded(await file)).toString()).toContain('"format":"kneader-shot"');
  await expect(history(page).getByRole('button', { name: 'Move keys' })).toHaveAttribute(
    'aria-current',
    'step',
  );
  // Room is made elsewhere: it is stored without anything being done.
  await page.evaluate(() => (window as unknown as { makeRoom: () => void }).makeRoom());
  await expect(page.getByRole('status').filter({ hasText: /^Saved$/ })).toBeVisible({ timeout: 5000 });
  await expect(notices(page).filter({ hasText: 'no room left' })).toBeHidden();
});

test('an edit on nothing says what to select; an option out of range says what it may be', async ({
  page,
}) => {
  await takeDemo(page, 'Night round');
  await openEdit(page, 'Thin');
  await expect(
    edits(page).getByText('Nothing is selected: select controls, channels or keys first.'),
  ).toBeVisible();
  const apply = edits(page).getByRole('button', { name: 'Apply', exact: true });
  await expect(apply).toBeDisabled();
  await apply.click({ force: true });
  await expect(edits(page).getByRole('alert')).toHaveText(/./);
});
