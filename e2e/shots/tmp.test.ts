import { edits, openEdit, takeDemo, test, goToFrame } from '../flows/helpers.ts';
test('tmp aim', async ({ page }) => {
  await takeDemo(page, 'Dough toss (captured)');
  await goToFrame(page, 50);
  await openEdit(page, 'Throw and catch');
  for (const [who, what] of [['What is thrown', 'dough'], ['Thrown by', 'hand_r']] as const) {
    await edits(page).getByRole('combobox', { name: who, exact: true }).click();
    await page.keyboard.type(what);
    await page.keyboard.press('Enter');
  }
  await page.waitForTimeout(4000);
  await page.screenshot({ path: '/tmp/aim.png' });
});
