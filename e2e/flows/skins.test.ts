/** A character file: opened, reworked, given back; and a shot with its character in another browser. */
import { NodeIO } from '@gltf-transform/core';
import type { Root } from '@gltf-transform/core';
import type { Page } from '@playwright/test';
import {
  applyOpen,
  downloaded,
  dropFiles,
  edits,
  expect,
  goToFrame,
  lanes,
  openEdit,
  saved,
  test,
  touchControl,
  valueField,
} from './helpers.ts';

const STAGE = { width: 1280, height: 800 };

async function openBram(page: Page): Promise<void> {
  await page.setViewportSize(STAGE);
  await page.goto('/');
  await page
    .getByRole('article', { name: 'Demo: Bram in one skin' })
    .getByRole('button', { name: 'Open a copy' })
    .click();
  const asked = page.getByRole('dialog', { name: /has 2 animations/ });
  await expect(asked.getByRole('row')).toContainText(['Night round', 'Wave']);
  await asked.getByRole('button', { name: 'Take 1 shot and 1 action' }).click();
  await expect(page.getByRole('combobox', { name: 'Figures as' })).toBeVisible();
  // The skin is read when nothing says any more that it is.
  await expect(page.getByText(/^Reading /)).toHaveCount(0);
  await page
    .getByRole('button', { name: 'Close' })
    .first()
    .click({ trial: false, timeout: 2000 })
    .catch(() => undefined);
}

const rootOf = async (bytes: Buffer): Promise<Root> =>
  (await new NodeIO().readBinary(new Uint8Array(bytes))).getRoot();
const jsonOf = (bytes: Buffer) =>
  JSON.parse(bytes.subarray(20, 20 + bytes.readUInt32LE(12)).toString()) as Record<string, unknown>;

test('Bram in one skin: picked by his sleeve, thinned, smiling, flipped, and back into his file', async ({
  page,
}) => {
  await openBram(page);
  // His sleeve, from the front.
  await page.locator('.stage-tools').getByText('Front').click();
  const stage = (await page.getByRole('region', { name: 'Stage' }).boundingBox())!;
  await expect(async () => {
    await page.mouse.click(stage.x + stage.width * 0.459, stage.y + stage.height * 0.367);
    await expect(page.locator('[id^="spot-upperarm_r"][aria-selected="true"]')).toBeAttached({
      timeout: 1000,
    });
  }).toPass({ timeout: 20_000 });
  await openEdit(page, 'Thin');
  await applyOpen(page);
  // A smile by its slider, one step of the history however many keys.
  await touchControl(page, 'face');
  await goToFrame(page, 0);
  const slider = page.getByRole('slider', { name: 'face smile, as a slider' });
  await slider.focus();
  for (let i = 0; i < 7; i += 1) await page.keyboard.press('ArrowRight');
  await expect(valueField(page, 'face smile')).toHaveValue('0.17');
  await expect(page.getByRole('region', { name: 'History' }).getByText('Set face.smile')).toHaveCount(1);
  // He winks with the left; flipped, with the right.
  await touchControl(page, 'face left');
  await valueField(page, 'face left blink').fill('0.9');
  await page.keyboard.press('Enter');
  await openEdit(page, 'Flip pose');
  await applyOpen(page);
  await expect(valueField(page, 'face left blink')).toHaveValue('0.00');
  await saved(page);
  const original = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Export' }).click();
  await page.getByRole('menuitem', { name: 'Back into Bram in one skin.glb …' }).click();
  const dialog = page.getByRole('dialog', { name: 'Back into Bram in one skin.glb' });
  await dialog.getByRole('combobox', { name: 'Actions' }).click();
  await page.locator('.ant-select-dropdown:visible').getByTitle('Wave').click();
  await dialog.getByRole('textbox', { name: 'Name of the animation' }).fill('Night round, reworked');
  await dialog.getByRole('button', { name: 'Write the file' }).click();
  const bytes = await downloaded(await original);
  const root = await rootOf(bytes);
  expect(root.listAnimations().map((one) => one.getName())).toEqual(['Night round, reworked', 'Wave']);
  const weights = root
    .listAnimations()[0]!
    .listChannels()
    .find((one) => one.getTargetPath() === 'weights')!
    .getSampler()!
    .getOutput()!;
  const first = Array.from({ length: 6 }, (_, i) => Math.round(weights.getScalar(i) * 100) / 100);
  // smile, frown, blink left and right, brow left and right.
  expect(first.slice(0, 4)).toEqual([0.17, 0, 0, 0.9]);
  const mesh = root.listMeshes()[0]!.listPrimitives()[0]!;
  expect([mesh.listTargets().length, root.listSkins().length]).toEqual([6, 1]);
  expect(jsonOf(bytes)['scenes']).toEqual([expect.objectContaining({ extras: { street: 'Lantern Row' } })]);
});

