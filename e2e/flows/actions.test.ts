/** An action of one character laid onto another: matched by structure, put right by hand, remembered. */
import type { Page } from '@playwright/test';
import {
  edits,
  expect,
  goToFrame,
  history,
  openEdit,
  pick,
  takeDemo,
  test,
  touchControl,
  valueField,
} from './helpers.ts';

const table = (page: Page) => page.getByRole('dialog', { name: /^How “Nod” fits/ });

test('Oven door: what Bram does is laid onto Nib, by structure where names differ', async ({ page }) => {
  await takeDemo(page, 'Oven door');
  await page.getByRole('group', { name: 'Body parts' }).getByText('All', { exact: true }).click();
  await openEdit(page, 'Save as action');
  await edits(page).getByRole('textbox', { name: 'Name', exact: true }).fill('Nod');
  await edits(page).getByRole('button', { name: 'Save to the pantry' }).click();
  await openEdit(page, 'Apply action');
  const row = page.getByRole('listitem', { name: 'Nod' }).first();
  await pick(page, 'Onto', 'Nib');
  await row.getByRole('button', { name: /^Lay at/ }).click();
  await expect(edits(page)).toContainText(/not in this shot/);

  await test.step('the table shows what fits; one joint is put right by hand, and that is remembered', async () => {
    await pick(page, 'Match', 'by name, then by structure');
    await row.getByRole('button', { name: 'What fits …' }).click();
    const of = (joint: string) => table(page).getByRole('row', { name: new RegExp(`^${joint} `) });
    await expect(of('hips')).toContainText(/pelvis.*by structure/);
    await expect(of('forearm_l')).toContainText(/arm_low\.L.*by structure/);
    await of('jaw').getByRole('combobox').fill('hat');
    await page.locator('.ant-select-dropdown:visible').getByTitle('hat', { exact: true }).click();
    await expect(of('jaw')).toContainText(/hat.*by hand/);
    // What places are multiplied by is of these two figures, as the joints are.
    const times = table(page).getByRole('spinbutton', { name: 'Places times' });
    await expect(times).toHaveAttribute('placeholder', /^0\.\d+, as found$/);
    await times.fill('0.35');
    await page.keyboard.press('Tab');
    await page.keyboard.press('Escape');
    await expect(row).toContainText('places × 0.35');
    await page.reload();
    await openEdit(page, 'Apply action');
    await pick(page, 'Match', 'by name, then by structure');
    await pick(page, 'Onto', 'Nib');
    await row.getByRole('button', { name: 'What fits …' }).click();
    await expect(of('jaw')).toContainText(/hat.*by hand/);
    await expect(times).toHaveValue('0.35');
    await table(page).getByRole('button', { name: 'Close' }).click();
    // On another figure nothing was said.
    await pick(page, 'Onto', 'Bram');
    await expect(row).not.toContainText('places ×');
    await pick(page, 'Onto', 'Nib');
  });

  await test.step('laid, Nib moves as Bram does, and Bram as before', async () => {
    await row.getByRole('button', { name: /^Lay at/ }).click();
    await expect(history(page).getByRole('button', { name: 'Apply action' })).toHaveCount(1);
    await expect(edits(page)).toContainText(/Bones of another length/);
    await expect(edits(page)).toContainText(/0\.35/);
    await touchControl(page, 'chest');
    const turned = await valueField(page, 'chest rx').inputValue();
    expect(Number(turned)).not.toBe(0);
    await touchControl(page, 'breast');
    await expect(valueField(page, 'breast rx')).toHaveValue(turned);
  });

  await test.step('one pose of it is blended in for what is selected', async () => {
    await goToFrame(page, 12);
    await row.getByRole('button', { name: 'A pose …' }).click();
    await page.getByRole('spinbutton', { name: 'Its frame' }).fill('71');
    await page.getByRole('spinbutton', { name: 'Amount, %' }).fill('60');
    await page.getByRole('button', { name: 'Blend in at 12' }).click();
    await expect(history(page).getByRole('button', { name: 'Blend in a pose of an action' })).toHaveCount(1);
    await expect(edits(page)).toContainText('channels keyed');
  });
});
