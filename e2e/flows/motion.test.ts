/** Weight, contacts and flight on the shot that was made for them: Over the puddle. */
import type { Page } from '@playwright/test';
import { PNG } from 'pngjs';
import {
  applyOpen,
  edits,
  expect,
  exportedGlb,
  goToFrame,
  history,
  lanes,
  openEdit,
  pick,
  refineStep,
  reportNumber,
  saved,
  takeDemo,
  test,
  touchControl,
} from './helpers.ts';

const field = (page: Page, name: string) => edits(page).getByRole('spinbutton', { name, exact: true });
const contacts = (page: Page) => lanes(page).locator('.contact-span');

test('Over the puddle: contacts found, the leap made farther and higher, on keys and on passes', async ({
  page,
}) => {
  await takeDemo(page, 'Over the puddle');
  await test.step('contacts are found, and where it flies is said', async () => {
    await openEdit(page, 'Find contacts');
    await expect(edits(page).getByText('Nothing stands, it flies: 18 to 30.')).toBeVisible();
    await applyOpen(page);
    await expect(contacts(page)).toHaveCount(8);
    await expect(page.getByRole('button', { name: /^toe_l ball stands from 30 to 54/ })).toBeVisible();
  });
  await test.step('an edge of a contact is dragged, a contact is cut at the play-head and taken away', async () => {
    const span = page.getByRole('button', { name: /^foot_l heel stands from 0 to 14/ });
    const box = (await span.boundingBox())!;
    const frame = box.width / 15;
    await page.mouse.move(box.x + box.width, box.y + 6);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width - 2 * frame, box.y + 6, { steps: 5 });
    await page.mouse.up();
    await expect(page.getByRole('button', { name: /^foot_l heel stands from 0 to 12/ })).toBeVisible();
    await goToFrame(page, 6);
    await page.getByRole('button', { name: 'Cut the contact at the play-head' }).click();
    await expect(contacts(page)).toHaveCount(9);
    await page.getByRole('button', { name: /^foot_l heel stands from 0 to 5/ }).click();
    await page.getByRole('button', { name: 'Remove the contact' }).click();
    await expect(contacts(page)).toHaveCount(8);
    await history(page).getByRole('button', { name: 'Find contacts' }).click();
  });
  await test.step('how far the leap is from free flight is said first', async () => {
    await openEdit(page, 'Flight');
    await expect(edits(page).getByText(/Before, from 18 to 30, Bram was up to \d+/)).toBeVisible();
  });
  await test.step('it lands on the crate, and the top is pulled up: time follows, and all that comes after', async () => {
    await field(page, 'Lands at, y').fill('120');
    await field(page, 'Lands at, z').fill('196');
    await field(page, 'Top').fill('160');
    await field(page, 'Top').press('Tab');
    await expect.poll(() => reportNumber(page, 'frames in the air')).toBe(15);
    await applyOpen(page);
    await expect(page.getByText('0–57')).toBeVisible();
    await expect(page.getByRole('button', { name: /^toe_l ball stands from 33 to 57/ })).toBeVisible();
    await expect(history(page).getByRole('button', { name: 'Flight' })).toHaveAttribute(
      'aria-current',
      'step',
    );
  });
  await test.step('the same on passes: muted, he leaps as before', async () => {
    await history(page).getByRole('button', { name: 'Find contacts' }).click();
    await edits(page).getByRole('button', { name: 'Once more' }).click();
    await edits(page).getByRole('combobox', { name: 'On', exact: true }).click();
    await page.locator('.ant-select-dropdown:visible').getByTitle('passes over them').click();
    await edits(page).getByRole('combobox', { name: 'Keys', exact: true }).click();
    await page.locator('.ant-select-dropdown:visible').getByTitle('as needed').click();
    await expect.poll(() => reportNumber(page, 'off the parabola')).toBeLessThan(1);
    await applyOpen(page);
    for (const title of [/^Time of flight 1:/, /^Flight 1:/])
      await expect(page.getByTitle(title)).toBeVisible();
  });
  await test.step('feet that stand are held; what was exported has them', async () => {
    await openEdit(page, 'Hold contacts');
    await expect.poll(() => reportNumber(page, 'contacts')).toBe(8);
    await applyOpen(page);
    await saved(page);
    const root = await exportedGlb(page);
    expect(root.listAnimations()).toHaveLength(1);
  });
});

