/** Passes, variants and live filters without a pointer, to the file that an independent reader opens. */
import type { Page } from '@playwright/test';
import { apply, chooseControl, exportByKeys, find, goTo, press, tabTo, takeDemo } from './hands-on-keys.ts';
import { animated, edits, expect, history, lanes, reportNumber, test, valueField } from './helpers.ts';

const curves = (page: Page) => page.getByRole('application', { name: 'Curves' });
const rows = (page: Page) => page.locator('.pass-name').allInnerTexts();
const shownValue = async (page: Page, label: string) => Number(await valueField(page, label).inputValue());
test('Dough toss: a pass pushed and dialled back, its weight as a curve, a replace pass, variants, a merge', async ({
  page,
}) => {
  await takeDemo(page, 'Dough toss (captured)');
  await chooseControl(page, 'upperarm_r');
  await goTo(page, 60);
  const before = await shownValue(page, 'upperarm_r rz');
  await find(page, 'Add offset pass');
  await apply(page, 'Add offset pass');
  await tabTo(page, valueField(page, 'upperarm_r rz'), 140);
  await page.keyboard.press('Control+a');
  await page.keyboard.type(String(before - 40));
  await page.keyboard.press('Enter');
  await tabTo(page, page.getByRole('spinbutton', { name: 'Weight of Offset 1' }), 140);
  await page.keyboard.press('Control+a');
  await page.keyboard.type('70');
  await page.keyboard.press('Enter');
  await expect.poll(() => shownValue(page, 'upperarm_r rz')).toBeCloseTo(before - 28, 0);

  await find(page, 'Set weight');
  await press(page, 'As a curve');
  await expect(lanes(page).getByText('the weight of Offset 1')).toBeVisible();
  await tabTo(page, curves(page), 140);
  await goTo(page, 120);
  await page.keyboard.press('n');
  await page.keyboard.press('Control+a');
  await expect(page.getByRole('status', { name: 'Chosen' })).toContainText('its weight');

  await press(page, /^Offset 1$/);
  await chooseControl(page, 'head');
  await goTo(page, 30);
  await find(page, 'Add replace pass');
  await apply(page, 'Add replace pass');
  await expect.poll(() => rows(page)).toEqual(['Replace 1', 'Offset 1']);
  await page.keyboard.press('Escape');
  for (const mute of [null, 'Mute Replace 1']) {
    if (mute) await press(page, mute);
    await press(page, /^Variant$/);
  }
  const first = page.getByRole('group', { name: 'Variants' }).getByRole('button', { name: 'Variant A' });
  await page.keyboard.press('v');
  await expect(first).toHaveAttribute('aria-pressed', 'true');

  await find(page, 'Merge passes');
  await expect.poll(() => reportNumber(page, 'greatest distance between frames')).toBeLessThanOrEqual(1);
  await tabTo(page, curves(page), 140);
  await apply(page, 'Merge passes');
  await expect.poll(() => rows(page)).toHaveLength(1);
  const turns = animated(await exportByKeys(page), 'upperarm_r', 'rotation');
  expect(turns.length).toBeGreaterThan(100);
});

test('Kneading loop: filters on tassel, strings, belly and wrist, one strength as a curve, all of it gone again', async ({
  page,
}) => {
  await takeDemo(page, 'Kneading loop');
  const lay = async (control: string, kind: string, row: string, ...ticks: string[]) => {
    await chooseControl(page, control);
    await find(page, 'Add filter');
    const radio = edits(page).getByRole('radio', { name: kind });
    await tabTo(page, edits(page).getByRole('radio').first(), 140).catch(() => undefined);
    await radio.focus();
    await page.keyboard.press('Enter');
    await expect(radio).toBeChecked();
    for (const tick of ticks) {
      await tabTo(page, edits(page).getByRole('checkbox', { name: tick }), 140);
      await page.keyboard.press('Space');
    }
    await tabTo(page, curves(page), 140);
    await page.keyboard.press('Enter');
    await expect.poll(() => rows(page)).toContainEqual(expect.stringContaining(row));
    await page.keyboard.press('Escape');
  };
  await chooseControl(page, 'tassel_1');
  await goTo(page, 9);
  const before = await shownValue(page, 'tassel_1 rx');
  await lay('tassel_1', 'Spring', 'Spring 1', 'Loop-aware');
  await lay('string_1_l', 'Shift', 'Shift 1');
  await lay('belly', 'Wobble', 'Wobble 1', 'Channels without keys too');
  await lay('hand_goal_l', 'Smooth', 'Smooth 1');
  await chooseControl(page, 'tassel_1');
  await expect.poll(() => shownValue(page, 'tassel_1 rx')).not.toBe(before);

  await test.step('the strength of one as a curve, keyed', async () => {
    await press(page, /Spring 1$/);
    await press(page, 'Strength as a curve');
    await expect(curves(page)).toHaveAttribute('data-curves', '1');
    await goTo(page, 12);
    await page.keyboard.press('n');
    await expect(history(page).getByRole('button', { name: 'Add keys' })).toHaveCount(1);
    await page.keyboard.press('Control+a');
    await expect(page.getByRole('status', { name: 'Chosen' })).toContainText('2 keys');
  });

  await test.step('what shows is in the file; removed one by one they leave what was there', async () => {
    expect(animated(await exportByKeys(page), 'tassel_1', 'rotation').length).toBeGreaterThan(20);
    for (let left = 3; left >= 0; left -= 1) {
      const row = page.locator('.pass-name').first();
      const name = (await row.innerText()).trim();
      // What is seldom done shows in the row that has the focus.
      await tabTo(page, row, 140);
      await press(page, `Remove ${name}`);
      await expect(page.locator('.pass-name')).toHaveCount(left);
    }
    await chooseControl(page, 'tassel_1');
    await goTo(page, 9);
    expect(await shownValue(page, 'tassel_1 rx')).toBe(before);
  });
});
