/** The whole path on the demo shots: open, thin, re-tangent, offset, flip, undo, save, apply, export, and find it all again. */
import type { Page } from '@playwright/test';
import { NodeIO } from '@gltf-transform/core';
import {
  dragWithin,
  downloaded,
  edits,
  expect,
  goToFrame,
  history,
  lanes,
  openEdit,
  placeInCurves,
  reportNumber,
  saved,
  takeDemo,
  test,
  valueField,
  touchControl,
} from './helpers.ts';

test('from a captured toss to a reworked, saved and exported one', async ({ page }) => {
  await takeDemo(page, 'Dough toss (captured)');

  await test.step('plays it', async () => {
    await page.getByRole('button', { name: 'Play', exact: true }).click();
    await expect
      .poll(async () =>
        Number(await page.getByRole('slider', { name: 'Play-head' }).getAttribute('aria-valuenow')),
      )
      .toBeGreaterThan(5);
    await page.getByRole('button', { name: 'Stop' }).click();
  });

  await test.step('selects the right arm on the figure and sees a key on every frame', async () => {
    await touchControl(page, 'upperarm_r');
    await page.getByRole('button', { name: 'Right arm' }).click();
    await expect(page.getByRole('list', { name: 'Channels' }).getByRole('listitem').first()).toHaveAttribute(
      'aria-setsize',
      '31',
    );
    await expect(page.getByRole('group', { name: 'Poses: a key on every frame' })).toBeVisible();
  });

  let before = 0;
  await test.step('drags the tolerance and sees the numbers follow', async () => {
    await goToFrame(page, 56);
    before = Number(await valueField(page, 'upperarm_r rz').inputValue());
    await openEdit(page, 'Thin');
    const slider = page.getByRole('slider', { name: 'Tolerance, rotation' });
    await dragWithin(page, slider, [0.3, 0.5], [0.5, 0.5]);
    await expect.poll(() => reportNumber(page, 'keys')).toBeLessThan(2000);
    const fine = await reportNumber(page, 'keys');
    await dragWithin(page, slider, [0.5, 0.5], [0.62, 0.5]);
    await expect.poll(() => reportNumber(page, 'keys')).toBeLessThan(fine);
    const tolerance = Number(await page.getByRole('spinbutton', { name: 'Rotation in °' }).inputValue());
    expect(await reportNumber(page, 'greatest rotation error')).toBeLessThanOrEqual(tolerance + 0.05);
    await edits(page).getByRole('button', { name: 'Apply', exact: true }).click();
    await expect(history(page).getByRole('button', { name: 'Thin' })).toHaveAttribute('aria-current', 'step');
    expect(
      Math.abs(Number(await valueField(page, 'upperarm_r rz').inputValue()) - before),
    ).toBeLessThanOrEqual(tolerance + 0.1);
  });

  await test.step('changes tangents on some keys, drags a key and a handle', async () => {
    await page.locator('.channel-name[title="forearm_r.ry"]').click();
    const curves = page.getByRole('application', { name: 'Curves' });
    await dragWithin(page, curves, [0.18, 0.02], [0.5, 0.98]);
    await page.keyboard.press('s');
    await expect(history(page).getByRole('button', { name: 'Set tangents' })).toHaveCount(1);
    // One key at 24 in place of those between: the key on frame 0 then has a neighbour that is known.
    await dragCurves(page, [1, 1e3], [30, -1e3]);
    await page.keyboard.press('Delete');
    await goToFrame(page, 24);
    await page.keyboard.press('n');
    await expect(history(page).getByRole('button', { name: 'Add keys' })).toHaveCount(1);
    await goToFrame(page, 0);
    const value = Number(await valueField(page, 'forearm_r ry').inputValue());
    await dragCurves(page, [0, value], [0, value - 8]);
    await expect(history(page).getByRole('button', { name: 'Move keys' })).toHaveCount(1);
    const moved = Number(await valueField(page, 'forearm_r ry').inputValue());
    expect(moved).toBeCloseTo(value - 8, 0);
    // Its handle, made level, ends a third of the way to the next key.
    await page.keyboard.press('e');
    await goToFrame(page, 8);
    const level = Number(await valueField(page, 'forearm_r ry').inputValue());
    await dragCurves(page, [8, moved], [8, moved + 20]);
    await expect(history(page).getByRole('button', { name: 'Set tangents' })).toHaveCount(3);
    expect(Number(await valueField(page, 'forearm_r ry').inputValue())).toBeGreaterThan(level + 3);
  });

  await test.step('adds an offset pass, poses the arm higher with it and dials its weight', async () => {
    await page.getByRole('button', { name: 'Right arm' }).click();
    await goToFrame(page, 20);
    const below = Number(await valueField(page, 'upperarm_r rz').inputValue());
    await openEdit(page, 'Add offset pass');
    await edits(page).getByRole('textbox', { name: 'Name' }).fill('Higher');
    await edits(page).getByRole('button', { name: 'Apply', exact: true }).click();
    await expect(lanes(page).getByRole('button', { name: 'Higher', exact: true })).toHaveAttribute(
      'aria-pressed',
      'true',
    );
    await valueField(page, 'upperarm_r rz').click();
    await page.keyboard.type(String(below - 30));
    await page.keyboard.press('Enter');
    await expect
      .poll(async () => Number(await valueField(page, 'upperarm_r rz').inputValue()))
      .toBeCloseTo(below - 30, 0);
    const weight = page.getByRole('spinbutton', { name: 'Weight of Higher' });
    await weight.focus();
    for (let i = 0; i < 50; i += 1) await page.keyboard.press('ArrowDown');
    await expect
      .poll(async () => Number(await valueField(page, 'upperarm_r rz').inputValue()))
      .toBeCloseTo(below - 15, 0);
  });

  await test.step('touches the figure on the stage', async () => {
    await page.getByRole('region', { name: 'Stage' }).locator('canvas').click();
    await expect(page.getByRole('button', { name: 'Right arm' })).toHaveAttribute('aria-pressed', 'false');
    expect(await page.getByRole('list', { name: 'Channels' }).getByRole('listitem').count()).toBeGreaterThan(
      0,
    );
  });

  await test.step('copies a pose and pastes it flipped at another frame', async () => {
    await lanes(page).getByRole('button', { name: 'Higher', exact: true }).click();
    await page.getByRole('button', { name: 'Right arm' }).click();
    await goToFrame(page, 56);
    const raised = Number(await valueField(page, 'upperarm_r rz').inputValue());
    await page.keyboard.press('Control+c');
    await goToFrame(page, 100);
    await page.keyboard.press('Control+Shift+v');
    await expect(history(page).getByRole('button', { name: 'Paste pose' })).toHaveCount(1);
    await page.getByRole('button', { name: 'Left arm' }).click();
    // A reflection in the YZ plane turns the angle about z round.
    await expect
      .poll(async () => Number(await valueField(page, 'upperarm_l rz').inputValue()))
      .toBeCloseTo(-raised, 0);
  });

  await test.step('undoes and redoes through the history', async () => {
    const field = valueField(page, 'upperarm_l rz');
    const pasted = await field.inputValue();
    await page.keyboard.press('Control+z');
    await expect(field).not.toHaveValue(pasted);
    await page.keyboard.press('Control+Shift+z');
    await expect(field).toHaveValue(pasted);
    await history(page).getByRole('button', { name: 'Opened' }).click();
    await expect(lanes(page).getByRole('button', { name: 'Higher', exact: true })).toHaveCount(0);
    await history(page).getByRole('button', { name: 'Paste pose' }).click();
    await expect(field).toHaveValue(pasted);
  });

  await test.step('saves the range as an action in the pantry', async () => {
    await page.getByRole('button', { name: 'Left arm' }).click();
    const ruler = page.getByRole('slider', { name: 'Play-head' });
    await dragWithin(page, ruler, [0.8, 0.5], [0.94, 0.5], 'Shift');
    await openEdit(page, 'Save as action');
    await edits(page).getByRole('textbox', { name: 'Name' }).fill('Wave from the bakery');
    await edits(page).getByRole('button', { name: 'Save to the pantry' }).click();
    await expect(edits(page).getByText('Saved to the pantry.')).toBeVisible();
    await saved(page);
  });

  const shotAddress = page.url();
  await test.step('drags the action onto the lanes of Night round', async () => {
    await takeDemo(page, 'Night round');
    await openEdit(page, 'Apply action');
    const row = edits(page).getByRole('listitem', { name: 'Wave from the bakery' });
    await row.dragTo(page.getByRole('application', { name: 'Curves' }), {
      targetPosition: { x: 120, y: 40 },
    });
    await expect(edits(page).getByRole('status', { name: 'Report' })).toContainText('Covers frames');
    expect(await reportNumber(page, 'keys laid')).toBeGreaterThan(0);
    await expect(history(page).getByRole('button', { name: 'Apply action' })).toHaveCount(1);
    await saved(page);
  });

  await test.step('exports glTF and the shot file, read back by an independent reader', async () => {
    const glb = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Export' }).click();
    await page.getByRole('menuitem', { name: /glTF/ }).click();
    const document = await new NodeIO().readBinary(new Uint8Array(await downloaded(await glb)));
    expect(document.getRoot().listAnimations()).toHaveLength(1);
    expect(
      document
        .getRoot()
        .listNodes()
        .map((node) => node.getName()),
    ).toContain('upperarm_l');
    const file = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Export' }).click();
    await page.getByRole('menuitem', { name: /Shot file/ }).click();
    const json = JSON.parse((await downloaded(await file)).toString()) as {
      format: string;
      name: string;
      curves: object;
    };
    expect(json.format).toBe('kneader-shot');
    expect(Object.keys(json.curves)).toContain('upperarm_l.rz');
  });

  await test.step('closes the tab, opens it again, and finds all as it was left', async () => {
    const context = page.context();
    await page.close();
    const again = await context.newPage();
    await again.goto(shotAddress);
    await expect(history(again).getByRole('button', { name: 'Save as action' })).toHaveAttribute(
      'aria-current',
      'step',
    );
    await expect(lanes(again).getByRole('button', { name: 'Higher', exact: true })).toBeVisible();
    await expect(again.getByRole('button', { name: 'Left arm' })).toHaveAttribute('aria-pressed', 'true');
    await again.keyboard.press('Control+z');
    await expect(history(again).getByRole('button', { name: 'Paste pose' })).not.toHaveAttribute(
      'aria-current',
      'step',
    );
  });
});

/** Drags in the curves lane between two places given as frame and value, as far as the lane reaches. */
async function dragCurves(page: Page, from: [number, number], to: [number, number]): Promise<void> {
  const { y: top, height } = (await page.getByRole('application', { name: 'Curves' }).boundingBox())!;
  const at = async ([frame, value]: [number, number]) => {
    const [x, y] = await placeInCurves(page, frame, value);
    return [x, Math.min(Math.max(y, top + 2), top + height - 2)] as const;
  };
  await page.mouse.move(...(await at(from)));
  await page.mouse.down();
  await page.mouse.move(...(await at(to)), { steps: 6 });
  await page.mouse.up();
}
