/** Films and numbered pictures that are given to somebody, decoded again. */
import { NOTHING, runEdit } from '@kneader/core';
import { ZipReader, Uint8ArrayReader, Uint8ArrayWriter } from '@zip.js/zip.js';
import { decoded, withFilmLibrary } from './film-library.ts';
import { demo, downloaded, expect, goToFrame, openShot, saved, takeDemo, test } from './helpers.ts';

test('Oven door through its camera at 23.976, decoded again; numbered pictures with nothing behind; left in the middle', async ({
  page,
}) => {
  const { shot } = runEdit('timing.setShot', demo('oven-door'), NOTHING, {
    rate: 24000 / 1001,
    keep: 'frames',
  });
  await openShot(page, shot);
  await withFilmLibrary(page);
  const open = async () => {
    await page.getByRole('button', { name: 'Export' }).click();
    await page.getByRole('menuitem', { name: 'Film or pictures' }).click();
    return page.getByRole('dialog', { name: 'Film or numbered pictures' });
  };
  const pick = async (dialog: Awaited<ReturnType<typeof open>>, label: string, title: string) => {
    await dialog.getByRole('combobox', { name: label }).click();
    await page
      .locator('.ant-select-dropdown:not(.ant-select-dropdown-hidden)')
      .getByText(title, { exact: true })
      .click();
  };
  let dialog = await open();
  await pick(dialog, 'View', 'The shot’s camera');
  await dialog.getByRole('spinbutton', { name: 'First frame' }).fill('20');
  await dialog.getByRole('spinbutton', { name: 'Last frame' }).fill('43');
  const film = page.waitForEvent('download', { timeout: 90_000 });
  await dialog.getByRole('button', { name: 'Make it' }).click();
  const { width, height, pictures } = await decoded(page, await downloaded(await film));
  expect([width, height]).toEqual([1280, 720]);
  expect(pictures).toHaveLength(24);
  const tick = 1001 / 24000;
  pictures.forEach(({ at }, k) => expect(Math.abs(at - k * tick)).toBeLessThan(tick / 2));
  // He moves all the time here: no picture is the one before.
  for (let k = 1; k < pictures.length; k += 1) {
    const [before, now] = [pictures[k - 1]!.looks, pictures[k]!.looks];
    expect(now.reduce((sum, value, i) => sum + Math.abs(value - before[i]!), 0)).toBeGreaterThan(0);
  }

  dialog = await open();
  await pick(dialog, 'As', 'Numbered pictures, PNG in a zip');
  await pick(dialog, 'Behind', 'Nothing');
  await dialog.getByRole('spinbutton', { name: 'First frame' }).fill('20');
  await dialog.getByRole('spinbutton', { name: 'Last frame' }).fill('22');
  const zip = page.waitForEvent('download', { timeout: 60_000 });
  await dialog.getByRole('button', { name: 'Make it' }).click();
  const entries = await new ZipReader(
    new Uint8ArrayReader(new Uint8Array(await downloaded(await zip))),
  ).getEntries();
  expect(entries.map(({ filename }) => filename)).toEqual(['0020.png', '0021.png', '0022.png']);
  const first = entries[0]!;
  const png = first.directory ? null : await first.getData(new Uint8ArrayWriter());
  const alpha = await page.evaluate(async (base64) => {
    const bytes = Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0));
    const image = await createImageBitmap(new Blob([bytes], { type: 'image/png' }));
    const canvas = new OffscreenCanvas(image.width, image.height);
    const context = canvas.getContext('2d')!;
    context.drawImage(image, 0, 0);
    const { data } = context.getImageData(0, 0, image.width, image.height);
    const counts = { width: image.width, clear: 0, full: 0 };
    for (let i = 3; i < data.length; i += 4) counts[data[i] === 0 ? 'clear' : 'full'] += 1;
    return counts;
  }, Buffer.from(png!).toString('base64'));
  expect(alpha.width).toBe(1280);
  expect(alpha.clear).toBeGreaterThan(100_000);
  expect(alpha.full).toBeGreaterThan(5_000);

  dialog = await open();
  await dialog.getByRole('button', { name: 'Make it' }).click();
  const card = page.getByRole('group', { name: 'Film' });
  await expect(card).toBeVisible();
  // The bench is usable meanwhile.
  await goToFrame(page, 50);
  await card.getByRole('button', { name: 'Leave it' }).click();
  await expect(card).toHaveCount(0);
  await expect(page.getByRole('spinbutton', { name: 'Frame', exact: true })).toHaveValue('50');
});

