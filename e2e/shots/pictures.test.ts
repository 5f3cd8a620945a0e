/** Takes the pictures in docs/screenshots anew, from the demo data: `npm run shots`. */
import { fileURLToPath } from 'node:url';
import type { Page } from '@playwright/test';
import {
  applyOpen,
  downloaded,
  dragWithin,
  edits,
  goToFrame,
  history,
  lanes,
  markRange,
  openEdit,
  pick,
  reportNumber,
  saved,
  takeDemo,
  test,
  tryWholeWalk,
  wholeWalk,
  expect,
  valueField,
  touchControl,
} from '../flows/helpers.ts';

const FOLDER = fileURLToPath(new URL('../../docs/screenshots/', import.meta.url));

/** Tooltips and focus rings are of the moment: they are let go first. */
async function take(page: Page, name: string): Promise<void> {
  await page.mouse.move(640, 420);
  await page.waitForTimeout(700);
  await page.screenshot({ path: `${FOLDER}${name}.png` });
}

test('a picture of spaces', async ({ page }) => {
  await takeDemo(page, 'Oven door');
  await page.getByRole('group', { name: 'Body parts' }).getByText('Props', { exact: true }).click();
  for (const [frame, to] of [
    [34, 'hand_r'],
    [71, 'shelf'],
  ] as const) {
    await goToFrame(page, frame);
    await page.getByRole('combobox', { name: 'What tray follows from here' }).click();
    await page.locator('.ant-select-dropdown:visible').getByTitle(to).click();
  }
  await goToFrame(page, 52);
  await page.getByRole('navigation', { name: 'Groups of edits' }).getByText('spaces').click();
  await take(page, 'bench-spaces');
});

test('a picture of contacts and a flight', async ({ page }) => {
  await takeDemo(page, 'Over the puddle');
  await openEdit(page, 'Find contacts');
  await applyOpen(page);
  await page.getByRole('button', { name: 'Roughness', exact: true }).click();
  await goToFrame(page, 22);
  await page.getByText('Side', { exact: true }).click();
  await openEdit(page, 'Flight');
  for (const [name, value] of [
    ['Lands at, y', '120'],
    ['Lands at, z', '196'],
    ['Top', '155'],
  ] as const)
    await edits(page).getByRole('spinbutton', { name, exact: true }).fill(value);
  await page.keyboard.press('Tab');
  await expect.poll(() => reportNumber(page, 'frames in the air')).toBeGreaterThan(12);
  await take(page, 'bench-flight');
});

test('a picture of the stack', async ({ page }) => {
  await page.emulateMedia({ reducedMotion: 'reduce' });
  await takeDemo(page, 'Kneading loop');
  await touchControl(page, 'chest');
  for (const kind of ['Shift', 'Spring']) {
    await openEdit(page, 'Add filter');
    await edits(page).getByRole('radio', { name: kind }).click();
    await applyOpen(page);
    await expect(page.locator('.pass-name').filter({ hasText: kind })).toBeVisible();
    await page
      .getByRole('group', { name: 'Variants' })
      .getByRole('button', { name: 'Variant', exact: true })
      .click();
  }
  await page.locator('.pass-name').filter({ hasText: 'Spring' }).click();
  await page.getByRole('button', { name: 'Side by side' }).click();
  await goToFrame(page, 13);
  await take(page, 'bench-stack');
});

