/** Timing and poses on the three shots that were made for them: First tray, Night round, Kneading loop. */
import type { Page } from '@playwright/test';
import {
  applyOpen,
  dragWithin,
  edits,
  expect,
  goToFrame,
  history,
  openEdit,
  reportNumber,
  takeDemo,
  test,
  tryWholeWalk,
  valueField,
  touchControl,
} from './helpers.ts';

const apply = (page: Page) => edits(page).getByRole('button', { name: 'Apply', exact: true });
const poses = (page: Page) => page.locator('.poses-lane');
const gapAt = (page: Page, frame: number) =>
  page.getByRole('button', { name: new RegExp(`^Gap of \\d+ frames at ${frame}$`) });

/** Where a frame lies in the lanes. */
async function frameToPixel(page: Page, frame: number): Promise<number> {
  const curves = page.getByRole('application', { name: 'Curves' });
  const [from, to] = (await curves.getAttribute('data-view'))!.split(' ').map(Number) as [number, number];
  const box = (await curves.boundingBox())!;
  return box.x + ((frame - from) / (to - from)) * box.width;
}

test('First tray: completed, splined, retimed by hand, by typing, by keystroke and with a pattern', async ({
  page,
}) => {
  await takeDemo(page, 'First tray');
  await expect(poses(page)).toHaveAttribute('aria-label', /Poses at 0, 8, 16/);
  await test.step('the rule that finds the columns is shown and changed, one step for a number; columns are set by hand', async () => {
    await page.getByRole('button', { name: 'Found by 50 %' }).click();
    await page.getByRole('spinbutton', { name: 'Share of controls' }).fill('90');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('button', { name: 'Found by 90 %' })).toBeVisible();
    await expect(history(page).getByRole('button', { name: 'Pose columns' })).toHaveCount(1);
    await page.keyboard.press('Escape');
    await goToFrame(page, 16);
    await page.getByRole('button', { name: 'No pose at 16' }).click();
    await expect(poses(page)).toHaveAttribute('aria-label', /Poses at 0, 8, 24/);
    await page.getByRole('button', { name: 'Pose at 16' }).click();
    await expect(poses(page)).toHaveAttribute('aria-label', /Poses at 0, 8, 16/);
    // What + and − move is said before they do.
    await expect(page.locator('.gap.held')).toHaveAttribute('title', /\+ and - move the pose at 24$/);
    await history(page).getByRole('button', { name: 'Opened' }).click();
  });
  await test.step('the columns are completed, and what was missing is listed', async () => {
    await openEdit(page, 'Complete the columns');
    await expect.poll(() => reportNumber(page, 'controls completed')).toBe(2);
    await expect(
      edits(page).getByText('Keys were missing on pose columns: tassel_2 (3), brow_r (3).'),
    ).toBeVisible();
    await apply(page).click();
    await openEdit(page, 'Stepped to spline');
    await expect.poll(() => reportNumber(page, 'segments turned')).toBeGreaterThan(500);
    await apply(page).click();
    await expect(history(page).getByRole('button', { name: 'Stepped to spline' })).toHaveAttribute(
      'aria-current',
      'step',
    );
    await edits(page).getByRole('button', { name: 'Leave', exact: true }).click();
  });
  await test.step('a pose is dragged: everything later ripples, and the shot grows', async () => {
    const box = (await poses(page).boundingBox())!;
    const [from, to] = [await frameToPixel(page, 16), await frameToPixel(page, 22)];
    await page.mouse.move(from, box.y + 50);
    await page.mouse.down();
    await page.mouse.move(to, box.y + 50, { steps: 6 });
    await page.mouse.up();
    await expect(poses(page)).toHaveAttribute('aria-label', /Poses at 0, 8, 22, 30/);
    await expect(gapAt(page, 8)).toHaveText('14');
  });
  await test.step('a gap is typed, also below one frame, which is refused with a sentence', async () => {
    await gapAt(page, 0).click();
    await page.getByRole('spinbutton', { name: 'New gap at 0' }).fill('5');
    await page.keyboard.press('Enter');
    await expect(poses(page)).toHaveAttribute('aria-label', /Poses at 0, 5, 19, 27/);
    await gapAt(page, 0).click();
    await page.getByRole('spinbutton', { name: 'New gap at 0' }).fill('0');
    await page.keyboard.press('Enter');
    await expect(page.getByText('A gap of 0 frames is too short: it must be 1 or more.')).toBeVisible();
  });
  await test.step('a keystroke adds and takes a frame while it plays', async () => {
    await goToFrame(page, 3);
    await page.keyboard.press('+');
    await page.keyboard.press('+');
    await page.keyboard.press('-');
    await expect(gapAt(page, 0)).toHaveText('6');
    await page.getByRole('button', { name: 'Play', exact: true }).click();
    await page.getByRole('application', { name: 'Curves' }).focus();
    await page.keyboard.press('+');
    await expect(history(page).getByRole('button', { name: 'Set gap' })).toHaveCount(6);
    await page.getByRole('button', { name: 'Stop', exact: true }).click();
  });
  await test.step('a run of poses gets a pattern, its total kept', async () => {
    await goToFrame(page, 0);
    const box = (await poses(page).boundingBox())!;
    const label = (await poses(page).getAttribute('aria-label'))!;
    const last = Number(label.split(', ')[8]);
    await page.keyboard.down('Shift');
    await page.mouse.click(await frameToPixel(page, last), box.y + 40);
    await page.keyboard.up('Shift');
    await openEdit(page, 'Pattern of gaps');
    await expect.poll(() => reportNumber(page, 'columns')).toBe(9);
    await apply(page).click();
    await expect(history(page).getByRole('button', { name: 'Pattern of gaps' })).toHaveAttribute(
      'aria-current',
      'step',
    );
    await expect(poses(page)).toHaveAttribute('aria-label', new RegExp(`, ${last}, `));
  });
});

