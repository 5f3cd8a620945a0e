/** Ways over the bench without a pointer: Tab, arrows and the strokes of the table alone. */
import type { Locator, Page } from '@playwright/test';
import { edits, expect, exportedGlb, history } from './helpers.ts';

/** Presses Tab until the focus is there. */
export async function tabTo(page: Page, target: Locator, most = 90): Promise<void> {
  await expect(target).toBeVisible();
  // Found by its role once: asking for that at every stop would take most of the way's time.
  let found = await target.elementHandle();
  for (let i = 0; i < most; i += 1) {
    const at = await found.evaluate((element) =>
      !element.isConnected ? 'gone' : element === document.activeElement ? 'here' : 'elsewhere',
    );
    if (at === 'here') return;
    if (at === 'gone') found = await target.elementHandle();
    else await page.keyboard.press('Tab');
  }
  await expect(target).toBeFocused();
}

export async function takeDemo(page: Page, name: string): Promise<void> {
  await page.goto('/');
  const take = page
    .getByRole('article', { name: `Demo: ${name}` })
    .getByRole('button', { name: 'Take a copy' });
  await tabTo(page, take);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('application', { name: 'Curves' })).toBeVisible();
}

/** Goes to a control on the figure with the arrows, toward it along the longer way, and chooses it. */
export async function chooseControl(page: Page, name: string): Promise<void> {
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
export async function find(page: Page, title: string): Promise<void> {
  await page.keyboard.press('/');
  await page.keyboard.type(title);
  await page.keyboard.press('Enter');
  await expect(page.locator('.edit.open > .edit-title')).toHaveText(title);
}

export async function apply(page: Page, title: string): Promise<void> {
  await expect(edits(page).getByRole('button', { name: 'Apply', exact: true })).toBeEnabled();
  await page.keyboard.press('Enter');
  await expect(history(page).getByRole('button', { name: title })).toHaveAttribute('aria-current', 'step');
}

export async function goTo(page: Page, frame: number): Promise<void> {
  await tabTo(page, page.getByRole('spinbutton', { name: 'Frame', exact: true }), 200);
  await page.keyboard.press('Control+a');
  await page.keyboard.type(String(frame));
  await page.keyboard.press('Enter');
}
export async function press(page: Page, name: string | RegExp): Promise<void> {
  await tabTo(page, page.getByRole('button', { name }).first(), 200);
  await page.keyboard.press('Enter');
}
/** Goes down an open menu, which moves its focus a picture after the key: as an animator would, one key after the other has been seen. */
export async function takeFromMenu(page: Page, name: RegExp): Promise<void> {
  const line = page.getByRole('menuitem', { name });
  await expect(line).toBeVisible();
  await expect(async () => {
    if (!(await line.evaluate((item) => item === document.activeElement)))
      await page.keyboard.press('ArrowDown');
    await expect(line).toBeFocused({ timeout: 500 });
  }).toPass();
  await page.keyboard.press('Enter');
}
/** The exported file, asked for from the keyboard. */
export const exportByKeys = (page: Page) =>
  exportedGlb(page, async () => {
    await press(page, 'Export');
    await takeFromMenu(page, /glTF/);
  });

/** Opens a list that is reached with Tab, and goes down to one of its lines. */
export async function choose(page: Page, list: string, title: string): Promise<void> {
  await tabTo(page, page.getByRole('combobox', { name: list, exact: true }), 200);
  await page.keyboard.press('ArrowDown');
  const line = page.locator('.ant-select-dropdown:visible').getByTitle(title, { exact: true });
  await expect(line).toBeVisible();
  const active = /ant-select-item-option-active/;
  await expect(async () => {
    if (!active.test((await line.getAttribute('class')) ?? '')) await page.keyboard.press('ArrowDown');
    await expect(line).toHaveClass(active, { timeout: 500 });
  }).toPass();
  await page.keyboard.press('Enter');
}
