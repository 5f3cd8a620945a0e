/** Curves by hand: a hop pasted twice that carries on, a loop whose source is edited, a sign flip, rescaling, smoothing. */
import {
  dragWithin,
  edits,
  expect,
  goToFrame,
  history,
  openEdit,
  reportNumber,
  takeDemo,
  test,
  valueField,
} from './helpers.ts';

test('a captured arm is unwrapped, smoothed and resampled', async ({ page }) => {
  await takeDemo(page, 'Dough toss (captured)');
  await page.getByRole('button', { name: 'Right arm' }).click();
  await openEdit(page, 'Unwrap angles');
  await expect.poll(() => reportNumber(page, 'steps taken out')).toBe(1);
  await edits(page).getByRole('button', { name: 'Apply', exact: true }).click();
  await openEdit(page, 'Smooth');
  await expect.poll(() => reportNumber(page, 'keys changed')).toBeGreaterThan(1000);
  await edits(page).getByRole('button', { name: 'Apply', exact: true }).click();
  await expect(history(page).getByRole('button', { name: 'Smooth' })).toHaveAttribute('aria-current', 'step');
});

test('a loop: its source keys are edited, its repeats follow; a range is copied and carries on', async ({
  page,
}) => {
  await takeDemo(page, 'Night round');
  await page.getByRole('button', { name: 'hips', exact: true }).click();
  await test.step('the curves repeat past their last key', async () => {
    await openEdit(page, 'Lead-in and lead-out');
    await edits(page).getByRole('combobox', { name: 'Kind' }).click();
    await page.getByTitle('loop and carry', { exact: true }).click();
    await expect.poll(() => reportNumber(page, 'curves set')).toBeGreaterThan(2);
    await edits(page).getByRole('button', { name: 'Apply', exact: true }).click();
    await expect(history(page).getByRole('button', { name: 'Lead-in and lead-out' })).toHaveCount(1);
  });
  await test.step('a source key moves, and its repeat past the last key with it', async () => {
    await page.locator('.channel-name[title="hips.ty"]').click();
    const curves = page.getByRole('application', { name: 'Curves' });
    /** What the curve is on frame 17, a frame past its last key: frame 1 of the next turn. */
    const repeated = async () => {
      const box = (await curves.boundingBox())!;
      const [from, to] = (await curves.getAttribute('data-view'))!.split(' ').map(Number) as [number, number];
      await page.mouse.move(box.x + ((17 - from) / (to - from)) * box.width, box.y + box.height / 2);
      const text = await curves.locator('.readout').innerText();
      expect(text).toContain('frame 17');
      return Number(/, (-?[\d.]+) cm/.exec(text)![1]);
    };
    const before = await repeated();
    await goToFrame(page, 0);
    const field = valueField(page, 'hips ty');
    const last = Number(await field.inputValue());
    await field.click();
    await page.keyboard.type(String(last + 6));
    await page.keyboard.press('Enter');
    await expect(field).toHaveValue((last + 6).toFixed(2));
    // Turn two begins where turn one ended, so that raising the first key lowers what follows the last.
    expect(await repeated()).toBeLessThan(before - 0.1);
    await page.getByRole('button', { name: 'hips', exact: true }).click();
  });
  await test.step('a range copied with Ctrl C lands at the play-head with Ctrl V', async () => {
    await dragWithin(page, page.getByRole('slider', { name: 'Play-head' }), [0.05, 0.5], [0.5, 0.5], 'Shift');
    await page.getByRole('application', { name: 'Curves' }).focus();
    await page.keyboard.press('Control+c');
    await expect(page.getByText(/Copied keys of \d+ channels\./)).toBeVisible();
    await goToFrame(page, 16);
    await page.keyboard.press('Control+v');
    await expect(history(page).getByRole('button', { name: 'Paste keys' })).toHaveCount(1);
    await page.keyboard.press('Control+z');
    await openEdit(page, 'Paste keys');
    await edits(page).getByRole('combobox', { name: 'Values' }).click();
    await page.getByTitle('carry on', { exact: true }).click();
    await expect.poll(() => reportNumber(page, 'keys laid')).toBeGreaterThan(4);
    await edits(page).getByRole('button', { name: 'Apply', exact: true }).click();
    await expect(history(page).getByRole('button', { name: 'Paste keys' })).toHaveAttribute(
      'aria-current',
      'step',
    );
  });
});

test('the transform box flips a sign; a character is rescaled; foreign text on the clipboard does no harm', async ({
  page,
  context,
}) => {
  await takeDemo(page, 'Night round');
  await page.getByRole('button', { name: 'chest', exact: true }).click();
  await goToFrame(page, 8);
  const field = valueField(page, 'chest ry');
  const before = Number(await field.inputValue());
  await openEdit(page, 'Transform box');
  await edits(page).getByRole('spinbutton', { name: 'Scale value' }).fill('-1');
  await edits(page).getByRole('combobox', { name: 'Pivot in value' }).click();
  await page.getByTitle('zero', { exact: true }).click();
  await edits(page).getByRole('button', { name: 'Apply', exact: true }).click();
  await expect.poll(async () => Number(await field.inputValue())).toBeCloseTo(-before, 0);
  await openEdit(page, 'Rescale a character');
  await edits(page).getByRole('spinbutton', { name: 'Factor' }).fill('5');
  await expect.poll(() => reportNumber(page, 'controls')).toBeGreaterThan(50);
  await edits(page).getByRole('button', { name: 'Apply', exact: true }).click();
  await expect(history(page).getByRole('button', { name: 'Rescale a character' })).toHaveAttribute(
    'aria-current',
    'step',
  );
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await page.evaluate(() => navigator.clipboard.writeText('a note'));
  await page.getByRole('application', { name: 'Curves' }).focus();
  await page.keyboard.press('Control+v');
  await expect(page.getByText('The clipboard holds other text')).toBeVisible();
});