test('Night round: half a cycle becomes a walk, looped with its travel; arcs and ghosts show it', async ({
  page,
}) => {
  await takeDemo(page, 'Night round');
  await tryWholeWalk(page);
  await expect(
    edits(page).getByText('The shot now ends at frame 32, so that the new keys fit.'),
  ).toBeVisible();
  await apply(page).click();
  await touchControl(page, 'root');
  await goToFrame(page, 32);
  const travel = valueField(page, 'root tz');
  await expect.poll(async () => Number(await travel.inputValue())).toBeCloseTo(68, 1);
  await goToFrame(page, 24);
  await touchControl(page, 'foot_goal_r');
  const lifted = Number(await valueField(page, 'foot_goal_r ty').inputValue());
  await touchControl(page, 'foot_goal_l');
  await goToFrame(page, 8);
  expect(lifted).toBeCloseTo(Number(await valueField(page, 'foot_goal_l ty').inputValue()), 2);

  await openEdit(page, 'Loop');
  await edits(page).getByRole('spinbutton', { name: 'Times' }).fill('4');
  await expect.poll(() => reportNumber(page, 'plays')).toBe(128);
  await apply(page).click();
  await expect(page.getByText('of 0–127, 24/s')).toBeVisible();

  await page.getByRole('application', { name: 'Curves' }).focus();
  await page.keyboard.press('Shift+A');
  await expect(page.getByRole('button', { name: 'Arcs 1' })).toBeVisible();
  await page.getByRole('button', { name: 'Ghosts' }).click();
  await expect(page.getByRole('button', { name: 'Ghosts ±1' })).toBeVisible();
});

test('a key on an arc is dragged in space, and the curves follow', async ({ page }) => {
  await takeDemo(page, 'Night round');
  await page.getByRole('button', { name: 'Props' }).click();
  // Of several no handle lies over the bead.
  await page.getByRole('button', { name: 'Cameras' }).click({ modifiers: ['Shift'] });
  await page.getByText('Side', { exact: true }).click();
  await goToFrame(page, 8);
  await page.getByRole('application', { name: 'Curves' }).focus();
  await page.keyboard.press('Shift+A');
  const height = valueField(page, 'tray ty');
  const before = Number(await height.inputValue());
  // From the side the bead at the play-head lies on the tray.
  await dragWithin(page, page.getByRole('region', { name: 'Stage' }), [0.4267, 0.398], [0.4267, 0.32]);
  await expect(history(page).getByRole('button', { name: 'Drag the arc of tray' })).toHaveCount(1);
  expect(Number(await height.inputValue())).toBeGreaterThan(before + 5);
  await page.keyboard.press('Control+z');
  await expect.poll(async () => Number(await height.inputValue())).toBeCloseTo(before, 2);
});

