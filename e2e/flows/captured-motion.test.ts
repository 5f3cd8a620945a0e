/** The path on real captured motion: 01_01.bvh of Debian's package assimp-testmodels, from the drop to the export. */
import { readFile } from 'node:fs/promises';
import { NodeIO } from '@gltf-transform/core';
import { withZUp } from '../../core/src/testing/z-up-bvh.ts';
import {
  dragWithin,
  downloaded,
  dropFiles,
  edits,
  expect,
  goToFrame,
  history,
  openEdit,
  reportNumber,
  saved,
  test,
  valueField,
} from './helpers.ts';

test('captured motion is dropped, thinned, flipped, saved and exported', async ({ page }) => {
  await page.goto('/');
  await dropFiles(page, [
    { name: '01_01.bvh', content: await readFile('/usr/share/assimp/models/BVH/01_01.bvh') },
  ]);
  await expect(page.getByRole('region', { name: 'Stage' })).toBeVisible();
  await expect(page.getByText('of 0–2751, 120/s')).toBeVisible();

  await test.step('sides and pairs come from its names; a drawn figure stands for the model', async () => {
    await page.getByRole('button', { name: 'Left arm' }).click();
    const channels = page.getByRole('list', { name: 'Channels' });
    await expect(channels.getByText('LeftForeArm', { exact: true }).first()).toBeVisible();
    await expect(channels.getByText('RightForeArm', { exact: true })).toHaveCount(0);
    await expect(page.getByRole('group', { name: 'Poses: a key on every frame' })).toBeVisible();
  });

  await test.step('thins the arm within what the slider says', async () => {
    await openEdit(page, 'Thin');
    await dragWithin(page, page.getByRole('slider', { name: 'Tolerance, rotation' }), [0.4, 0.5], [0.6, 0.5]);
    await expect.poll(() => reportNumber(page, 'keys')).toBeLessThan(12_000);
    const tolerance = Number(await page.getByRole('spinbutton', { name: 'Rotation in °' }).inputValue());
    expect(await reportNumber(page, 'greatest rotation error')).toBeLessThanOrEqual(tolerance + 0.05);
    await edits(page).getByRole('button', { name: 'Apply', exact: true }).click();
    await expect(history(page).getByRole('button', { name: 'Thin' })).toHaveAttribute('aria-current', 'step');
  });

  await test.step('a pose goes flipped to the other side', async () => {
    await goToFrame(page, 300);
    const left = Number(await valueField(page, 'LeftForeArm ry').inputValue());
    await page.keyboard.press('Control+c');
    await goToFrame(page, 900);
    await page.keyboard.press('Control+Shift+v');
    await page.getByRole('button', { name: 'Right arm' }).click();
    await expect
      .poll(async () => Number(await valueField(page, 'RightForeArm ry').inputValue()))
      .toBeCloseTo(-left, 0);
  });

  await test.step('is saved, exported, and read by another reader', async () => {
    await saved(page);
    const glb = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Export' }).click();
    await page.getByRole('menuitem', { name: /glTF/ }).click();
    const root = (await new NodeIO().readBinary(new Uint8Array(await downloaded(await glb)))).getRoot();
    expect(root.listNodes()).toHaveLength(31);
    const last = Math.max(
      ...root
        .listAnimations()[0]!
        .listSamplers()
        .map((sampler) => sampler.getInput()!.getMax([])[0]!),
    );
    expect(last).toBeCloseTo(2751 / 120, 4);
    await page.reload();
    await expect(history(page).getByRole('button', { name: 'Paste pose' })).toHaveAttribute(
      'aria-current',
      'step',
    );
  });
});

test('a capture with z up: what it would mean is said, it stands up in one touch, and its size is asked; left lying it is asked no more', async ({
  page,
}) => {
  const lines = (await readFile('/usr/share/assimp/models/BVH/01_01.bvh', 'utf8')).split('\n');
  const first = lines.findIndex((line) => line.startsWith('Frame Time'));
  const short = [...lines.slice(0, first - 1), 'Frames: 200', ...lines.slice(first, first + 201)].join('\n');
  const file = { name: 'lying.bvh', content: withZUp(short) };
  await page.goto('/');
  await dropFiles(page, [file]);
  const asked = page.getByText(
    /^Figure lies: z is up in its file\. Upright it stands 2\d\.\d high; as it lies it is [\d.]+\.$/,
  );
  await expect(asked).toBeVisible();
  await expect(page.getByText(/how tall is that, for gravity/)).toBeHidden();
  await page.getByRole('button', { name: 'Stand it upright' }).click();
  await expect(asked).toBeHidden();
  await expect(page.getByText(/Figure stands 2\d\.\d high: how tall is that/)).toBeVisible();
  await expect(history(page).getByRole('button', { name: 'Stand upright' })).toHaveCount(1);
  await page.keyboard.press('Control+z');
  await expect(asked).toBeVisible();
  await page.getByRole('button', { name: 'It lies on purpose' }).click();
  await expect(asked).toBeHidden();
  await saved(page);
  await page.reload();
  await expect(page.getByText('of 0–199, 120/s')).toBeVisible();
  await expect(asked).toBeHidden();
});