test('a picture of placements and of routines', async ({ page }) => {
  await page.goto('/pantry');
  await page.getByRole('button', { name: 'Lay out the shelf' }).click();
  await expect(page.getByRole('article')).toHaveCount(6);
  await wholeWalk(page);
  await goToFrame(page, 70);
  await openEdit(page, 'Record');
  await pick(page, 'From', 'capture feed');
  await edits(page).getByRole('spinbutton', { name: 'Count-in' }).fill('0');
  await edits(page).getByRole('textbox', { name: 'Name of the take' }).fill('Grumble');
  await edits(page).getByRole('button', { name: 'Start', exact: true }).click();
  await expect(history(page).getByRole('button', { name: 'Record' })).toHaveCount(1, { timeout: 15_000 });
  await openEdit(page, 'Apply action');
  await pick(page, 'It is laid', 'as a block');
  for (const [name, frame] of [
    ['Sigh', 0],
    ['Sneeze', 50],
  ] as const) {
    await goToFrame(page, frame);
    await edits(page)
      .getByRole('listitem', { name, exact: true })
      .getByRole('button', { name: /^Place/ })
      .click();
  }
  await lanes(page)
    .getByRole('button', { name: /^Sneeze, frames/ })
    .focus();
  await page.keyboard.press('Enter');
  await edits(page).getByRole('button', { name: 'Cross with the one before' }).click();
  await expect(edits(page)).toContainText('gives way to');
  await goToFrame(page, 70);
  await take(page, 'bench-placements');
  await page.getByRole('button', { name: 'Save as routine …' }).click();
  await page.getByRole('textbox', { name: 'Name of the routine' }).fill('Whole walk, looped');
  for (const step of ['Record', 'Place action', 'Cross placements'])
    for (const box of await page.getByRole('dialog').getByRole('checkbox', { name: step }).all())
      await box.click();
  await page.getByRole('dialog').getByRole('button', { name: 'Save', exact: true }).click();
  await saved(page);
  await page.goto('/routines');
  await expect(page.getByRole('article', { name: 'Whole walk, looped' })).toBeVisible();
  await take(page, 'routines');
});