test('Kneading loop: the seam is mended, the rhythm changed, time warped, there and back', async ({
  page,
}) => {
  await takeDemo(page, 'Kneading loop');
  await touchControl(page, 'hips');
  await openEdit(page, 'Loop');
  await edits(page).getByRole('spinbutton', { name: 'Times' }).fill('1');
  await expect.poll(() => reportNumber(page, 'widest seam, rotation')).toBeGreaterThan(1);
  await apply(page).click();
  await edits(page).getByRole('button', { name: 'Leave', exact: true }).click();
  const field = valueField(page, 'hips ry');
  await goToFrame(page, 0);
  const first = Number(await field.inputValue());
  await openEdit(page, 'Warp');
  const warp = page.getByRole('application', { name: 'Warp' });
  await dragWithin(page, warp, [0.5, 0.5], [0.5, 0.3]);
  await expect(warp).toHaveAttribute('data-points', /^0:0 \d+:\d+ 23:23$/);
  await expect(apply(page)).toBeEnabled();
  await apply(page).click();
  await expect(history(page).getByRole('button', { name: 'Warp' })).toHaveAttribute('aria-current', 'step');
  await edits(page).getByRole('button', { name: 'Leave', exact: true }).click();
  await openEdit(page, 'Reverse');
  await edits(page).getByText('There and back').click();
  await expect(apply(page)).toBeEnabled();
  await apply(page).click();
  await goToFrame(page, 46);
  await expect.poll(async () => Number(await field.inputValue())).toBeCloseTo(first, 1);
});

test('Characters: the flip test shows a wrong sign, and it is taken back', async ({ page }) => {
  await takeDemo(page, 'Night round');
  await expect(page.getByRole('status').filter({ hasText: /^Saved$/ })).toBeVisible();
  const id = page.url().split('/').pop()!;
  await page.goto(`/characters/${id}`);
  await page.getByRole('searchbox', { name: 'Find a control' }).fill('thigh_l');
  const row = page.locator('.ant-table-row').filter({ hasText: 'thigh_l' });
  await expect(row.getByText('true reflection', { exact: true })).toBeVisible();
  await row.getByRole('button', { name: 'from the rest pose' }).click();
  await expect(row.getByText('true reflection', { exact: true })).toBeVisible();
  await row.getByRole('button', { name: '−ry' }).click();
  await expect(row.getByText('no true reflection')).toBeVisible();
  // It is kept with the shot.
  await expect(page.getByRole('status').filter({ hasText: /^Saved$/ })).toBeVisible();
  await page.reload();
  await page.getByRole('searchbox', { name: 'Find a control' }).fill('thigh_l');
  await expect(row.getByText('no true reflection')).toBeVisible();
  await row.getByRole('button', { name: 'compute' }).click();
  await expect(row.getByText('true reflection', { exact: true })).toBeVisible();
});

test('Kneading loop: where the motion comes back is listed, looked at side by side, and looped', async ({
  page,
}) => {
  await takeDemo(page, 'Kneading loop');
  await openEdit(page, 'Loop');
  await edits(page).getByRole('button', { name: 'Find loop points' }).click();
  const found = edits(page).getByRole('list', { name: 'Found loop points' }).getByRole('button');
  await expect(found.first()).toHaveText(/^0 to 24\s*24 frames\s*\d+ mm, \d+\.\d°$/);
  await found.first().click();
  await expect(found.first()).toHaveAttribute('aria-pressed', 'true');
  await expect(edits(page).getByRole('img', { name: 'The pose on frame 24' })).toBeVisible();
  await applyOpen(page);
  await expect(history(page).getByRole('listitem').last()).toContainText('Loop');
  // Of the shot that it became other ones are found; those of before are no longer shown.
  await expect(found).toHaveCount(0);
  await edits(page).getByRole('button', { name: 'Find loop points' }).click();
  await expect(found.first()).toHaveText(/^\d+ to \d+\s*\d+ frames\s*[\d.]+ mm, /);
});