test('a shot with its character goes to another browser; the last shot that goes takes the file along', async ({
  page,
  browser,
}) => {
  await openBram(page);
  await saved(page);
  const file = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Export' }).click();
  await page.getByRole('menuitem', { name: /\.kneader\.zip/ }).click();
  const zip = await downloaded(await file);
  const held = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Export' }).click();
  await page.getByRole('menuitem', { name: 'The same, with its characters’ files (.kneader.json)' }).click();
  const whole = await downloaded(await held);
  const other = await browser.newContext({ viewport: STAGE });
  const there = await other.newPage();
  await there.goto('/');
  await dropFiles(there, [{ name: 'bram.kneader.zip', content: zip }]);
  await expect(there.getByRole('combobox', { name: 'Figures as' })).toBeVisible();
  await expect(there.getByText(/is not in this browser/)).toHaveCount(0);
  const kept = () =>
    there.evaluate(
      () =>
        new Promise<number>((resolve) => {
          const asked = indexedDB.open('kneader');
          asked.onsuccess = () => {
            const count = asked.result.transaction('sources').objectStore('sources').count();
            count.onsuccess = () => {
              asked.result.close();
              resolve(count.result);
            };
          };
        }),
    );
  await expect.poll(kept).toBe(1);
  await there.getByRole('link', { name: 'Back to the shots' }).click();
  await there.getByRole('button', { name: /^Remove / }).click();
  await there.getByRole('button', { name: 'Remove', exact: true }).click();
  await expect.poll(kept).toBe(0);
  await dropFiles(there, [{ name: 'bram.kneader.json', content: whole }]);
  await expect(there.getByRole('combobox', { name: 'Figures as' })).toBeVisible();
  await expect.poll(kept).toBe(1);
  await there.getByRole('link', { name: 'Back to the shots' }).click();
  await there.getByRole('button', { name: /^Make a copy of/ }).click();
  await expect(there.getByRole('button', { name: /^Remove Bram/ })).toHaveCount(2);
  expect(await kept()).toBe(1);
  for (const left of [1, 0]) {
    await there
      .getByRole('button', { name: /^Remove Bram/ })
      .first()
      .click();
    await there.getByRole('button', { name: 'Remove', exact: true }).click();
    await expect(there.getByRole('button', { name: /^Remove Bram/ })).toHaveCount(left);
    await expect.poll(kept).toBe(left > 0 ? 1 : 0);
  }
  await other.close();
});

test('a .gltf dropped with what lies beside it opens; without, it says what is missing', async ({ page }) => {
  await page.goto('/');
  const data = Buffer.from(new Float32Array([0, 0, 0, 1, 0, 0, 0, 1, 0]).buffer);
  const text = JSON.stringify({
    asset: { version: '2.0' },
    scenes: [{ nodes: [0] }],
    nodes: [{ name: 'leaf', mesh: 0 }],
    meshes: [{ primitives: [{ attributes: { POSITION: 0 } }] }],
    accessors: [
      { bufferView: 0, componentType: 5126, count: 3, type: 'VEC3', min: [0, 0, 0], max: [1, 1, 0] },
    ],
    bufferViews: [{ buffer: 0, byteLength: 36 }],
    buffers: [{ uri: 'leaf%20data.bin', byteLength: 36 }],
  });
  await dropFiles(page, [{ name: 'leaf.gltf', content: text }]);
  await expect(page.getByText('leaf data.bin is not there, which “leaf” needs')).toBeVisible();
  await expect(lanes(page)).toBeVisible();
  await expect(page.getByRole('combobox', { name: 'Figures as' })).toHaveCount(0);
  await page.goto('/');
  await dropFiles(page, [
    { name: 'leaf.gltf', content: text },
    { name: 'leaf data.bin', content: data },
  ]);
  await expect(page.getByRole('combobox', { name: 'Figures as' })).toBeVisible();
  expect(await edits(page).count()).toBe(1);
});
