/** Each task of Help's how-to without a pointer: Tab, arrows and the strokes of the table alone. */
import { apply, chooseControl, find, tabTo, takeDemo } from './hands-on-keys.ts';
import { edits, expect, history, lanes, test, valueField } from './helpers.ts';

test('captured curves: unwrapped, thinned to a typed tolerance, given tangents', async ({ page }) => {
  await takeDemo(page, 'Dough toss (captured)');
  await chooseControl(page, 'chest');
  await find(page, 'Unwrap angles');
  await find(page, 'Thin');
  await tabTo(page, edits(page).getByRole('spinbutton', { name: 'Rotation in °' }));
  await page.keyboard.press('Control+a');
  await page.keyboard.type('1.5');
  await page.keyboard.press('Enter');
  await apply(page, 'Thin');
  await page.keyboard.press('Control+a');
  await page.keyboard.press('w');
  await expect(history(page).getByRole('button').last()).toContainText(/angents/);
});

test('blocking: columns completed, stepped to spline', async ({ page }) => {
  await takeDemo(page, 'First tray');
  await find(page, 'Complete the columns');
  await apply(page, 'Complete the columns');
  await find(page, 'Stepped to spline');
  await apply(page, 'Stepped to spline');
});

test('retiming: a gap changed at the pose, a pattern over all', async ({ page }) => {
  await takeDemo(page, 'First tray');
  await page.keyboard.press('Shift+PageDown');
  const at = Number(await page.getByRole('slider', { name: 'Play-head' }).getAttribute('aria-valuenow'));
  expect(at).toBeGreaterThan(0);
  const poses = lanes(page).getByRole('group', { name: /^Poses at/ });
  const before = await poses.getAttribute('aria-label');
  await page.keyboard.press('+');
  await expect(poses).not.toHaveAttribute('aria-label', before!);
  await find(page, 'Pattern of gaps');
  await apply(page, 'Pattern of gaps');
});

test('half a walk: flipped and placed after, looped', async ({ page }) => {
  await takeDemo(page, 'Night round');
  await find(page, 'Flip a range');
  await tabTo(page, edits(page).getByRole('checkbox', { name: 'Place it after' }));
  await page.keyboard.press('Space');
  for (const name of ['Hands take part', 'Props take part']) {
    await tabTo(page, edits(page).getByRole('checkbox', { name }));
    await page.keyboard.press('Space');
  }
  await apply(page, 'Flip a range');
  await find(page, 'Loop');
  await apply(page, 'Loop');
});

test('a change over dense keys: an offset pass, a typed value, its weight', async ({ page }) => {
  await takeDemo(page, 'Dough toss (captured)');
  await chooseControl(page, 'chest');
  await find(page, 'Add offset pass');
  await apply(page, 'Add offset pass');
  const field = valueField(page, 'chest rz');
  await tabTo(page, field);
  await page.keyboard.press('Control+a');
  await page.keyboard.type('14');
  await page.keyboard.press('Enter');
  await expect(field).toHaveValue('14.0');
  const weight = page.getByRole('spinbutton', { name: /^Weight of/ });
  await tabTo(page, weight);
  await page.keyboard.press('ArrowDown');
  await expect(weight).toHaveAttribute('aria-valuenow', '99');
});

test('a flip that looks wrong: found on Characters', async ({ page }) => {
  await takeDemo(page, 'Night round');
  await page.goto('/characters');
  await tabTo(page, page.getByRole('combobox', { name: 'Shot' }));
  await page.keyboard.press('ArrowDown');
  await expect(page.getByRole('option').first()).toBeAttached();
  await page.keyboard.press('Enter');
  const head = page.getByRole('columnheader', { name: /Flip test/ });
  await tabTo(page, head);
  await page.keyboard.press('Enter');
  await expect(head).toHaveAttribute('aria-sort', /ascending|descending/);
});
