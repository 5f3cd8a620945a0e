/** Reports lead to the curve that they speak of, saved actions come back from files, and a character's facing is shown and set. */
import { readFileSync } from 'node:fs';
import { shelf } from '@kneader/core';
import { strToU8, unzipSync, zipSync } from 'fflate';
import { dropFiles, edits, expect, openEdit, takeDemo, test } from './helpers.ts';

test('each step that unwrapping takes out leads to its frame, and to its curve alone', async ({ page }) => {
  await takeDemo(page, 'Dough toss (captured)');
  await page.getByRole('button', { name: 'Right arm' }).click();
  await openEdit(page, 'Unwrap angles');
  const steps = edits(page).getByRole('list', { name: 'Steps taken out' });
  await expect(steps.getByRole('listitem')).toHaveCount(1);
  if (process.env['SHOTS']) await page.screenshot({ path: `${process.env['SHOTS']}/unwrap.png` });
  const link = steps.getByRole('button');
  const [channel, frame] = (await link.textContent())!.split(' @ ');
  await link.click();
  await expect(page.getByRole('spinbutton', { name: 'Frame' })).toHaveValue(frame!);
  await expect(page.locator(`.channel-name[title="${channel!}"]`)).toBeVisible();
  await expect(page.getByRole('button', { name: /^Isolate/ })).toHaveAttribute('aria-pressed', 'true');
  if (process.env['SHOTS']) await page.screenshot({ path: `${process.env['SHOTS']}/isolated.png` });
});

test('an action that was saved to a file is opened again from it; what is none is refused with a sentence', async ({
  page,
}) => {
  await takeDemo(page, 'First tray');
  await page.getByRole('button', { name: 'Right arm' }).click();
  await openEdit(page, 'Save as action');
  await edits(page).getByRole('textbox', { name: 'Name' }).fill('Reach');
  await edits(page).getByRole('button', { name: 'Save to the pantry' }).click();
  await expect(edits(page).getByText('Saved to the pantry.')).toBeVisible();
  await page.goto('/pantry');
  const card = page.getByRole('article', { name: 'Reach' });
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    card.getByRole('button', { name: 'Save Reach to a file' }).click(),
  ]);
  const text = readFileSync(await download.path(), 'utf8');
  await card.getByRole('button', { name: 'Remove Reach' }).click();
  await expect(card).toHaveCount(0);
  const field = page.locator('input[type=file]');
  await field.setInputFiles({
    name: 'Reach.kneader-action.json',
    mimeType: 'application/json',
    buffer: Buffer.from(text),
  });
  await expect(card).toBeVisible();
  if (process.env['SHOTS']) await page.screenshot({ path: `${process.env['SHOTS']}/pantry.png` });
  await field.setInputFiles({
    name: 'other.json',
    mimeType: 'application/json',
    buffer: Buffer.from('{"a": 1}'),
  });
  await expect(page.getByText('One file was not opened')).toBeVisible();
  await expect(page.getByText('other.json')).toBeVisible();
});

test('a zip with an action of more than 160 kB is brought in, and saved again', async ({ page }) => {
  const { action } = shelf()[0]!;
  const channel = (k: number) => ({
    times: Array.from({ length: 900 }, (_, i) => i),
    values: Array.from({ length: 900 }, (_, i) => Math.sin(i * (k + 1) * 0.37) * 9),
    tangentsIn: 4,
    tangentsOut: 4,
  });
  const curves = Object.fromEntries(Array.from({ length: 20 }, (_, k) => [`chest.r${k}`, channel(k)]));
  const large = { ...action, name: 'Large', length: 899, curves };
  const members = {
    'big/large.kneader-action.json': strToU8(JSON.stringify(large)),
    'blink.kneader-action.json': strToU8(JSON.stringify(action)),
  };
  await page.goto('/pantry');
  await page.locator('input[type=file]').setInputFiles({
    name: 'both.zip',
    mimeType: 'application/zip',
    buffer: Buffer.from(zipSync(members)),
  });
  await expect(page.getByRole('article', { name: 'Large' })).toBeVisible();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save all 2' }).click(),
  ]);
  const saved = unzipSync(readFileSync(await download.path()));
  expect(Object.keys(saved).sort()).toEqual(['Blink.kneader-action.json', 'big/Large.kneader-action.json']);
});

