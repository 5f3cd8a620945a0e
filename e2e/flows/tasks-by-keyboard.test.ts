/** Each task of Help's how-to without a pointer: Tab, arrows and the strokes of the table alone. */
import type { Locator, Page } from '@playwright/test';
import { edits, expect, history, lanes, test, valueField } from './helpers.ts';

/** Presses Tab until the focus is there. */
async function tabTo(page: Page, target: Locator, most = 90): Promise<void> {
  await expect(target).toBeVisible();
  for (let i = 0; i < most; i += 1) {
    if (await target.evaluate((element) => element === document.activeElement)) return;
    await page.keyboard.press('Tab');
  }
  await expect(target).toBeFocused();
}

async function takeDemo(page: Page, name: string): Promise<void> {
  await page.goto('/');
  const take = page
    .getByRole('article', { name: `Demo: ${name}` })
    .getByRole('button', { name: 'Take a copy' });
  await tabTo(page, take);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('application', { name: 'Curves' })).toBeVisible();
}

/** Goes to a control on the figure with the arrows, toward it along the longer way, and chooses it. */
async function chooseControl(page: Page, name: string): Promise<void> {
  const figure = page.getByRole('listbox', { name: 'Controls' });
  await tabTo(page, figure);
  const placeOf = async (id: string) => {
    const spot = page.locator(`[id="${id}"] circle`).first();
    return [Number(await spot.getAttribute('cx')), Number(await spot.getAttribute('cy'))] as const;
  };
  const goal = await placeOf(`spot-${name}`);
  const been = new Map<string, number>();
  for (let i = 0; i < 60; i += 1) {
    const at = (await figure.getAttribute('aria-activedescendant'))!;
    if (at === `spot-${name}`) break;
    const [x, y] = await placeOf(at);
    const across = goal[0] > x ? 'ArrowRight' : 'ArrowLeft';
    const along = goal[1] > y ? 'ArrowDown' : 'ArrowUp';
    // Where the straight way led round in a circle the other one is tried.
    const times = been.get(at) ?? 0;
    been.set(at, times + 1);
    const straight = Math.abs(goal[0] - x) > Math.abs(goal[1] - y);
    await page.keyboard.press(straight === (times % 2 === 0) ? across : along);
  }
  await page.keyboard.press('Enter');
  await expect(page.locator(`[id="spot-${name}"]`)).toHaveAttribute('aria-selected', 'true');
}

/** Finds an edit by words; it is open afterwards. */
async function find(page: Page, title: string): Promise<void> {
  await page.keyboard.press('/');
  await page.keyboard.type(title);
  await page.keyboard.press('Enter');
  await expect(page.locator('.edit.open > .edit-title')).toHaveText(title);
}

async function apply(page: Page, title: string): Promise<void> {
  await expect(edits(page).getByRole('button', { name: 'Apply', exact: true })).toBeEnabled();
  await page.keyboard.press('Enter');
  await expect(history(page).getByRole('button', { name: title })).toHaveAttribute('aria-current', 'step');
}

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
