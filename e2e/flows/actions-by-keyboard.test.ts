/** Actions, recording and routines of Help's how-to without a pointer. */
import type { Page } from '@playwright/test';
import {
  apply,
  choose,
  chooseControl,
  find,
  goTo,
  press,
  tabTo,
  takeDemo,
  takeFromMenu,
} from './hands-on-keys.ts';
import { edits, expect, history, lanes, test } from './helpers.ts';

async function layOutShelf(page: Page): Promise<void> {
  await page.goto('/pantry');
  await press(page, 'Lay out the shelf');
  await expect(page.getByRole('article')).toHaveCount(6);
}
const row = (page: Page, name: string) => edits(page).getByRole('listitem', { name, exact: true });
const step = (page: Page, name: string) => history(page).getByRole('button', { name });

async function pressIn(page: Page, name: string, button: RegExp | string): Promise<void> {
  await tabTo(page, row(page, name).getByRole('button', { name: button }), 140);
  await page.keyboard.press('Enter');
}

test('a saved action is laid as a block, moved, stretched, and turned to keys', async ({ page }) => {
  await layOutShelf(page);
  await takeDemo(page, 'Kneading loop');
  await goTo(page, 3);
  await find(page, 'Apply action');
  await choose(page, 'It is laid', 'as a block');
  await pressIn(page, 'Nod', /^Place at/);
  const block = lanes(page).getByRole('button', { name: /^Nod, frames/ });
  await expect(block).toHaveAttribute('aria-label', /frames 3 to 23/);
  await tabTo(page, block, 200);
  await page.keyboard.press('ArrowRight');
  await expect(block).toHaveAttribute('aria-label', /frames 4 to 24/);
  await tabTo(page, block, 200);
  await page.keyboard.press('Enter');
  await tabTo(page, edits(page).getByRole('spinbutton', { name: 'As long' }), 200);
  await page.keyboard.press('Control+a');
  await page.keyboard.type('1.5');
  await page.keyboard.press('Enter');
  await expect(block).toHaveAttribute('aria-label', /frames 4 to 34/);
  await press(page, 'Turn to keys');
  await expect(step(page, 'Turn placement to keys')).toHaveAttribute('aria-current', 'step');
  await expect(block).toHaveCount(0);
});

test('an action is laid on another character, and kept as its own', async ({ page }) => {
  await layOutShelf(page);
  await takeDemo(page, 'Oven door');
  await find(page, 'Apply action');
  await choose(page, 'Onto', 'Nib');
  await choose(page, 'Match', 'by name, then by structure');
  await pressIn(page, 'Nod', /^What fits/);
  await expect(page.getByRole('dialog')).toContainText('skull');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await pressIn(page, 'Nod', /^Lay at/);
  await expect(step(page, 'Apply action')).toHaveAttribute('aria-current', 'step');
  await pressIn(page, 'Nod', /^More of/);
  await takeFromMenu(page, /figure’s own/);
  await expect(page.getByText('Kept as “Nod on Nib”.')).toBeVisible();
});

test('a take is recorded from the feed, thinned and saved', async ({ page }) => {
  await takeDemo(page, 'Dough toss (captured)');
  await chooseControl(page, 'head');
  for (const frame of [10, 34]) {
    await goTo(page, frame);
    await page.keyboard.press('r');
  }
  await find(page, 'Record');
  await choose(page, 'From', 'capture feed');
  await tabTo(page, edits(page).getByRole('checkbox', { name: 'Only what is selected' }));
  await page.keyboard.press('Space');
  await press(page, 'Start');
  await expect(step(page, 'Record')).toHaveAttribute('aria-current', 'step', { timeout: 15_000 });
  await expect(edits(page)).toContainText('The pass counts from 10 to 34');
  await find(page, 'Thin');
  await apply(page, 'Thin');
  await find(page, 'Save as action');
  await tabTo(page, edits(page).getByRole('textbox', { name: 'Name', exact: true }), 140);
  await page.keyboard.type('Mutter');
  await press(page, 'Save to the pantry');
  await expect(edits(page)).toContainText('Saved to the pantry.');
});

test('the same is done to two shots: saved as a routine, run on both', async ({ page }) => {
  await takeDemo(page, 'Night round');
  await takeDemo(page, 'Kneading loop');
  await find(page, 'Reverse');
  await apply(page, 'Reverse');
  await press(page, /^Save as routine/);
  await page.keyboard.type('Backwards');
  await page.keyboard.press('Enter');
  await expect(page.getByText('“Backwards” is under actions')).toBeVisible();
  await page.goto('/routines');
  await press(page, /Run on shots/);
  const dialog = page.getByRole('dialog');
  await tabTo(page, dialog.getByRole('checkbox', { name: 'All of them' }));
  if (!(await dialog.getByRole('checkbox', { name: 'All of them' }).isChecked()))
    await page.keyboard.press('Space');
  await tabTo(page, dialog.getByRole('button', { name: /^Run/ }));
  await page.keyboard.press('Enter');
  const became = dialog.getByRole('list', { name: 'What became of them' }).getByRole('listitem');
  await expect(became).toHaveCount(2);
  await expect(became.filter({ hasText: /keys → [\d,]+\. It can be undone/ })).toHaveCount(2);
});
