/** The ways through spaces: a tray that goes from hand to hand to the shelf, on twos and steady in the camera, baked and read back; goals for captured motion. */
import { readFile } from 'node:fs/promises';
import type { Page } from '@playwright/test';
import {
  applyOpen,
  animated,
  dropFiles,
  edits,
  expect,
  exportedGlb,
  goToFrame,
  history,
  markRange,
  openEdit,
  pick,
  reportNumber,
  takeDemo,
  test,
  touchControl,
  valueField,
} from './helpers.ts';
import { goTo, tabTo } from './hands-on-keys.ts';

const track = (page: Page) => page.getByRole('img', { name: /^What tray follows/ });
async function chooseTray(page: Page): Promise<void> {
  await page.getByRole('group', { name: 'Body parts' }).getByText('Props', { exact: true }).click();
  await expect(track(page)).toBeVisible();
}
async function switchHere(page: Page, frame: number, to: string): Promise<void> {
  await goToFrame(page, frame);
  await page.getByRole('combobox', { name: 'What tray follows from here' }).click();
  await page.locator('.ant-select-dropdown:visible').getByTitle(to).click();
  await expect(track(page)).toHaveAttribute('aria-label', new RegExp(`${to} from ${frame}`));
}
test('Oven door: switched on its lane, the edge dragged, a parent laid over, held in the camera, baked and read back', async ({
  page,
}) => {
  await takeDemo(page, 'Oven door');
  await chooseTray(page);

  await test.step('the tray goes over to the right hand and to the shelf, each with one touch', async () => {
    await switchHere(page, 34, 'hand_r');
    await switchHere(page, 71, 'shelf');
    await expect(page.getByRole('note').filter({ hasText: 'follows shelf' })).toBeVisible();
    await expect(history(page).getByRole('button', { name: 'Switch space' })).toHaveCount(2);
  });

  await test.step('the second switch is dragged two frames later', async () => {
    const box = (await track(page).boundingBox())!;
    const [low, high] = (await page.getByRole('application', { name: 'Curves' }).getAttribute('data-view'))!
      .split(' ')
      .map(Number) as [number, number];
    const x = (frame: number) => box.x + ((frame - low) / (high - low)) * box.width;
    await page.mouse.move(x(71), box.y + box.height / 2);
    await page.mouse.down();
    await page.mouse.move(x(73), box.y + box.height / 2, { steps: 5 });
    await page.mouse.up();
    await expect(track(page)).toHaveAttribute('aria-label', /shelf from 73/);
    await expect(history(page).getByRole('button', { name: 'Move switch of tray' })).toHaveCount(1);
  });

  await test.step('a parent control above both hands’ goals, dissolved again', async () => {
    await touchControl(page, 'hand_goal_l');
    await touchControl(page, 'hand_goal_r', 'Shift');
    await openEdit(page, 'Add parent control');
    await edits(page).getByRole('textbox', { name: 'Name', exact: true }).fill('both_hands');
    await expect.poll(() => reportNumber(page, 'greatest distance on frames')).toBeLessThanOrEqual(0.1);
    await applyOpen(page);
    await expect(page.getByRole('textbox', { name: 'both_hands rz', exact: true })).toBeVisible();
    await goToFrame(page, 60);
    await page.getByRole('textbox', { name: 'both_hands rz', exact: true }).fill('8');
    await page.keyboard.press('Enter');
    await goToFrame(page, 40);
    await page.getByRole('textbox', { name: 'both_hands rz', exact: true }).fill('0');
    await page.keyboard.press('Enter');
    await openEdit(page, 'Dissolve parent control');
    await pick(page, 'Control', 'both_hands');
    await expect.poll(() => reportNumber(page, 'greatest distance between frames')).toBeLessThanOrEqual(1);
    await applyOpen(page);
    await expect(history(page).getByRole('button', { name: 'Dissolve parent control' })).toHaveCount(1);
  });

  await test.step('the right arm goes over to its joints and back to its goal, and does not move', async () => {
    await touchControl(page, 'hand_goal_r');
    await markRange(page, 40, 60);
    await openEdit(page, 'Match limb');
    for (const to of ['joints', 'goal']) {
      await pick(page, 'To', to);
      await expect.poll(() => reportNumber(page, 'greatest distance on frames')).toBeLessThanOrEqual(1);
      await expect.poll(() => reportNumber(page, 'greatest turn between frames')).toBeLessThanOrEqual(1);
      await applyOpen(page);
      await expect(history(page).getByRole('button', { name: 'Match limb' })).toHaveCount(
        to === 'joints' ? 1 : 2,
      );
      // What was tried before may have been read above; this is what was done.
      const done = edits(page).getByRole('status', { name: 'Report' });
      await expect(done).not.toContainText('Not kept');
      await goToFrame(page, 50);
      await expect(valueField(page, 'hand_goal_r ik')).toHaveValue(to === 'joints' ? '0.00' : '1.00');
    }
    await goToFrame(page, 62);
    await expect(valueField(page, 'hand_goal_r ik')).toHaveValue('1.00');
  });

  await test.step('on twos he is held in the camera from 20 to 60, and let go', async () => {
    await page.getByRole('group', { name: 'Body parts' }).getByText('All', { exact: true }).click();
    await openEdit(page, 'Add filter');
    await edits(page).getByRole('radio', { name: 'Step' }).click();
    await applyOpen(page);
    await markRange(page, 20, 60);
    await openEdit(page, 'Steady in the camera');
    await expect(edits(page).getByRole('status', { name: 'Report' })).toContainText(
      /Held in the picture of camera/,
    );
    await applyOpen(page);
    await expect(history(page).getByRole('button', { name: 'Steady in the camera' })).toHaveCount(1);
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Escape');
  });

  await test.step('all is baked to plain keys; the file shows the same places', async () => {
    await chooseTray(page);
    await openEdit(page, 'Bake to keys');
    await expect.poll(() => reportNumber(page, 'greatest distance on frames')).toBeLessThanOrEqual(1);
    await applyOpen(page);
    await expect(track(page)).toBeHidden();
    const root = await exportedGlb(page);
    const last = animated(root, 'tray', 'translation').at(-1)!.value;
    const shelf = root.listNodes().find((node) => node.getName() === 'shelf')!;
    // It was set down, and stays by the shelf: metres.
    const [x, , z] = shelf.getWorldTranslation();
    expect(Math.hypot(last[0]! - x, last[2]! - z)).toBeLessThan(0.6);
  });
});

