import { expect, test } from '@playwright/test';
test('tmp bram', async ({ page }) => {
  page.on('console', (m) => m.type() === 'error' && console.log('CONSOLE', m.text()));
  page.on('pageerror', (e) => console.log('PAGEERROR', e.message));
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.goto('/');
  const card = page.getByRole('article', { name: 'Demo: Bram in one skin' });
  await card.getByRole('button', { name: 'Open a copy' }).click();
  await expect(page.getByRole('dialog')).toBeVisible({ timeout: 60_000 });
  await page.waitForTimeout(600);
  await page.screenshot({ path: '/tmp/s1.png' });
  await page.getByRole('button', { name: 'Take 1 shot and 1 action' }).click();
  await expect(page.getByRole('region', { name: 'Stage' })).toBeVisible({ timeout: 60_000 });
  await page.waitForTimeout(5000);
  await page.screenshot({ path: '/tmp/s2.png' });
});
