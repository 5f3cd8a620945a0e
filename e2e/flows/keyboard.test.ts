/** The path without a mouse: from the shots to an edit that is found, tried, applied, undone and saved. */
import { edits, expect, history, lanes, saved, test, valueField } from './helpers.ts';

test('everything on the path by keyboard', async ({ page }) => {
  await page.goto('/');
  const take = page
    .getByRole('article', { name: 'Demo: Night round' })
    .getByRole('button', { name: 'Take a copy' });
  await expect(take).toBeVisible();
  // Tab alone leads there.
  for (let i = 0; i < 40 && !(await take.evaluate((element) => element === document.activeElement)); i += 1)
    await page.keyboard.press('Tab');
  await expect(take).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('region', { name: 'Stage' })).toBeVisible();

  // The figure is one stop; arrows lead from control to control.
  const figure = page.getByRole('listbox', { name: 'Controls' });
  await figure.focus();
  const here = () => figure.getAttribute('aria-activedescendant');
  for (let i = 0; i < 30 && (await here()) !== 'spot-chest'; i += 1)
    await page.keyboard.press((await here()) === 'spot-hips' ? 'ArrowUp' : i < 12 ? 'ArrowUp' : 'ArrowDown');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('option', { name: 'chest', exact: true })).toHaveAttribute(
    'aria-selected',
    'true',
  );
  await expect(page.getByRole('list', { name: 'Channels' }).getByRole('listitem').first()).toBeVisible();

  await page.keyboard.press('Home');
  for (let i = 0; i < 4; i += 1) await page.keyboard.press('ArrowRight');
  await expect(page.getByRole('slider', { name: 'Play-head' })).toHaveAttribute('aria-valuenow', '4');

  await valueField(page, 'chest ry').focus();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('12');
  await page.keyboard.press('Enter');
  await expect(valueField(page, 'chest ry')).toHaveValue('12.0');

  await lanes(page).getByRole('application', { name: 'Curves' }).focus();
  await page.keyboard.press('/');
  await page.keyboard.type('offset pass');
  await page.keyboard.press('Enter');
  await expect(edits(page).getByRole('button', { name: 'Add offset pass' })).toHaveAttribute(
    'aria-expanded',
    'true',
  );
  // The edit that was found is tried; Enter applies it.
  await expect(edits(page).getByRole('button', { name: 'Apply', exact: true })).toBeEnabled();
  await page.keyboard.press('Enter');
  await expect(history(page).getByRole('button', { name: 'Add offset pass' })).toHaveAttribute(
    'aria-current',
    'step',
  );
  await page.keyboard.press('Control+z');
  await expect(history(page).getByRole('button', { name: 'Add offset pass' })).not.toHaveAttribute(
    'aria-current',
    'step',
  );
  await saved(page);
});