/** Where the beads of a flight lie on the stage, from left to right: what is of their colour and as thick as they are. */
async function beads(page: Page): Promise<{ x: number; y: number }[]> {
  const stage = page.locator('canvas').nth(1);
  const box = (await stage.boundingBox())!;
  const { data, width, height } = PNG.sync.read(await stage.screenshot());
  const is = (x: number, y: number) => {
    const at = 4 * (y * width + x);
    return Math.abs(data[at]! - 0xa9) + Math.abs(data[at + 1]! - 0x53) + Math.abs(data[at + 2]! - 0x1f) < 40;
  };
  const found: { x: number; y: number }[] = [];
  for (let x = 5; x < width - 5; x += 1)
    // Below the tools of the stage.
    for (let y = 50; y < height - 5; y += 1) {
      const thick = [-4, -2, 0, 2, 4].every((d) => is(x + d, y) && is(x, y + d));
      if (thick && !found.some((one) => Math.hypot(one.x - x, one.y - y) < 14)) found.push({ x, y });
    }
  return found.map(({ x, y }) => ({ x: box.x + x, y: box.y + y }));
}

test('Over the puddle: take-off, landing and top are dragged on the stage', async ({ page }) => {
  await takeDemo(page, 'Over the puddle');
  await openEdit(page, 'Find contacts');
  await applyOpen(page);
  await page.getByText('Side', { exact: true }).click();
  await openEdit(page, 'Flight');
  await expect.poll(async () => (await beads(page)).length).toBe(3);
  const dragged = async (which: number, by: readonly [number, number]) => {
    const { x, y } = (await beads(page))[which]!;
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(x + by[0], y + by[1], { steps: 6 });
    await page.mouse.up();
  };
  const number = async (name: string) => Number(await field(page, name).inputValue());
  // In the picture from the side the one end lies left, the other right; which is which, the numbers say.
  const places = await beads(page);
  await dragged(places.length - 1, [0, -30]);
  const landed = await number('Lands at, y');
  const left = await number('Takes off at, y');
  expect([landed, left].filter((value) => value > 0)).toHaveLength(1);
  const top = await number('Top');
  await dragged(1, [0, -40]);
  await expect.poll(() => number('Top')).toBeGreaterThan(top);
  await expect(edits(page).getByText('frames in the air', { exact: true })).toBeVisible();
  await applyOpen(page);
  await expect(history(page).getByRole('button', { name: 'Flight' })).toHaveCount(1);
});

test('Late round: feet that slide are found and held by name, with their heading; cut and set by hand', async ({
  page,
}) => {
  await takeDemo(page, 'Late round');
  await openEdit(page, 'Hold contacts');
  await edits(page).getByRole('button', { name: 'Find contacts' }).click();
  await applyOpen(page);
  await expect(contacts(page)).toHaveCount(8);
  await openEdit(page, 'Hold contacts');
  await edits(page).getByRole('combobox', { name: 'Contacts' }).click();
  for (const name of ['toe_r ball, 2–10', 'foot_r heel, 2–8'])
    await page.locator('.ant-select-dropdown:visible').getByTitle(name).click();
  await page.keyboard.press('Escape');
  await expect.poll(() => reportNumber(page, 'contacts')).toBe(2);
  await pick(page, 'Its turn', 'heading held');
  await expect.poll(() => reportNumber(page, 'slides at most')).toBeLessThan(1);
  await applyOpen(page);
  await openEdit(page, 'Set contact');
  await pick(page, 'Contact', 'toe_r ball, 2–10, held');
  await goToFrame(page, 6);
  await edits(page).getByRole('button', { name: 'Cut at the play-head, 6' }).click();
  await applyOpen(page);
  await expect(contacts(page)).toHaveCount(9);
  await openEdit(page, 'Give at the hips');
  await expect(edits(page).getByText('3 of 9 contacts are held')).toBeVisible();
  await openEdit(page, 'Set mass');
  await touchControl(page, 'head');
  await field(page, 'Mass').fill('20');
  await expect.poll(() => reportNumber(page, 'mass')).toBe(20);
  await applyOpen(page);
  await openEdit(page, 'Set height');
  await field(page, 'Height').fill('180');
  await applyOpen(page);
  await expect(history(page).getByRole('button', { name: 'Set height' })).toHaveCount(1);
});

test('Dough toss: the dough leaves one hand and is caught by the other, aimed', async ({ page }) => {
  await takeDemo(page, 'Dough toss (captured)');
  await goToFrame(page, 50);
  await openEdit(page, 'Throw and catch');
  for (const [who, what] of [
    ['What is thrown', 'dough'],
    ['Thrown by', 'hand_r'],
  ] as const) {
    // A long list shows what is typed.
    await edits(page).getByRole('combobox', { name: who, exact: true }).click();
    await page.keyboard.type(what);
    await page.locator('.ant-select-dropdown:visible').getByTitle(what, { exact: true }).click();
  }
  // The other hand was taken over by itself.
  await expect(edits(page).getByTitle('hand_l', { exact: true })).toBeVisible();
  await expect.poll(() => reportNumber(page, 'off the catch')).toBeLessThan(0.2);
  await expect(edits(page).getByText(/It is let go at [\d.]+ m\/s; the hand goes at/)).toBeVisible();
  await goToFrame(page, 69);
  await edits(page).getByRole('button', { name: 'Caught at: the play-head' }).click();
  await expect(field(page, 'Caught at')).toHaveValue('69');
  await expect.poll(() => reportNumber(page, 'off the catch')).toBeLessThan(0.2);
  await pick(page, 'Speed', 'that the hand has');
  await expect(edits(page).getByText(/It comes by hand_l at 69 at a distance of/)).toBeVisible();
  await pick(page, 'Speed', 'that meets the catch');
  await applyOpen(page);
  const root = await exportedGlb(page);
  expect(root.listNodes().some((node) => node.getName() === 'dough')).toBe(true);
});

