/** A storage of hundreds of shots: the page shows them, finds them, and opens one as if it were alone. */
import { cloneStored } from './clone-stored.ts';
import { expect, saved, takeDemo, test } from './helpers.ts';

test('three hundred shots: those in sight are made, one is found, renamed, copied, opened', async ({
  page,
}) => {
  await takeDemo(page, 'Night round');
  await saved(page);
  await page.goto('/');
  await expect(page.getByRole('article', { name: 'Night round', exact: true })).toBeVisible();
  await cloneStored(page, 300);
  await page.reload();
  const cards = page.locator('.shot-row article');
  await expect(cards.first()).toBeVisible();
  expect(await cards.count()).toBeLessThan(30);
  // The picture of a card is read when it is looked at.
  await expect(cards.nth(1).locator('canvas')).toBeVisible();
  await page.getByRole('button', { name: 'Demo shots' }).click();
  await expect(page.getByRole('article', { name: 'Demo: Night round' })).toBeInViewport();
  await expect(page.getByRole('article', { name: 'Copy 300', exact: true })).toBeVisible();
  await page.keyboard.press('Home');
  await page.getByRole('textbox', { name: 'Find a shot' }).fill('copy 217');
  const found = page.getByRole('article', { name: 'Copy 217', exact: true });
  await expect(found).toBeVisible();
  await found.getByRole('button', { name: 'Rename Copy 217' }).click();
  await found.getByRole('textbox').fill('Copy 217, late');
  await page.keyboard.press('Enter');
  const renamed = page.getByRole('article', { name: 'Copy 217, late', exact: true });
  await expect(renamed).toBeVisible();
  await renamed.getByRole('button', { name: 'Make a copy of Copy 217, late' }).click();
  await expect(page.getByRole('article', { name: 'Copy 217, late 2' })).toBeVisible();
  await renamed.getByRole('button', { name: 'Open' }).click();
  await expect(page.getByRole('heading', { name: 'Copy 217, late', level: 1 })).toBeVisible();
});
