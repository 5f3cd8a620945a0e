/** A shot begun anew: who stands in it, how many frames a second, how long. */
import { expect, history, saved, takeDemo, test, touchControl, valueField } from './helpers.ts';

test('a shot is begun with two characters from the shelf, posed, and gives its own to another', async ({
  page,
}) => {
  await page.goto('/');
  await page.getByRole('button', { name: 'New shot' }).click();
  const dialog = page.getByRole('dialog', { name: 'New shot' });
  await dialog.getByRole('textbox', { name: 'Name' }).fill('Two at night');
  await dialog.getByRole('combobox', { name: 'Who stands in it' }).click();
  await page.locator('.ant-select-dropdown:visible').getByTitle('Nib').click();
  await dialog.getByRole('spinbutton', { name: 'Length in frames' }).fill('60');
  await dialog.getByRole('button', { name: 'Begin' }).click();
  await expect(page.getByRole('heading', { name: 'Two at night' })).toBeVisible();
  await expect(page.getByText('of 0–59')).toBeVisible();
  await saved(page);
  await touchControl(page, 'hips');
  await valueField(page, 'hips ty').fill('-8');
  await page.keyboard.press('Enter');
  await expect(history(page).getByRole('button', { name: 'Set hips.ty' })).toHaveCount(1);
  await saved(page);

  await page.getByRole('link', { name: 'Back to the shots' }).click();
  await page.getByRole('button', { name: 'New shot' }).click();
  const who = dialog.getByRole('combobox', { name: 'Who stands in it' });
  await who.click();
  await page.locator('.ant-select-dropdown:visible').getByTitle('of Two at night').click();
  await page.keyboard.press('Escape');
  await dialog.getByRole('button', { name: 'Begin' }).click();
  // Bram twice: a shot has each name once.
  await expect(dialog.getByRole('alert')).toContainText(/have a control called “root”/);
  await who.click();
  await page.locator('.ant-select-dropdown:visible').getByTitle('Bram', { exact: true }).click();
  await page.keyboard.press('Escape');
  await dialog.getByRole('button', { name: 'Begin' }).click();
  await expect(page.getByRole('heading', { name: 'New shot' })).toBeVisible();
  await expect(page.locator('.figure-panel .ant-segmented-item')).toHaveText(['Bram', 'Nib']);
});

test('Characters opens with the faces of all shots, which lead to their controls', async ({ page }) => {
  await takeDemo(page, 'Oven door');
  await saved(page);
  await page.goto('/characters');
  const card = page.getByRole('link', { name: 'Characters of Oven door' });
  const faces = card.getByRole('img');
  await expect(faces).toHaveCount(2);
  for (const name of ['Bram', 'Nib']) {
    const face = card.getByRole('img', { name });
    // Something is drawn in it.
    const ink = await face.evaluate((canvas: HTMLCanvasElement) => {
      const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
      return data.filter((value, i) => i % 4 === 3 && value > 0).length;
    });
    expect(ink).toBeGreaterThan(1000);
  }
  await card.click();
  await expect(page).toHaveURL(/\/characters\/.+/);
  await expect(page.getByText('Flip test.')).toBeVisible();
});