test('Weight: the centre of mass on the stage; a height on Characters', async ({ page }) => {
  await takeDemo(page, 'Over the puddle');
  const weight = page.getByRole('button', { name: 'Weight', exact: true });
  await weight.click();
  await expect(weight).toHaveAttribute('aria-pressed', 'true');
  await saved(page);
  await page.goto(page.url().replace('/shots/', '/characters/'));
  const height = page.getByRole('spinbutton', { name: 'How tall Bram stands, cm' });
  await expect(height).toHaveValue('171.7');
  await height.fill('86');
  await height.press('Enter');
  await expect(page.getByText('as set: a unit counts as 0.5009 cm.')).toBeVisible();
  await expect(page.getByRole('status').filter({ hasText: 'Saved' })).toBeVisible();
});

test('Refine: the roughness lane names the worst moments, keys stay as many, and it is one step', async ({
  page,
}) => {
  await takeDemo(page, 'Over the puddle');
  await page.getByRole('button', { name: 'Roughness', exact: true }).click();
  const moments = lanes(page).locator('.rough-moments');
  await expect(moments.getByRole('button')).toHaveCount(3);
  await moments.getByRole('button').first().click();
  await expect(page.getByRole('spinbutton', { name: 'Frame', exact: true })).not.toHaveValue('0');
  await page.getByRole('group', { name: 'Body parts' }).getByText('Torso', { exact: true }).click();
  const keys = page.getByText(/^80 keys/);
  await expect(keys).toBeVisible();
  await openEdit(page, 'Refine');
  const step = () => refineStep(page);
  await test.step('it runs, and is paused; a step back is the state of then', async () => {
    await expect.poll(step).toBeGreaterThan(3);
    const pause = edits(page).getByRole('button', { name: 'Pause' });
    // It may have come to its end by itself.
    if (await pause.isEnabled()) await pause.click({ timeout: 2000 }).catch(() => undefined);
    await expect(edits(page).getByRole('button', { name: 'Go on' })).toBeEnabled();
    const stopped = await step();
    await expect.poll(() => reportNumber(page, 'steps')).toBe(stopped);
    await edits(page).getByRole('button', { name: /Back$/ }).click();
    await expect.poll(() => reportNumber(page, 'steps')).toBe(stopped - 1);
  });
  await test.step('gone on, a weight is turned, and staying close is bent in the lane: it goes on from there', async () => {
    await edits(page).getByRole('button', { name: 'Go on' }).click();
    const before = await step();
    await field(page, 'Staying close').fill('0.05');
    await expect.poll(step).toBeGreaterThan(before);
    const bent = page.getByRole('application', { name: 'Staying close along time' });
    const box = (await bent.boundingBox())!;
    await page.mouse.move(box.x + box.width * 0.4, box.y + 30);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width * 0.4, box.y + box.height - 2, { steps: 3 });
    await page.mouse.up();
    await expect(bent).toHaveAttribute('data-points', /^\d+:0$/);
    await expect.poll(step).toBeGreaterThan(before + 3);
  });
  await test.step('a touch on the plot goes back to that step, before the line was bent', async () => {
    const bent = page.getByRole('application', { name: 'Staying close along time' });
    const plot = edits(page).locator('.cost-plot');
    const { width } = (await plot.boundingBox())!;
    const last = await step();
    // The axis of numbers takes 44 pixels.
    await plot.click({ position: { x: 44 + (width - 50) / last, y: 40 } });
    await expect.poll(step).toBeLessThan(4);
    await expect(bent).toHaveAttribute('data-points', '');
  });
  await test.step('a control is held where it is, and what came of it is taken', async () => {
    await field(page, 'Staying close, chest').fill('1000');
    await expect.poll(() => reportNumber(page, 'roughness')).toBeLessThan(60);
    await applyOpen(page);
  });
  await expect(keys).toBeVisible();
  await expect(history(page).getByRole('button', { name: 'Refine' })).toHaveAttribute('aria-current', 'step');
  await page.keyboard.press('Control+z');
  await expect(history(page).getByRole('button', { name: 'Opened' })).toHaveAttribute('aria-current', 'step');
});