async function dropWalk(page: Page): Promise<void> {
  await page.goto('/');
  const content = await readFile('/usr/share/assimp/models/BVH/01_01.bvh', 'utf8');
  const rows = content.split('\n');
  const at = rows.findIndex((line) => line.startsWith('Frames:'));
  const short = [...rows.slice(0, at), 'Frames: 90', rows[at + 1]!, ...rows.slice(at + 2, at + 92)].join(
    '\n',
  );
  await dropFiles(page, [{ name: 'walk.bvh', content: short }]);
  await expect(page.getByRole('application', { name: 'Curves' })).toBeVisible();
}

test('captured motion: goals in one step, a hand posed on an offset pass at three frames, and back to joints', async ({
  page,
}) => {
  await dropWalk(page);
  await openEdit(page, 'Add goals');
  await expect.poll(() => reportNumber(page, 'goals'), { timeout: 30_000 }).toBe(4);
  await applyOpen(page);
  // The list holds the channels of four goals: only one is wanted.
  await page.getByPlaceholder(/^Filter/).fill('LeftHand ty');
  await expect(valueField(page, 'goal_LeftHand ty')).toBeVisible();
  await openEdit(page, 'Add offset pass');
  await applyOpen(page);
  await expect(page.locator('.pass-name')).toHaveText([/Offset 1/]);
  for (const [frame, lift] of [
    [20, 0],
    [45, 9],
    [70, 0],
  ] as const) {
    await goToFrame(page, frame);
    const field = valueField(page, 'goal_LeftHand ty');
    const value = (Number(await field.inputValue()) + lift).toFixed(2);
    await field.click();
    await page.keyboard.press('Control+a');
    await page.keyboard.type(value);
    await page.keyboard.press('Enter');
    await expect(field).toHaveValue(value);
  }
  await openEdit(page, 'Back to joints');
  await edits(page).getByRole('combobox', { name: 'Relation', exact: true }).click();
  await page
    .locator('.ant-select-dropdown:visible')
    .getByTitle(/LeftHand/)
    .click();
  await expect
    .poll(() => reportNumber(page, 'greatest distance on frames'), { timeout: 30_000 })
    .toBeLessThanOrEqual(2);
  await applyOpen(page);
  await expect(history(page).getByRole('button', { name: 'Back to joints' })).toHaveCount(1);
  await expect(page.getByRole('alert')).toHaveCount(0);
});

test('captured motion, from the keyboard: goals in one step, a hand posed on a pass at three frames, and back to joints', async ({
  page,
}) => {
  await dropWalk(page);
  const find = async (title: string) => {
    await page.keyboard.press('/');
    await page.keyboard.type(title);
    await page.keyboard.press('Enter');
    await expect(page.locator('.edit.open > .edit-title')).toHaveText(title);
  };
  await find('Add goals');
  await expect.poll(() => reportNumber(page, 'goals'), { timeout: 30_000 }).toBe(4);
  await expect.poll(() => reportNumber(page, 'greatest distance on frames')).toBeLessThanOrEqual(2);
  await page.getByRole('application', { name: 'Curves' }).focus();
  await page.keyboard.press('Enter');
  await expect(history(page).getByRole('button', { name: 'Add goals' })).toHaveAttribute(
    'aria-current',
    'step',
  );
  await find('Add offset pass');
  await page.keyboard.press('Enter');
  await expect(page.locator('.pass-name')).toHaveText([/Offset 1/]);
  await tabTo(page, page.getByPlaceholder(/^Filter/), 200);
  await page.keyboard.type('LeftHand ty');
  for (const [frame, lift] of [
    [20, 0],
    [45, 9],
    [70, 0],
  ] as const) {
    await goTo(page, frame);
    const field = valueField(page, 'goal_LeftHand ty');
    const value = (Number(await field.inputValue()) + lift).toFixed(2);
    await tabTo(page, field, 200);
    await page.keyboard.press('Control+a');
    await page.keyboard.type(value);
    await page.keyboard.press('Enter');
    await expect(field).toHaveValue(value);
  }
  await find('Back to joints');
  await expect
    .poll(() => reportNumber(page, 'greatest distance on frames'), { timeout: 30_000 })
    .toBeLessThanOrEqual(2);
  await page.getByRole('application', { name: 'Curves' }).focus();
  await page.keyboard.press('Enter');
  await expect(history(page).getByRole('button', { name: 'Back to joints' })).toHaveAttribute(
    'aria-current',
    'step',
  );
});
