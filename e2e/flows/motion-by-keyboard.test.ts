/** Weight, feet that stand and refining without a pointer. */
import { readFile } from 'node:fs/promises';
import { apply, chooseControl, find, press, tabTo, takeDemo } from './hands-on-keys.ts';
import {
  dropFiles,
  edits,
  expect,
  exportedGlb,
  history,
  lanes,
  refineStep,
  reportNumber,
  saved,
  test,
} from './helpers.ts';

test('Night round: what hangs follows through; feet found and held, and they still stand when the walk is stretched', async ({
  page,
}) => {
  await takeDemo(page, 'Night round');
  await find(page, 'Find contacts');
  await apply(page, 'Find contacts');
  await expect(lanes(page).locator('.contact-span').first()).toBeVisible();
  await find(page, 'Hold contacts');
  const slides = await reportNumber(page, 'slides at most');
  await apply(page, 'Hold contacts');
  await find(page, 'Stretch');
  await tabTo(page, edits(page).getByRole('spinbutton').first(), 140);
  await page.keyboard.press('Control+a');
  await page.keyboard.type('130');
  await page.keyboard.press('Tab');
  await tabTo(page, page.getByRole('application', { name: 'Curves' }), 140);
  await apply(page, 'Stretch');
  await find(page, 'Hold contacts');
  await expect.poll(() => reportNumber(page, 'slides at most')).toBeLessThan(Math.max(1, slides) + 0.5);
  await page.keyboard.press('Escape');
  await chooseControl(page, 'tassel_1');
  await find(page, 'Add filter');
  const follow = edits(page).getByRole('radio', { name: 'Follow-through' });
  await follow.focus();
  await page.keyboard.press('Enter');
  await expect(follow).toBeChecked();
  await tabTo(page, page.getByRole('application', { name: 'Curves' }), 140);
  await page.keyboard.press('Enter');
  await expect(page.locator('.pass-name', { hasText: 'Follow-through 1' })).toBeVisible();
});

test('First tray: splined, then refined: paused, a step back, gone on, taken', async ({ page }) => {
  await takeDemo(page, 'First tray');
  await press(page, 'Torso');
  await find(page, 'Stepped to spline');
  await apply(page, 'Stepped to spline');
  await find(page, 'Refine');
  const step = () => refineStep(page);
  await expect.poll(step).toBeGreaterThan(3);
  const pause = edits(page).getByRole('button', { name: 'Pause' });
  await expect(async () => {
    if (await pause.isEnabled()) await pause.press('Enter', { timeout: 500 });
    await expect(edits(page).getByRole('button', { name: 'Go on' })).toBeEnabled({ timeout: 500 });
  }).toPass();
  const stopped = await step();
  await press(page, /Back$/);
  await expect.poll(() => reportNumber(page, 'steps')).toBe(stopped - 1);
  await tabTo(page, edits(page).getByRole('spinbutton', { name: 'Staying close, chest' }), 140);
  await page.keyboard.press('Control+a');
  await page.keyboard.type('1000');
  await page.keyboard.press('Tab');
  await expect.poll(step).toBeGreaterThan(stopped - 1);
  await expect.poll(() => reportNumber(page, 'roughness')).toBeLessThan(95);
  // The focus is on the weight’s slider now: Enter applies from there.
  await apply(page, 'Refine');
});

test('01_01.bvh: how tall he is, by his own leaps; contacts and flights found', async ({ page }) => {
  await page.goto('/');
  await dropFiles(page, [
    { name: '01_01.bvh', content: await readFile('/usr/share/assimp/models/BVH/01_01.bvh') },
  ]);
  await expect(page.getByText('of 0–2751, 120/s')).toBeVisible();
  await expect(page.getByText(/stands 27.2 high: how tall is that, for gravity\?/)).toBeVisible();
  const byLeaps = page.getByRole('button', { name: /cm, by its own leaps$/ });
  const said = Number(/(\d+) cm/.exec((await byLeaps.textContent())!)![1]);
  // 27.2 units of 1/0.45 inch are 153.5 cm: what the data set says of its own unit.
  expect(Math.abs(said / 153.5 - 1)).toBeLessThan(0.1);
  await press(page, /cm, by its own leaps$/);
  await expect(history(page).getByRole('button', { name: 'Set height' })).toBeVisible();
  await expect(page.getByText(/how tall is that/)).toBeHidden();
  await find(page, 'Find contacts');
  await expect(edits(page).getByText(/Nothing stands, it flies: /)).toBeVisible();
  await apply(page, 'Find contacts');
  await saved(page);
  expect((await exportedGlb(page)).listAnimations()).toHaveLength(1);
});