test('pictures of the main views', async ({ page }) => {
  await page.emulateMedia({ reducedMotion: 'reduce' });
  await takeDemo(page, 'Dough toss (captured)');
  await page.getByRole('button', { name: 'Right arm' }).click();
  await goToFrame(page, 58);
  await openEdit(page, 'Thin');
  await dragWithin(page, page.getByRole('slider', { name: 'Tolerance, rotation' }), [0.3, 0.5], [0.7, 0.5]);
  await expect.poll(() => reportNumber(page, 'keys')).toBeLessThan(800);
  await take(page, 'bench-thin');

  await edits(page).getByRole('button', { name: 'Apply', exact: true }).click();
  await page.locator('.channel-name[title="upperarm_r.rz"]').click();
  await openEdit(page, 'Set tangents');
  await dragWithin(page, page.getByRole('application', { name: 'Curves' }), [0.2, 0.03], [0.45, 0.97]);
  await take(page, 'bench-tangents');
  await page.getByRole('application', { name: 'Curves' }).focus();
  await page.keyboard.press('x');

  await page.getByRole('button', { name: 'Right arm' }).click();
  await openEdit(page, 'Add offset pass');
  await edits(page).getByRole('textbox', { name: 'Name' }).fill('Higher');
  await edits(page).getByRole('button', { name: 'Apply', exact: true }).click();
  await goToFrame(page, 92);
  await touchControl(page, 'upperarm_r');
  const field = valueField(page, 'upperarm_r rz');
  const below = Number(await field.inputValue());
  await field.click();
  await page.keyboard.type(String(below - 46));
  await page.keyboard.press('Enter');
  await lanes(page).getByRole('button', { name: 'Higher', exact: true }).click();

  await page.getByRole('button', { name: 'Left arm' }).click();
  await dragWithin(page, page.getByRole('slider', { name: 'Play-head' }), [0.77, 0.5], [0.95, 0.5], 'Shift');
  await openEdit(page, 'Save as action');
  await edits(page).getByRole('textbox', { name: 'Name' }).fill('Wave');
  await edits(page).getByRole('button', { name: 'Save to the pantry' }).click();
  await expect(edits(page).getByText('Saved to the pantry.')).toBeVisible();
  await saved(page);

  await takeDemo(page, 'Night round');
  await page.getByRole('button', { name: 'Left leg' }).click();
  await goToFrame(page, 8);
  await openEdit(page, 'Apply action');
  const row = edits(page).getByRole('listitem', { name: 'Wave' });
  const target = (await page.getByRole('application', { name: 'Curves' }).boundingBox())!;
  await row.hover();
  await page.mouse.down();
  await page.mouse.move(target.x + 200, target.y + 60, { steps: 4 });
  await page.mouse.move(target.x + 210, target.y + 62, { steps: 2 });
  await page.mouse.up();
  await expect(history(page).getByRole('button', { name: 'Apply action' })).toHaveCount(1);
  await saved(page);

  await takeDemo(page, 'First tray');
  await openEdit(page, 'Stepped to spline');
  await edits(page).getByRole('button', { name: 'Apply', exact: true }).click();
  await touchControl(page, 'hand_goal_r');
  await page.getByRole('button', { name: 'Arcs' }).click();
  await page.getByRole('button', { name: 'Ghosts' }).click();
  await goToFrame(page, 24);
  const poses = (await page.locator('.poses-lane').boundingBox())!;
  await page.keyboard.down('Shift');
  await page.mouse.click(poses.x + poses.width * 0.9, poses.y + 40);
  await page.keyboard.up('Shift');
  await openEdit(page, 'Pattern of gaps');
  await edits(page).getByRole('spinbutton', { name: 'Amount' }).fill('1');
  await expect.poll(() => reportNumber(page, 'columns')).toBeGreaterThan(8);
  await take(page, 'bench-timing');
  await saved(page);

  await takeDemo(page, 'Night round');
  await tryWholeWalk(page);
  await edits(page).getByRole('button', { name: 'Apply', exact: true }).click();
  await page.getByText('Side', { exact: true }).click();
  await touchControl(page, 'foot_goal_r');
  await page.getByRole('button', { name: 'Arcs' }).click();
  await page.getByRole('button', { name: 'Ghosts' }).click();
  await goToFrame(page, 24);
  await openEdit(page, 'Loop');
  await expect.poll(() => reportNumber(page, 'plays')).toBe(64);
  await take(page, 'bench-walk');
  await saved(page);

  await takeDemo(page, 'Kneading loop');
  await saved(page);
  const shot = page.url().split('/').pop()!;
  await page.goto(`/characters/${shot}`);
  await expect(page.locator('.ant-table-row').first()).toBeVisible();
  await take(page, 'characters');
  await page.goto('/pantry');
  await page.getByRole('button', { name: 'Lay out the shelf' }).click();
  await expect(page.getByRole('article', { name: 'Sneeze' })).toBeVisible();
  await take(page, 'pantry');
  await page.goto('/');
  await expect(page.getByRole('article', { name: 'Demo: Night round' })).toBeVisible();
  await take(page, 'shots');
  await page.getByText('Rye', { exact: true }).click();
  await page
    .getByRole('article', { name: 'Dough toss (captured)', exact: true })
    .getByRole('button', { name: 'Open' })
    .click();
  await expect(page.getByRole('region', { name: 'Stage' })).toBeVisible();
  await page.waitForTimeout(800);
  await take(page, 'bench-rye');
});

test('a picture of an action on another character', async ({ page }) => {
  await takeDemo(page, 'Oven door');
  await page.getByRole('group', { name: 'Body parts' }).getByText('All', { exact: true }).click();
  await openEdit(page, 'Save as action');
  await edits(page).getByRole('textbox', { name: 'Name', exact: true }).fill('Take it over');
  await edits(page).getByRole('button', { name: 'Save to the pantry' }).click();
  await openEdit(page, 'Apply action');
  for (const [list, title] of [
    ['Match', 'by name, then by structure'],
    ['Onto', 'Nib'],
  ] as const) {
    await edits(page).getByRole('combobox', { name: list, exact: true }).click();
    await page.locator('.ant-select-dropdown:visible').getByTitle(title, { exact: true }).click();
  }
  await page.getByRole('button', { name: 'What fits …' }).first().click();
  await expect(page.getByRole('dialog')).toContainText('joints fit');
  await take(page, 'bench-mapping');
});

