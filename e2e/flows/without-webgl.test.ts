/** A browser that draws nothing in three dimensions: all but the stage works, and the stage says why it does not. */
import {
  applyOpen,
  expect,
  exportedGlb,
  goToFrame,
  openEdit,
  saved,
  takeDemo,
  test,
  touchControl,
  valueField,
} from './helpers.ts';

test.use({
  launchOptions: {
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-3d-apis', '--disable-quic', '--no-first-run'],
  },
});

test('without WebGL a shot opens, is edited, played, kept and given out', async ({ page }) => {
  await takeDemo(page, 'Night round');
  await expect(page.getByText(/draws nothing in three dimensions here/)).toBeVisible();
  const flat = page.getByRole('img', { name: 'The figure, painted flat' });
  const before = await flat.screenshot();
  await goToFrame(page, 8);
  await expect.poll(async () => (await flat.screenshot()).equals(before)).toBe(false);
  await touchControl(page, 'chest');
  await valueField(page, 'chest ry').fill('12');
  await page.keyboard.press('Enter');
  if (process.env['SHOTS']) await page.screenshot({ path: `${process.env['SHOTS']}/flat.png` });
  await openEdit(page, 'Thin');
  await applyOpen(page);
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  await page.getByRole('button', { name: 'Stop' }).click();
  await saved(page);
  const url = page.url();
  await page.goto('/');
  await page.goto(url);
  await expect(page.getByRole('application', { name: 'Curves' })).toBeVisible();
  expect((await exportedGlb(page)).listAnimations()).toHaveLength(1);
});
