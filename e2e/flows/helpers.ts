/** What the flows share: a page that fails on any exception or error in the console, and ways to touch the bench. */
import { readFile } from 'node:fs/promises';
import { NodeIO } from '@gltf-transform/core';
import type { Root } from '@gltf-transform/core';
import { DEMO_SHOTS, writeShotFile } from '@kneader/core';
import type { Shot } from '@kneader/core';
import { expect, test as base } from '@playwright/test';
import type { Download, Locator, Page } from '@playwright/test';

/** Messages of the browser and of WebGL that are not ours. */
const NOT_OURS = /GPU stall due to ReadPixels|THREE\.Clock/;

export const test = base.extend<{ quiet: void }>({
  quiet: [
    async ({ page }, use) => {
      const problems: string[] = [];
      page.on('pageerror', (error) => problems.push(error.message));
      page.on('console', (message) => {
        if (message.type() === 'error' && !NOT_OURS.test(message.text())) problems.push(message.text());
      });
      await use();
      expect(problems).toEqual([]);
    },
    { auto: true },
  ],
});
export { expect };

/** Takes a copy of a demo shot and waits for the bench. */
export async function takeDemo(page: Page, name: string): Promise<void> {
  await page.goto('/');
  await page
    .getByRole('article', { name: `Demo: ${name}` })
    .getByRole('button', { name: 'Take a copy' })
    .click();
  await expect(page.getByRole('region', { name: 'Stage' })).toBeVisible();
  await expect(page.getByText(name).first()).toBeVisible();
}

/** Drops files onto the page, as a hand does from a folder. */
export async function dropFiles(
  page: Page,
  files: readonly { readonly name: string; readonly content: string | Buffer }[],
): Promise<void> {
  const given = files.map(({ name, content }) => ({ name, base64: Buffer.from(content).toString('base64') }));
  const transfer = await page.evaluateHandle((list) => {
    const data = new DataTransfer();
    for (const { name, base64 } of list) {
      const bytes = Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0));
      data.items.add(new File([bytes], name));
    }
    return data;
  }, given);
  await page.getByRole('main').dispatchEvent('drop', { dataTransfer: transfer });
}

export const lanes = (page: Page) => page.getByRole('region', { name: 'Lanes' });
export const edits = (page: Page) => page.getByRole('complementary', { name: 'Edits' });
export const history = (page: Page) => page.getByRole('region', { name: 'History' });