test('a picture of a character in his own skin', async ({ page }) => {
  await page.goto('/');
  await page
    .getByRole('article', { name: 'Demo: Bram in one skin' })
    .getByRole('button', { name: 'Open a copy' })
    .click();
  await page.getByRole('button', { name: 'Take 1 shot and 1 action' }).click();
  const shown = page.getByRole('combobox', { name: 'Figures as' });
  await expect(shown).toBeVisible();
  await expect(page.getByText(/^Reading /)).toHaveCount(0);
  await shown.click();
  await page.locator('.ant-select-dropdown:visible').getByTitle('Bones').click();
  await goToFrame(page, 8);
  await touchControl(page, 'face');
  await touchControl(page, 'face left', 'Shift');
  await valueField(page, 'face smile').fill('1');
  await page.keyboard.press('Enter');
  await valueField(page, 'face left blink').fill('0.9');
  await page.keyboard.press('Enter');
  await page.locator('.stage-tools').getByText('Front').click();
  await take(page, 'bench-skin');
});

test('pictures of two compared, of a film beside the stage, and of sheets', async ({ page }) => {
  await takeDemo(page, 'Over the puddle');
  await page.getByRole('button', { name: 'Export' }).click();
  await page.getByRole('menuitem', { name: 'Film or pictures' }).click();
  const film = page.waitForEvent('download', { timeout: 90_000 });
  await page.getByRole('button', { name: 'Make it' }).click();
  const footage = await downloaded(await film);
  await saved(page);

  await takeDemo(page, 'Kneading loop');
  await goToFrame(page, 13);
  await touchControl(page, 'chest');
  const field = valueField(page, 'chest rx');
  const below = Number(await field.inputValue());
  await field.click();
  await page.keyboard.type(String(below - 24));
  await page.keyboard.press('Enter');
  await page.getByRole('link', { name: 'Compare' }).click();
  await page.getByRole('button', { name: /^Farthest apart/ }).click();
  await expect(page.locator('.compare-plot')).toHaveCount(3);
  await take(page, 'compare');
  await page.getByRole('link', { name: 'Back to the bench' }).click();
  await saved(page);

  await takeDemo(page, 'First tray');
  for (const [from, to, text] of [
    [24, 24, 'The wrist is late: let it lead the tray by two frames'],
    [40, 60, 'Too even: hold longer before he lifts'],
  ] as const) {
    await goToFrame(page, from);
    if (to > from) await markRange(page, from, to);
    await page.keyboard.press('Shift+N');
    await page.keyboard.type(text);
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'Close' }).click();
  }
  await page.locator('.stage-tools').getByRole('button', { name: 'Film' }).click();
  const pane = page.getByRole('region', { name: 'Reference film' });
  await pane
    .locator('input[type=file]')
    .setInputFiles({ name: 'leap.webm', mimeType: 'video/webm', buffer: footage });
  await expect(pane.locator('canvas')).toBeVisible();
  for (const frame of [12, 24, 31]) {
    await goToFrame(page, frame);
    await pane.getByRole('button', { name: 'Mark here' }).click();
  }
  await take(page, 'bench-reference');
  await page.getByRole('button', { name: 'Export' }).click();
  await page.getByRole('menuitem', { name: 'Sheet to print' }).click();
  const dialog = page.getByRole('dialog', { name: 'Sheet to print' });
  await expect(dialog.getByRole('img', { name: /contact sheet/ })).toBeVisible();
  await take(page, 'sheet-contact');
  await dialog.getByRole('combobox', { name: 'Sheet' }).click();
  await page.getByTitle('Timing sheet').click();
  await expect(dialog.getByRole('img', { name: /timing sheet/ })).toBeVisible();
  await take(page, 'sheet-timing');
});
