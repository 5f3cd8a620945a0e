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
  touchControl,
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
  await touchControl(page, 'hips');
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
    await touchControl(page, 'hips');
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

test('a forward hop is copied and pasted twice so that it carries on', async ({ page }) => {
  await takeDemo(page, 'Night round');
  await touchControl(page, 'root');
  await goToFrame(page, 16);
  const travel = valueField(page, 'root tz');
  const step = Number(await travel.inputValue());
  await page.getByRole('button', { name: 'Everything', exact: true }).click();
  await dragWithin(page, page.getByRole('slider', { name: 'Play-head' }), [0.02, 0.5], [0.99, 0.5], 'Shift');
  await page.getByRole('application', { name: 'Curves' }).focus();
  await page.keyboard.press('Control+c');
  await openEdit(page, 'Paste keys');
  for (const landing of [16, 32]) {
    await goToFrame(page, landing);
    await openEdit(page, 'Paste keys');
    await edits(page).getByRole('combobox', { name: 'Values' }).click();
    await page.locator('.ant-select-dropdown:visible').getByTitle('carry on', { exact: true }).click();
    const carries = edits(page).getByRole('group', { name: 'Channels that carry on' });
    // What the outcome will be shows before it is applied, channel by channel.
    await expect(carries.getByRole('checkbox', { name: /root tz/ })).toBeChecked();
    await edits(page).getByRole('button', { name: 'Apply', exact: true }).click();
    await expect(history(page).getByRole('button', { name: 'Paste keys' })).toHaveCount(landing / 16);
    await edits(page).getByRole('button', { name: 'Leave', exact: true }).click();
  }
  await touchControl(page, 'root');
  await goToFrame(page, 48);
  await expect.poll(async () => Number(await travel.inputValue())).toBeCloseTo(3 * step, 1);
});

test('a curve is flipped by hand with the box, in its own measure; curves are filtered, hidden, isolated and locked', async ({
  page,
}) => {
  await takeDemo(page, 'Night round');
  await touchControl(page, 'chest');
  await page.locator('.channel-name[title="chest.ry"]').click();
  const curves = page.getByRole('application', { name: 'Curves' });
  await goToFrame(page, 0);
  const field = valueField(page, 'chest ry');
  const before = Number(await field.inputValue());
  await dragWithin(page, curves, [0.01, 0.01], [0.97, 0.98]);
  await curves.focus();
  await page.keyboard.press('x');
  await page.keyboard.press('m');
  await page.keyboard.press('o');
  const box = (await curves.getAttribute('data-box'))!.split(' ').map(Number) as [
    number,
    number,
    number,
    number,
  ];
  const lane = (await curves.boundingBox())!;
  const [x, top, height] = [lane.x + (box[0] + box[1]) / 2, lane.y + box[2] - 10, box[3] - box[2]];
  await page.mouse.move(x, top);
  await page.mouse.down();
  // The upper edge goes through the middle to where the lower one was: Alt holds the middle.
  await page.keyboard.down('Alt');
  await page.mouse.move(x, top + height, { steps: 8 });
  await page.mouse.up();
  await page.keyboard.up('Alt');
  await expect(history(page).getByRole('button', { name: 'Transform box' })).toHaveAttribute(
    'aria-current',
    'step',
  );
  expect(Number(await field.inputValue())).toBeCloseTo(-before, 0);

  await page.locator('.channel-name[title="chest.ry"]').click();
  await page.getByRole('textbox', { name: 'Filter channels' }).fill('rot');
  await expect(page.getByRole('list', { name: 'Channels' }).getByRole('listitem')).toHaveCount(3);
  await expect(curves).toHaveAttribute('data-curves', '2');
  await page.getByRole('list', { name: 'Channels' }).getByText('rx', { exact: true }).hover();
  await page.getByRole('button', { name: 'Hide the curve chest rx' }).click();
  await expect(curves).toHaveAttribute('data-curves', '1');
  await page.getByRole('button', { name: '1 hidden' }).click();
  await expect(curves).toHaveAttribute('data-curves', '2');
  await page.getByRole('button', { name: 'Lock chest rx' }).click();
  await openEdit(page, 'Smooth');
  await expect(edits(page).getByText(/1 locked channel was left/)).toBeVisible();
  await page.getByRole('textbox', { name: 'Filter channels' }).fill('');
  await curves.focus();
  await page.keyboard.press('c');
  await expect.poll(async () => Number(await curves.getAttribute('data-curves'))).toBeGreaterThan(40);
});

test('tangents are copied from one key to others; a captured arm is thinned within millimetres', async ({
  page,
}) => {
  await takeDemo(page, 'Dough toss (captured)');
  await page.getByRole('button', { name: 'Right arm' }).click();
  await openEdit(page, 'Thin');
  await edits(page).getByText('In space', { exact: true }).click();
  await edits(page).getByRole('spinbutton', { name: 'Joints in mm' }).fill('8');
  await expect
    .poll(() => reportNumber(page, 'greatest drift in space'), { timeout: 60_000 })
    .toBeLessThanOrEqual(8);
  expect(await reportNumber(page, 'keys')).toBeLessThan(4000);
  await edits(page).getByRole('button', { name: 'Apply', exact: true }).click();
  await page.locator('.channel-name[title="upperarm_r.rz"]').click();
  const curves = page.getByRole('application', { name: 'Curves' });
  await dragWithin(page, curves, [0.02, 0.02], [0.98, 0.98]);
  await curves.focus();
  await page.keyboard.press('e');
  await page.keyboard.press('t');
  await page.keyboard.press('a');
  await page.keyboard.press('Shift+T');
  await expect(history(page).getByRole('button', { name: 'Set tangents' })).toHaveCount(3);
});

test('the transform box flips a sign; a character is rescaled; foreign text on the clipboard does no harm', async ({
  page,
  context,
}) => {
  await takeDemo(page, 'Night round');
  await touchControl(page, 'chest');
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
