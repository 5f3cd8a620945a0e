/** What a hand takes and drags on the bench, and what the bench answers to it. */
import type { Page } from '@playwright/test';
import {
  applyOpen,
  dragWithin,
  edits,
  expect,
  history,
  lanes,
  openEdit,
  takeDemo,
  test,
  touchControl,
  valueField,
} from './helpers.ts';

const laneNames = (page: Page) =>
  lanes(page)
    .getByRole('button', { name: /^Move the lane/ })
    .evaluateAll((grips) =>
      grips.map((grip) => grip.getAttribute('aria-label')!.replace('Move the lane ', '')),
    );

test('lanes are carried by their grips and by the keyboard, Escape puts one back, and they are remembered', async ({
  page,
}) => {
  await takeDemo(page, 'Night round');
  const before = await laneNames(page);
  expect(before.indexOf('Poses')).toBeLessThan(before.indexOf('Curves'));
  const grip = (name: string) => page.getByRole('button', { name: `Move the lane ${name}` });
  const from = (await grip('Poses').boundingBox())!;
  const to = (await grip('Curves').boundingBox())!;
  await page.mouse.move(from.x + 5, from.y + 5);
  await page.mouse.down();
  await page.mouse.move(from.x + 5, from.y + 30, { steps: 4 });
  await page.mouse.move(from.x + 5, to.y + 90, { steps: 12 });
  await page.mouse.up();
  await expect.poll(() => laneNames(page)).not.toEqual(before);
  const after = await laneNames(page);
  // A click that ends a drag is none: for a twentieth of a second none is taken.
  await page.waitForTimeout(150);
  expect(after.indexOf('Poses')).toBeGreaterThan(after.indexOf('Curves'));

  // Carried by the keyboard and left: it stays where it was, and nothing of the bench was let go.
  await touchControl(page, 'chest');
  await grip('Poses').focus();
  await page.keyboard.press('Enter');
  await expect(grip('Poses')).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('Escape');
  await expect(page.locator('[id="spot-chest"]')).toHaveAttribute('aria-selected', 'true');
  expect(await laneNames(page)).toEqual(after);

  await page.reload();
  await expect(page.getByRole('application', { name: 'Curves' })).toBeVisible();
  expect(await laneNames(page)).toEqual(after);
});

test('passes are carried to another place of the stack, by their grips and by the keyboard', async ({
  page,
}) => {
  await takeDemo(page, 'Night round');
  await touchControl(page, 'chest');
  for (const name of ['First', 'Second']) {
    await openEdit(page, 'Add offset pass');
    await edits(page).getByRole('textbox', { name: 'Name', exact: true }).fill(name);
    await applyOpen(page);
    await expect(page.locator('.pass-name').filter({ hasText: name })).toBeVisible();
    await page.keyboard.press('Escape');
  }
  const names = () => page.locator('.pass-name').allInnerTexts();
  await expect.poll(names).toEqual(['Second', 'First']);
  const grip = (name: string) => page.getByRole('button', { name: `Move ${name} in the stack` });
  const [from, to] = [(await grip('Second').boundingBox())!, (await grip('First').boundingBox())!];
  await page.mouse.move(from.x + 8, from.y + 8);
  await page.mouse.down();
  await page.mouse.move(from.x + 8, from.y + 20, { steps: 4 });
  await page.mouse.move(to.x + 8, to.y + 16, { steps: 8 });
  await page.mouse.up();
  await expect.poll(names).toEqual(['First', 'Second']);
  await expect(history(page).getByRole('button').last()).toHaveText('Move pass');
  await page.waitForTimeout(300);
  await grip('First').focus();
  await page.keyboard.press('Enter');
  await page.waitForTimeout(200);
  await page.keyboard.press('ArrowDown');
  await page.waitForTimeout(300);
  await page.keyboard.press('Enter');
  await expect.poll(names).toEqual(['Second', 'First']);
});

test('the end of the shot is dragged on the ruler, and a marked range goes with it', async ({ page }) => {
  await takeDemo(page, 'Night round');
  const ruler = page.getByRole('slider', { name: 'Play-head' });
  const end = Number(await ruler.getAttribute('aria-valuemax'));
  const box = (await ruler.boundingBox())!;
  const [from, to] = (await page.getByRole('application', { name: 'Curves' }).getAttribute('data-view'))!
    .split(' ')
    .map(Number) as [number, number];
  const part = (frame: number): [number, number] => [
    (frame - from) / (to - from),
    (box.height - 4) / box.height,
  ];
  await dragWithin(page, ruler, [part(end - 8)[0], 0.3], [part(end - 1)[0], 0.3], 'Shift');
  await dragWithin(page, ruler, part(end), part(end - 4));
  await expect(ruler).toHaveAttribute('aria-valuemax', String(end - 4));
  await expect(history(page).getByRole('button').last()).toHaveText('First, last frame and rate');
  await expect(page.getByRole('button', { name: 'Play only the marked range' })).toHaveAttribute(
    'title',
    new RegExp(`${end - 8}–${end - 4}`),
  );
  await page.keyboard.press('Control+z');
  await expect(ruler).toHaveAttribute('aria-valuemax', String(end));
});