test('Characters shows where a character faces, and takes another facing', async ({ page }) => {
  await takeDemo(page, 'Night round');
  await expect(page.getByRole('status').filter({ hasText: /^Saved$/ })).toBeVisible();
  await page.goto(`/characters/${page.url().split('/').pop()!}`);
  const field = page.getByRole('spinbutton', { name: 'Where Bram faces, degrees' });
  await expect(field).toHaveValue('0');
  await expect(page.getByText('as its left and right say')).toBeVisible();
  if (process.env['SHOTS']) await page.screenshot({ path: `${process.env['SHOTS']}/characters.png` });
  await field.fill('90');
  await field.press('Enter');
  await expect(page.getByText('as set by hand')).toBeVisible();
  await page.getByRole('button', { name: 'Find it again' }).click();
  await expect(field).toHaveValue('0');
});

test('a .gltf is opened together with the file that it names, its rate found, and is kept', async ({
  page,
}) => {
  // A node that goes 1.5 m up in a second, keyed at 48 frames a second.
  const times = Float32Array.from({ length: 49 }, (_, frame) => frame / 48);
  const places = Float32Array.from({ length: 147 }, (_, i) =>
    i % 3 === 1 ? (1.5 * Math.floor(i / 3)) / 48 : 0,
  );
  const bin = Buffer.concat([Buffer.from(times.buffer), Buffer.from(places.buffer)]);
  const gltf = {
    asset: { version: '2.0' },
    nodes: [{ name: 'lantern' }],
    materials: [{}],
    buffers: [{ uri: 'lantern.bin', byteLength: bin.byteLength }],
    bufferViews: [
      { buffer: 0, byteLength: times.byteLength },
      { buffer: 0, byteOffset: times.byteLength, byteLength: places.byteLength },
    ],
    accessors: [
      { bufferView: 0, componentType: 5126, count: 49, type: 'SCALAR', min: [0], max: [1] },
      { bufferView: 1, componentType: 5126, count: 49, type: 'VEC3' },
    ],
    animations: [
      {
        samplers: [{ input: 0, output: 1 }],
        channels: [{ sampler: 0, target: { node: 0, path: 'translation' } }],
      },
    ],
  };
  await page.goto('/');
  const text = JSON.stringify(gltf);
  await dropFiles(page, [{ name: 'lantern.gltf', content: text }]);
  // Alone its nodes open, and what is missing is said.
  await expect(page.getByText(/lantern\.bin is not there/)).toBeVisible();
  await expect(page.getByRole('application', { name: 'Curves' })).toBeVisible();
  await page.goto('/');
  await dropFiles(page, [
    { name: 'lantern.bin', content: bin },
    { name: 'lantern.gltf', content: text },
  ]);
  await expect(page.getByRole('application', { name: 'Curves' })).toBeVisible();
  await expect(page.getByText('of 0–48, 48/s')).toBeVisible();
  // Kept, it can be written back into.
  await page.getByRole('button', { name: 'Export' }).click();
  await expect(page.getByRole('menuitem', { name: 'Back into lantern.gltf …' })).toBeVisible();
});

test('a menu lies from its first picture on where it will be pressed', async ({ page }) => {
  await takeDemo(page, 'Oven door');
  await page.evaluate(() => {
    const seen: number[] = [];
    Object.assign(window, { seen });
    const look = () => {
      const { top = 0, height = 0 } =
        document.querySelector('[role="menuitem"]:last-child')?.getBoundingClientRect() ?? {};
      if (height > 0) seen.push(Math.round(top), Math.round(height));
      requestAnimationFrame(look);
    };
    look();
  });
  await page.getByRole('button', { name: 'Export' }).click();
  await expect(page.getByRole('menuitem', { name: /glTF/ })).toBeVisible();
  const places = () => page.evaluate(() => (window as unknown as { seen: number[] }).seen);
  await expect.poll(async () => (await places()).length).toBeGreaterThan(30);
  const all = await places();
  expect(new Set(all.filter((_, k) => k % 2 === 0)).size).toBe(1);
  expect(new Set(all.filter((_, k) => k % 2 === 1)).size).toBe(1);
});
