/** Whatever was touched last, the strokes mean the shot: every kind of place is clicked, then Space plays. */
import { edits, expect, history, lanes, openEdit, takeDemo, test, touchControl } from './helpers.ts';

test('after a click anywhere Space plays, arrows step and Ctrl Z undoes', async ({ page }) => {
  await takeDemo(page, 'Night round');
  await touchControl(page, 'chest');
  await page.locator('.channel-name[title="chest.ry"]').click();
  await openEdit(page, 'Smooth');
  const option = (name: string) => edits(page).getByRole('combobox', { name }).first();
  const places: readonly [string, () => Promise<void>][] = [
    ['a chip', () => page.getByRole('button', { name: 'Torso' }).click()],
    ['the figure', () => touchControl(page, 'chest')],
    ['a channel’s name', () => page.locator('.channel-name[title="chest.rx"]').click()],
    ['a lock', () => page.getByRole('button', { name: 'Lock chest rx' }).click()],
    ['Undo', () => page.getByRole('button', { name: 'Undo' }).click()],
    [
      'the ruler',
      () =>
        lanes(page)
          .getByRole('slider', { name: 'Play-head' })
          .click({ position: { x: 90, y: 8 } }),
    ],
    [
      'the poses',
      () =>
        lanes(page)
          .getByRole('group', { name: /^Poses at/ })
          .click({ position: { x: 60, y: 40 } }),
    ],
    [
      'the curves',
      () => page.getByRole('application', { name: 'Curves' }).click({ position: { x: 200, y: 20 } }),
    ],
    ['a switch of the curves', () => lanes(page).getByRole('button', { name: 'One measure' }).click()],
    ['the history', () => history(page).getByRole('button', { name: 'Opened' }).click()],
    ['the view', () => page.getByText('Side', { exact: true }).click()],
    ['ghosts', () => page.getByRole('button', { name: /^Ghosts/ }).click()],
    ['before and after', () => page.getByText('Both', { exact: true }).click()],
    ['a tick box of an edit', () => edits(page).getByRole('checkbox').first().click()],
    [
      'a choice of an edit',
      async () => {
        await option('Method').click();
        await page.getByTitle('low pass').first().click();
      },
    ],
    ['a number of an edit', () => edits(page).getByRole('spinbutton').first().click()],
    ['a group of edits', () => edits(page).getByRole('button', { name: 'timing' }).click()],
    ['the fold of a lane', () => page.getByRole('button', { name: 'Fold the lane Poses' }).click()],
    [
      'the speed',
      async () => {
        await page.getByRole('combobox', { name: 'Speed' }).click();
        await page.getByTitle('0.5×').click();
      },
    ],
  ];
  for (const [name, touch] of places) {
    await test.step(name, async () => {
      await touch();
      await page.waitForTimeout(200);
      // A list that was chosen from closes first, however slow the machine.
      await expect(page.locator('.ant-select-dropdown:visible')).toHaveCount(0);
      await expect(page.locator('[role="combobox"]:focus')).toHaveCount(0);
      await page.keyboard.press('Space');
      await expect(page.getByRole('button', { name: 'Stop' }), name).toBeVisible();
      await page.keyboard.press('Space');
      await expect(page.getByRole('button', { name: 'Play', exact: true }), name).toBeVisible();
    });
  }
});

test('keys are chosen, stepped through and let go without a pointer; a name is written with F2', async ({
  page,
}) => {
  await takeDemo(page, 'Night round');
  await touchControl(page, 'chest');
  const chosen = page.getByRole('status', { name: 'Chosen' });
  await page.keyboard.press('Control+a');
  const all = Number((await chosen.innerText()).match(/^\d+/)![0]);
  await page.keyboard.press('Home');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+ArrowRight');
  await expect(chosen).toContainText('channels');
  await page.keyboard.press('Control+Shift+ArrowRight');
  const some = Number((await chosen.innerText()).match(/^\d+/)![0]);
  await page.keyboard.press('Control+i');
  await expect(chosen).toContainText(`${all - some} keys`);
  await page.keyboard.press('PageDown');
  await expect(page.getByRole('slider', { name: 'Play-head' })).not.toHaveAttribute('aria-valuenow', '0');
  for (let i = 0; i < 3; i += 1) await page.keyboard.press('Escape');
  await expect(page.getByText('Nothing chosen')).toBeVisible();
  await page.keyboard.press('F2');
  await page.keyboard.type('Second round');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Second round' })).toBeVisible();
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Stop' })).toBeVisible();
});

for (const reducedMotion of ['reduce', 'no-preference'] as const) {
  test(`what is typed first comes into the field of a dialog, asked for ${reducedMotion === 'reduce' ? 'less' : 'any'} motion`, async ({
    page,
  }) => {
    await page.emulateMedia({ reducedMotion });
    await takeDemo(page, 'First tray');
    await page.keyboard.press('Shift+N');
    await expect(page.getByRole('textbox', { name: 'About frame 0' })).toBeFocused();
    await page.keyboard.type('Late');
    await expect(page.getByRole('textbox', { name: 'About frame 0' })).toHaveValue('Late');
    await page.getByRole('button', { name: 'Close' }).click();
    await openEdit(page, 'Reverse');
    await edits(page).getByRole('button', { name: 'Apply' }).click();
    await history(page).getByText('Save as routine').click();
    await expect(page.getByRole('textbox', { name: 'Name of the routine' })).toBeFocused();
    await page.keyboard.type('Back');
    await expect(page.getByRole('textbox', { name: 'Name of the routine' })).toHaveValue('Back');
  });
}