test('an action is dragged from the open pantry onto the lanes, without a panel', async ({ page }) => {
  await takeDemo(page, 'Night round');
  await touchControl(page, 'chest');
  await openEdit(page, 'Save as action');
  await edits(page).getByRole('textbox', { name: 'Name' }).fill('Sway');
  await edits(page).getByRole('button', { name: 'Save to the pantry' }).click();
  await expect(edits(page).getByText('Saved to the pantry.')).toBeVisible();
  await page.keyboard.press('Escape');
  const drawer = page.getByRole('region', { name: 'Pantry' });
  await expect(drawer.getByRole('listitem', { name: 'Sway' })).toBeVisible();
  await drawer
    .getByRole('listitem', { name: 'Sway' })
    .dragTo(page.getByRole('application', { name: 'Curves' }), { targetPosition: { x: 120, y: 40 } });
  await expect(history(page).getByRole('button', { name: /Apply action/ })).toHaveAttribute(
    'aria-current',
    'step',
  );
});

test('a control that another leads says so, and leads there', async ({ page }) => {
  await takeDemo(page, 'First tray');
  await touchControl(page, 'forearm_l');
  const note = page.getByRole('note');
  await expect(note).toContainText('forearm_l follows hand_goal_l');
  await note.getByRole('button', { name: 'Go there' }).click();
  await expect(page.locator('[id="spot-hand_goal_l"]')).toHaveAttribute('aria-selected', 'true');
  await expect(note).toBeHidden();
});

test('after an edit that takes curves out of sight the lane frames them', async ({ page }) => {
  await takeDemo(page, 'Night round');
  await touchControl(page, 'chest');
  await page.locator('.channel-name[title="chest.ry"]').click();
  const view = async () =>
    (await page.getByRole('application', { name: 'Curves' }).getAttribute('data-view'))!
      .split(' ')
      .map(Number);
  expect((await view())[3]).toBeLessThan(300);
  await openEdit(page, 'Set value');
  await edits(page).getByRole('spinbutton').first().fill('400');
  await edits(page).getByRole('button', { name: 'Apply', exact: true }).click();
  await expect.poll(async () => (await view())[3]).toBeGreaterThan(390);
  await expect(valueField(page, 'chest ry')).toHaveValue('400.0');
});

test('what stands beside a control that says something more can be pressed at once', async ({ page }) => {
  await takeDemo(page, 'Night round');
  await page.getByText('Both', { exact: true }).click();
  await page.waitForTimeout(900);
  const ghosts = page.getByRole('button', { name: /^Ghosts/ });
  await ghosts.click({ timeout: 2000 });
  await expect(ghosts).toHaveText(/±1/);
  // Each tool of the stage and of the strip lies open under the pointer after its neighbour was pointed at.
  const tools = page.locator('.stage-tools button:visible, .strip button:visible:enabled');
  for (let i = 0; i < (await tools.count()); i += 1) {
    const box = (await tools.nth(i).boundingBox())!;
    if (i > 0) {
      await tools.nth(i - 1).hover();
      await page.waitForTimeout(700);
    }
    const open = await tools
      .nth(i)
      .evaluate((tool, at) => tool.contains(document.elementFromPoint(at.x, at.y)), {
        x: box.x + box.width / 2,
        y: box.y + box.height / 2,
      });
    expect(open, (await tools.nth(i).getAttribute('aria-label')) ?? String(i)).toBe(true);
  }
});

test('a slider goes on from where it is: a press changes nothing, a drag by its part of the way, with Shift a tenth of that; wheel and arrows step', async ({
  page,
}) => {
  await takeDemo(page, 'Night round');
  await touchControl(page, 'chest');
  await openEdit(page, 'Thin');
  const slider = page.getByRole('slider', { name: 'Tolerance, rotation' });
  const value = async () => Number(await slider.getAttribute('aria-valuenow'));
  const box = (await slider.boundingBox())!;
  expect([box.width > 180, box.height >= 24]).toEqual([true, true]);
  const first = await value();
  const y = box.y + box.height / 2;
  await page.mouse.move(box.x + 0.8 * box.width, y);
  await page.mouse.down();
  await page.mouse.up();
  expect(await value()).toBe(first);
  const [low, high] = (
    await Promise.all(['aria-valuemin', 'aria-valuemax'].map((name) => slider.getAttribute(name)))
  ).map(Number) as [number, number];
  const drag = async (by: number) => {
    await page.mouse.move(box.x + box.width / 2, y);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width / 2 + by * box.width, y, { steps: 4 });
    await page.mouse.up();
  };
  await drag(0.2);
  // The way is logarithmic.
  expect((await value()) / (first * (high / low) ** 0.2)).toBeCloseTo(1, 1);
  await page.keyboard.down('Shift');
  await drag(-0.2);
  await page.keyboard.up('Shift');
  expect((await value()) / (first * (high / low) ** 0.18)).toBeCloseTo(1, 1);
  const before = await value();
  await page.mouse.wheel(0, -100);
  await expect.poll(value).toBeGreaterThan(before);
  await page.mouse.wheel(0, 100);
  await expect.poll(value).toBeCloseTo(before, 3);
});