test('a skin as MP4 while the tab is out of sight; whoever goes while it is filmed is asked, or told', async ({
  page,
}) => {
  await page.goto('/');
  await page.getByRole('article', { name: 'Demo: Bram in one skin' }).getByRole('button').click();
  await page.getByRole('button', { name: /^Take 1 shot/ }).click();
  await expect(page.getByRole('combobox', { name: 'Figures as' })).toBeVisible();
  await saved(page);
  await withFilmLibrary(page);
  const begin = async (last: number) => {
    await page.getByRole('button', { name: 'Export' }).click();
    await page.getByRole('menuitem', { name: 'Film or pictures' }).click();
    const dialog = page.getByRole('dialog', { name: 'Film or numbered pictures' });
    await dialog.getByRole('combobox', { name: 'As' }).click();
    await page.locator('.ant-select-dropdown:visible').getByText('Film, MP4', { exact: true }).click();
    await dialog.getByRole('combobox', { name: 'Behind' }).click();
    await page.locator('.ant-select-dropdown:visible').getByText('White', { exact: true }).click();
    await dialog.getByRole('spinbutton', { name: 'Last frame' }).fill(String(last));
    await dialog.getByRole('button', { name: 'Make it' }).click();
    await expect(page.getByRole('progressbar', { name: 'Pictures made' })).toBeVisible();
  };
  const film = page.waitForEvent('download', { timeout: 90_000 });
  await begin(11);
  await expect(page.getByRole('group', { name: 'Film' })).toContainText(/[1-9]\d* of 12/);
  // What is out of sight is told no frames to draw.
  await page.evaluate(() => (window.requestAnimationFrame = () => 0));
  const { width, pictures } = await decoded(page, await downloaded(await film));
  expect([width, pictures.length]).toEqual([1280, 12]);
  for (let k = 0; k < 12; k += 1) {
    expect(Math.abs(pictures[k]!.at - k / 24)).toBeLessThan(1 / 48);
    // He is there on each: the darkest of a white picture are his trousers.
    expect(pictures[k]!.looks.filter((value) => value < 150).length).toBeGreaterThan(20);
  }
  await page.reload();
  await begin(16);
  const asked = page.waitForEvent('dialog');
  await page.evaluate(() => void setTimeout(() => location.reload()));
  const dialog = await asked;
  expect(dialog.type()).toBe('beforeunload');
  await dialog.dismiss();
  await expect(page.getByRole('group', { name: 'Film' })).toBeVisible();
  await page.getByRole('link', { name: 'Back to the shots' }).click();
  await expect(page.getByText('The film was not finished, and nothing of it is saved.')).toBeVisible();
});

test('a browser without an encoder makes numbered pictures, which is said', async ({ page }) => {
  await page.addInitScript(() => {
    Reflect.deleteProperty(globalThis, 'VideoEncoder');
  });
  await takeDemo(page, 'Kneading loop');
  await page.getByRole('button', { name: 'Export' }).click();
  await page.getByRole('menuitem', { name: 'Film or pictures' }).click();
  const dialog = page.getByRole('dialog', { name: 'Film or numbered pictures' });
  await expect(
    dialog.getByText('This browser has no encoder for films: numbered pictures can be made.'),
  ).toBeVisible();
  await expect(dialog.getByTitle('Numbered pictures, PNG in a zip')).toBeVisible();
});
