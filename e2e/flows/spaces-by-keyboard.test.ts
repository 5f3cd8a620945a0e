/** Spaces without a pointer: switched, a switch moved, a parent laid over, a limb matched, held in the camera, baked, and the file read. */
import type { Page } from '@playwright/test';
import {
  apply,
  choose,
  chooseControl,
  exportByKeys,
  find,
  goTo,
  press,
  tabTo,
  takeDemo,
} from './hands-on-keys.ts';
import { animated, edits, expect, history, reportNumber, test, valueField } from './helpers.ts';

const curves = (page: Page) => page.getByRole('application', { name: 'Curves' });
const track = (page: Page) => page.getByRole('img', { name: /^What tray follows/ });

async function mark(page: Page, from: number, to: number): Promise<void> {
  for (const frame of [from, to]) {
    await goTo(page, frame);
    await page.keyboard.press('r');
  }
}
async function chooseProps(page: Page): Promise<void> {
  await tabTo(
    page,
    page.getByRole('group', { name: 'Body parts' }).getByRole('button', { name: 'Props' }),
    200,
  );
  await page.keyboard.press('Enter');
}
const home = (page: Page) => tabTo(page, curves(page), 200);
async function type(page: Page, field: string, value: number): Promise<void> {
  await tabTo(page, valueField(page, field), 200);
  await page.keyboard.press('Control+a');
  await page.keyboard.type(String(value));
  await page.keyboard.press('Enter');
}

test('Oven door', async ({ page }) => {
  await takeDemo(page, 'Oven door');
  await test.step('switched twice; the second moved two frames later', async () => {
    await chooseProps(page);
    for (const [frame, to] of [
      [34, 'hand_r'],
      [71, 'shelf'],
    ] as const) {
      await goTo(page, frame);
      await choose(page, 'What tray follows from here', to);
      await expect(track(page)).toHaveAttribute('aria-label', new RegExp(`${to} from ${frame}`));
    }
    await goTo(page, 73);
    await find(page, 'Move switch');
    await home(page);
    await apply(page, 'Move switch');
    await expect(track(page)).toHaveAttribute('aria-label', /shelf from 73/);
  });

  await test.step('a parent above a goal, turned by 8°, dissolved', async () => {
    await chooseControl(page, 'hand_goal_l');
    await find(page, 'Add parent control');
    await tabTo(page, edits(page).getByRole('textbox', { name: 'Name', exact: true }), 200);
    await page.keyboard.type('lift');
    await home(page);
    await apply(page, 'Add parent control');
    await page.keyboard.press('Escape');
    await expect(valueField(page, 'lift rz')).toBeVisible();
    await goTo(page, 40);
    await type(page, 'lift rz', 0);
    await goTo(page, 60);
    await type(page, 'lift rz', 8);
    await find(page, 'Dissolve parent control');
    await expect.poll(() => reportNumber(page, 'greatest distance between frames')).toBeLessThanOrEqual(1);
    await home(page);
    await apply(page, 'Dissolve parent control');
    await page.keyboard.press('Escape');
  });

  await test.step('the right arm over to its joints and back', async () => {
    await chooseControl(page, 'hand_goal_r');
    await mark(page, 40, 60);
    await find(page, 'Match limb');
    await choose(page, 'To', 'joints');
    await expect.poll(() => reportNumber(page, 'greatest distance on frames')).toBeLessThanOrEqual(1);
    await home(page);
    await apply(page, 'Match limb');
    await expect(history(page).getByRole('button', { name: 'Match limb' })).toHaveCount(1);
    await choose(page, 'To', 'goal');
    await home(page);
    await page.keyboard.press('Enter');
    await expect(history(page).getByRole('button', { name: 'Match limb' })).toHaveCount(2);
    await page.keyboard.press('Escape');
  });

  await test.step('baked: plain keys, and the file has them', async () => {
    await chooseProps(page);
    await goTo(page, 10);
    await page.keyboard.press('r');
    await page.keyboard.press('r');
    await find(page, 'Bake to keys');
    await expect.poll(() => reportNumber(page, 'greatest distance on frames')).toBeLessThanOrEqual(1);
    await home(page);
    await apply(page, 'Bake to keys');
    await expect(track(page)).toBeHidden();
    expect(animated(await exportByKeys(page), 'tray', 'translation').length).toBeGreaterThan(10);
  });
  await press(page, 'Undo');
  await expect(track(page)).toBeVisible();
});

test('Oven door: on twos, and steady in the camera from 20 to 60', async ({ page }) => {
  await takeDemo(page, 'Oven door');
  await tabTo(
    page,
    page.getByRole('group', { name: 'Body parts' }).getByRole('button', { name: 'Everything' }),
    200,
  );
  await page.keyboard.press('Enter');
  await find(page, 'Add filter');
  const step = edits(page).getByRole('radio', { name: 'Step' });
  await tabTo(page, step, 200);
  await page.keyboard.press('Enter');
  await expect(step).toBeChecked();
  // With all controls chosen their fields are hundreds of stops: the button is nearer than the curves.
  await press(page, 'Apply');
  await expect(page.locator('.pass-name')).toHaveText([/Step 1/]);
  await page.keyboard.press('Escape');
  // Ten frames at a time.
  for (const steps of [2, 4]) {
    for (let k = 0; k < steps; k += 1) await page.keyboard.press('Shift+ArrowRight');
    await page.keyboard.press('r');
  }
  await find(page, 'Steady in the camera');
  await expect(edits(page).getByRole('status', { name: 'Report' })).toContainText(
    /Held in the picture of camera/,
  );
  await apply(page, 'Steady in the camera');
});