export async function openEdit(page: Page, title: string): Promise<void> {
  const open = page.locator('.edit.open > .edit-title');
  if ((await open.count()) > 0 && (await open.innerText()) === title) return;
  await edits(page)
    .getByRole('button', { name: /^Find \// })
    .click();
  await page.getByRole('textbox', { name: 'Find an edit' }).fill(title);
  await page
    .getByRole('list', { name: 'Found edits' })
    .getByRole('button')
    .filter({ has: page.getByText(title, { exact: true }) })
    .click();
  await expect(open).toHaveText(title);
  await expect(page.getByRole('dialog')).toBeHidden();
}

export async function goToFrame(page: Page, frame: number): Promise<void> {
  await page.getByRole('spinbutton', { name: 'Frame', exact: true }).fill(String(frame));
  await page.keyboard.press('Enter');
  // Keystrokes go to the bench again.
  await page.getByRole('application', { name: 'Curves' }).focus();
}

/** Touches a control on the figure; where spots lie too near to each other a close-up opens. */
export async function touchControl(page: Page, name: string, modifier?: 'Shift'): Promise<void> {
  // Of several figures one shows at a time.
  const spot = page.locator(`[id="spot-${name}"]`);
  if ((await spot.count()) === 0)
    for (const tab of await page.locator('.figure-panel .ant-segmented-item').all()) {
      await tab.click();
      if ((await spot.count()) > 0) break;
    }
  // The first shape of a spot is as large as what is touched.
  const box = (await page.locator(`[id="spot-${name}"] circle`).first().boundingBox())!;
  if (modifier) await page.keyboard.down(modifier);
  await page.mouse.click(box.x + box.width / 2, box.y + box.height / 2);
  if (modifier) await page.keyboard.up(modifier);
  const closeUp = page.getByRole('group', { name: 'Close-up' });
  const chosen = page.locator(`[id="spot-${name}"][aria-selected="true"]`);
  const all = page.locator('[id^="spot-"][aria-selected="true"]');
  // It may have been selected already, among others.
  const isDone = async () =>
    (await chosen.count()) === 1 && (modifier !== undefined || (await all.count()) === 1);
  await expect.poll(async () => (await closeUp.count()) > 0 || (await isDone())).toBe(true);
  if ((await closeUp.count()) > 0) {
    if (modifier) await page.keyboard.down(modifier);
    await page.locator(`[id="close-up-${name}"] circle`).first().click({ force: true });
    if (modifier) await page.keyboard.up(modifier);
  }
  // With Shift it stays until the hand leaves.
  if ((await closeUp.count()) > 0) await page.mouse.move(2, 400);
  await expect(chosen).toBeAttached();
}

/** A channel's field under the figure. */
export const valueField = (page: Page, label: string): Locator =>
  page.getByRole('textbox', { name: label, exact: true });

export async function saved(page: Page): Promise<void> {
  await expect(page.getByRole('status').filter({ hasText: /^Saved$/ })).toBeVisible();
}

export async function downloaded(download: Download): Promise<Buffer> {
  return readFile(await download.path());
}

/** What an independent reader finds in the file that is asked for with these keys or this pointer. */
export async function exportedGlb(page: Page, ask?: () => Promise<void>): Promise<Root> {
  const file = page.waitForEvent('download');
  if (ask) await ask();
  else {
    await page.getByRole('button', { name: 'Export' }).click();
    await page.getByRole('menuitem', { name: /glTF/ }).click();
  }
  return (await new NodeIO().readBinary(new Uint8Array(await downloaded(await file)))).getRoot();
}

/** A node's animated property as the file has it: seconds, and the values at them. */
export function animated(root: Root, node: string, path: 'translation' | 'rotation') {
  const channel = root
    .listAnimations()
    .flatMap((animation) => animation.listChannels())
    .find((one) => one.getTargetNode()?.getName() === node && one.getTargetPath() === path)!;
  const sampler = channel.getSampler()!;
  const [input, output] = [sampler.getInput()!, sampler.getOutput()!];
  // A cubic spline has a tangent on each side of its value.
  const [first, step] = sampler.getInterpolation() === 'CUBICSPLINE' ? [1, 3] : [0, 1];
  return Array.from({ length: input.getCount() }, (_, i) => ({
    time: input.getScalar(i),
    value: output.getElement<number[]>(first + i * step, []),
  }));
}

/** Marks a range on the ruler by its frames. */
export async function markRange(page: Page, from: number, to: number): Promise<void> {
  const ruler = page.getByRole('slider', { name: 'Play-head' });
  const box = (await ruler.boundingBox())!;
  const [low, high] = (await page.getByRole('application', { name: 'Curves' }).getAttribute('data-view'))!
    .split(' ')
    .map(Number) as [number, number];
  const x = (frame: number) => box.x + ((frame - low) / (high - low)) * box.width;
  await page.keyboard.down('Shift');
  await page.mouse.move(x(from), box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(x(to), box.y + box.height / 2, { steps: 6 });
  await page.mouse.up();
  await page.keyboard.up('Shift');
}
/** Picks lines of a list in the open edit. */
export async function pick(page: Page, label: string, ...titles: string[]): Promise<void> {
  await edits(page).getByRole('combobox', { name: label, exact: true }).click();
  for (const title of titles)
    await page.locator('.ant-select-dropdown:visible').getByTitle(title, { exact: true }).click();
}

/** Drags between two places of an element, given as parts of its width and height. */
export async function dragWithin(
  page: Page,
  target: Locator,
  from: [number, number],
  to: [number, number],
  modifier?: 'Shift' | 'Alt',
): Promise<void> {
  const box = (await target.boundingBox())!;
  const at = ([x, y]: [number, number]) => [box.x + box.width * x, box.y + box.height * y] as const;
  await page.mouse.move(...at(from));
  if (modifier) await page.keyboard.down(modifier);
  await page.mouse.down();
  await page.mouse.move(...at(to), { steps: 6 });
  await page.mouse.up();
  if (modifier) await page.keyboard.up(modifier);
}

/** The number that a report line begins or ends with. */
export async function reportNumber(page: Page, name: string): Promise<number> {
  const line = edits(page)
    .getByRole('status', { name: 'Report' })
    .locator('div')
    .filter({ has: page.getByText(name, { exact: true }) });
  const text = await line.locator('dd').innerText();
  return Number(
    text
      .replace(/.*→/, '')
      .replace(/,/g, '')
      .match(/-?[\d.]+/)![0],
  );
}

/** Applies what the open panel tries; a panel that has applied already tries once more first. */
export async function applyOpen(page: Page): Promise<void> {
  const again = edits(page).getByRole('button', { name: 'Once more' });
  if (await again.isVisible()) await again.click();
  await edits(page).getByRole('button', { name: 'Apply', exact: true }).click();
}

/** Tries to make a whole walk out of half a cycle: hands and tray are left out. */
export async function tryWholeWalk(page: Page): Promise<void> {
  await openEdit(page, 'Flip a range');
  for (const option of ['Place it after', 'Hands take part', 'Props take part'])
    await edits(page).getByText(option).click();
  await expect.poll(() => reportNumber(page, 'curves')).toBeGreaterThan(40);
}

/** A whole walk of four rounds, 0 to 127. */
export async function wholeWalk(page: Page): Promise<void> {
  await takeDemo(page, 'Night round');
  await tryWholeWalk(page);
  await edits(page).getByRole('button', { name: 'Apply', exact: true }).click();
  await openEdit(page, 'Loop');
  await edits(page).getByRole('spinbutton', { name: 'Times' }).fill('4');
  await edits(page).getByRole('button', { name: 'Apply', exact: true }).click();
  await expect(page.getByText('of 0–127')).toBeVisible();
}

/** The step that Refine has come to, as its panel says it. */
export async function refineStep(page: Page): Promise<number> {
  const said = await edits(page)
    .getByText(/^step \d+/)
    .textContent();
  return Number(/\d+/.exec(said!)![0]);
}

/** Types values on the chest's channel, one edit each. */
export async function typeValues(page: Page, values: readonly number[]): Promise<void> {
  const field = valueField(page, 'chest ry');
  for (const value of values) {
    await field.fill(String(value));
    await page.keyboard.press('Enter');
  }
}

/** A demo with its chest chosen, stored; gives its address. */
export async function openChest(page: Page): Promise<string> {
  await takeDemo(page, 'Night round');
  await touchControl(page, 'chest');
  await saved(page);
  return page.url();
}

/** The bench has opened, and the chest shows a value. */
export async function valueIs(page: Page, value: number): Promise<void> {
  await expect(page.getByRole('application', { name: 'Curves' })).toBeVisible();
  await touchControl(page, 'chest');
  await expect(valueField(page, 'chest ry')).toHaveValue(value.toFixed(1));
}

/** Pixels of a frame and a value in the lane of the curves. */
export async function placeInCurves(page: Page, frame: number, value: number): Promise<[number, number]> {
  const lane = page.getByRole('application', { name: 'Curves' });
  const { x, y, width, height } = (await lane.boundingBox())!;
  const view = (await lane.getAttribute('data-view'))!.split(' ').map(Number);
  const [from, to, low, high] = view as [number, number, number, number];
  return [x + ((frame - from) / (to - from)) * width, y + ((high - value) / (high - low)) * height];
}

/** A shot of the demo as it ships. */
export const demo = (id: string) => DEMO_SHOTS.find((one) => one.id === id)!.make();

/** Opens a shot that was made for the flow. */
export async function openShot(page: Page, shot: Shot): Promise<void> {
  await page.goto('/');
  await dropFiles(page, [{ name: `${shot.name}.kneader.json`, content: writeShotFile(shot) }]);
  await expect(page.getByRole('region', { name: 'Stage' })).toBeVisible({ timeout: 20_000 });
}
