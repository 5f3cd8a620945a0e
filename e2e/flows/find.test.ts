/** Find leads to whatever the bench can do: edits, filters, tools of the stage, pages, Help. */
import type { Page } from '@playwright/test';
import { edits, expect, takeDemo, test, touchControl } from './helpers.ts';

async function find(page: Page, words: string): Promise<void> {
  await page.getByRole('application', { name: 'Curves' }).focus();
  await page.keyboard.press('/');
  await page.getByRole('textbox', { name: 'Find an edit' }).fill(words);
  if (process.env['SHOTS'] && words === 'onion skin')
    await page.screenshot({ path: `${process.env['SHOTS']}/find.png` });
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog')).toBeHidden();
}

test('words of the trade lead to filters, the stage, a way in Help, and pages', async ({ page }) => {
  await takeDemo(page, 'Night round');
  await touchControl(page, 'chest');
  await find(page, 'twos');
  await expect(edits(page).getByRole('radio', { name: 'Step' })).toHaveAttribute('aria-checked', 'true');
  await find(page, 'follow through');
  await expect(edits(page).getByRole('radio', { name: 'Follow-through' })).toHaveAttribute(
    'aria-checked',
    'true',
  );
  await find(page, 'motion trail');
  await expect(page.getByRole('button', { name: /^Arcs \d/ })).toBeVisible();
  await find(page, 'onion skin');
  await expect(page.getByRole('button', { name: 'Ghosts ±1' })).toBeVisible();
  await find(page, 'front view');
  await expect(page.locator('.stage-tools .ant-segmented-item-selected')).toHaveText('Front');
  const url = page.url();
  await find(page, 'keep feet from sliding');
  await expect(page.getByText('Find contacts”, then “Hold contacts', { exact: false })).toBeVisible();
  await page.goto(url);
  await find(page, 'batch');
  await expect(page).toHaveURL(/routines$/);
});