test('where spots lie too near to each other a close-up opens, by a touch or a hand at rest, and is gone with Escape, a choice or a touch elsewhere; of two figures one shows', async ({
  page,
}) => {
  await takeDemo(page, 'Oven door');
  const choice = page.getByRole('group', { name: 'Close-up' });
  const ask = async () => {
    const spot = (await page.locator('[id="spot-eye_l"] circle').first().boundingBox())!;
    const brow = (await page.locator('[id="spot-brow_l"] circle').first().boundingBox())!;
    await page.mouse.click(
      (spot.x + brow.x + spot.width / 2 + brow.width / 2) / 2,
      (spot.y + brow.y + spot.height / 2 + brow.height / 2) / 2,
    );
    await expect(choice).toBeVisible();
  };
  await ask();
  await page.keyboard.press('Escape');
  await expect(choice).toHaveCount(0);
  await page.mouse.move(2, 400);
  await ask();
  await page.getByRole('application', { name: 'Curves' }).click();
  await expect(choice).toHaveCount(0);
  // At rest over a hand; what stood under the pointer stands there still, and is what a touch means.
  const hand = (await page.locator('[id="spot-hand_l"] circle').first().boundingBox())!;
  const [x, y] = [hand.x + hand.width / 2, hand.y + hand.height / 2];
  await page.mouse.move(x, y);
  await expect(choice).toBeVisible();
  await page.mouse.move(x + 1, y);
  await expect(choice).toContainText('hand_l');
  await page.mouse.click(x + 1, y);
  await expect(choice).toHaveCount(0);
  await expect(page.locator('[id="spot-hand_l"][aria-selected="true"]')).toBeAttached();
  // With Shift the hand goes on choosing; just left, it does not come again of itself.
  await page.mouse.move(x, y);
  await page.waitForTimeout(600);
  await expect(choice).toHaveCount(0);
  await page.mouse.move(x, y + 60);
  await page.mouse.move(x, y);
  await expect(choice).toBeVisible();
  await page.keyboard.down('Shift');
  for (const name of ['thumb_l', 'index_l'])
    await page.locator(`[id="close-up-${name}"] circle`).first().click({ force: true });
  await page.keyboard.up('Shift');
  for (const name of ['hand_l', 'thumb_l', 'index_l'])
    await expect(page.locator(`[id="spot-${name}"][aria-selected="true"]`)).toBeAttached();
  await page.mouse.move(x, y + 300);
  await expect(choice).toHaveCount(0);
  const nib = page.locator('[id="spot-pelvis"]');
  await expect(nib).toHaveCount(0);
  await page.locator('.figure-panel .ant-segmented-item', { hasText: 'Nib' }).click();
  await expect(nib).toBeAttached();
  await expect(page.locator('[id="spot-hips"]')).toHaveCount(0);
  // What is selected elsewhere is shown.
  await page.getByRole('group', { name: 'Body parts' }).getByRole('button', { name: 'All of Bram' }).click();
  await expect(page.locator('[id="spot-hips"][aria-selected="true"]')).toBeAttached();
});

test('what is typed and left with Escape is left, wherever the next touch goes; with Enter it is given, and the focus stays in its part', async ({
  page,
}) => {
  await takeDemo(page, 'First tray');
  await touchControl(page, 'hips');
  const steps = history(page).getByRole('listitem');
  const value = page.locator('.channels input.value').nth(1);
  await value.click();
  await value.fill('12');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Gap of 8 frames at 8', exact: true }).click();
  await page.getByRole('spinbutton', { name: 'New gap at 8', exact: true }).fill('20');
  await page.keyboard.press('Escape');
  await page.getByRole('application', { name: 'Curves' }).click({ position: { x: 20, y: 20 } });
  await expect(page.getByRole('button', { name: 'Gap of 8 frames at 8', exact: true })).toBeVisible();
  await expect(steps).toHaveText(['Opened']);
  await value.click();
  await value.fill('12');
  await page.keyboard.press('Enter');
  await expect(steps).toHaveText(['Opened', 'Set hips.ty']);
  await expect(page.getByRole('region', { name: 'Figure' })).toBeFocused();
});
