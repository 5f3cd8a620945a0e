/** Two beside each other; notes; sheets that are given to somebody. */
import { readFile } from 'node:fs/promises';
import { NOTHING, rigOf, runEdit, valuesAt } from '@kneader/core';
import type { Shot } from '@kneader/core';
import { PDFDocument } from 'pdf-lib';
import type { Page } from '@playwright/test';
import { decoded, withFilmLibrary } from './film-library.ts';
import {
  demo,
  downloaded,
  dropFiles,
  expect,
  goToFrame,
  markRange,
  openShot,
  saved,
  takeDemo,
  test,
} from './helpers.ts';

/** The kneading loop with two variants: B lays a pass on the left wrist, most at 13. */
function withVariants(): Shot {
  const on = (shot: Shot, id: string, options: object) => {
    const channels = rigOf(shot).channels.flatMap((one) =>
      one.id.startsWith('hand_goal_l.t') ? [one.id] : [],
    );
    const { shot: after, report } = runEdit(id, shot, { ...NOTHING, channels }, options);
    if (report.status !== 'changed')
      throw new Error(`${id}: ${report.findings.map(({ sentence }) => sentence).join()}`);
    return after;
  };
  let shot = on(demo('kneading-loop'), 'passes.addOffset', { name: 'Wrist' });
  const pass = shot.layers.at(-1)!.id;
  for (const [frame, up] of [
    [8, 0],
    [13, 60],
    [18, 0],
  ] as const)
    shot = on(shot, 'passes.pose', { pass, frame, values: { 'hand_goal_l.tx': valueAt(shot, frame) + up } });
  shot = on(shot, 'variants.save', { name: 'B' });
  shot = on(shot, 'passes.set', { pass, muted: true });
  return on(shot, 'variants.save', { name: 'A' });
}

/** Where the wrist's goal lies, across. */
const valueAt = (shot: Shot, frame: number): number =>
  valuesAt(shot, frame)[rigOf(shot).channelIndex('hand_goal_l.tx')]!;

const choose = async (page: Page, side: 'First' | 'Second', name: string) => {
  await page.getByRole('combobox', { name: side }).click();
  await page.keyboard.type(name);
  await page.keyboard.press('Enter');
};
const wipe = (page: Page) => page.getByRole('slider', { name: 'Wipe' });

/** A row of pixels of the stage, as it is seen. */
async function stageShot(page: Page): Promise<Buffer> {
  return page.getByRole('region', { name: 'Stage' }).locator('canvas').first().screenshot();
}

test('variants under the wipe, blinked and over each other; where they part most, by mouse and keys; saved as a table', async ({
  page,
}) => {
  await openShot(page, withVariants());
  await page.getByRole('link', { name: 'Compare' }).click();
  await choose(page, 'First', 'Variant A');
  await choose(page, 'Second', 'Variant B');
  await expect(page).toHaveURL(/a=variant.*b=variant/);
  const greatest = page.getByRole('button', { name: /^Farthest apart/ });
  await expect(greatest).toContainText(/hand\w*_l at 13/);
  await greatest.click();
  await expect(page.getByRole('spinbutton', { name: 'Frame', exact: true })).toHaveValue('13');

  await test.step('the wipe follows a drag and the arrows, and the picture with it', async () => {
    const box = (await wipe(page).boundingBox())!;
    const before = await stageShot(page);
    await page.mouse.move(box.x + box.width / 2, box.y + 60);
    await page.mouse.down();
    await page.mouse.move(box.x - 200, box.y + 60, { steps: 6 });
    await page.mouse.up();
    expect(Number(await wipe(page).getAttribute('aria-valuenow'))).toBeLessThan(35);
    await expect(async () => expect((await stageShot(page)).equals(before)).toBe(false)).toPass();
    await wipe(page).focus();
    const now = Number(await wipe(page).getAttribute('aria-valuenow'));
    await page.keyboard.press('ArrowRight');
    await expect(wipe(page)).toHaveAttribute('aria-valuenow', String(now + 2));
    await expect(page.getByRole('spinbutton', { name: 'Frame', exact: true })).toHaveValue('13');
  });

  await test.step('other looks', async () => {
    const look = page.getByLabel('Look');
    await look.getByText('Over').click();
    await expect(wipe(page)).toHaveCount(0);
    await look.getByText('Blink').click();
    const name = page.locator('.compare-name');
    const first = await name.innerText();
    await expect(name).not.toHaveText(first, { timeout: 2000 });
    await look.getByText('Beside').click();
    await expect(name).toHaveText(['A', 'B']);
    await page.getByLabel('Views').getByText('Each').click();
  });

  await test.step('the heat table by keys', async () => {
    const heat = page.getByRole('listbox', { name: 'Differences by joint and frame' });
    await page.getByRole('spinbutton', { name: 'Frame', exact: true }).fill('2');
    await page.keyboard.press('Enter');
    await heat.focus();
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('spinbutton', { name: 'Frame', exact: true })).toHaveValue('13');
    await expect(heat.getByRole('option', { selected: true })).toHaveCount(1);
  });

  await test.step('as CSV', async () => {
    const file = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Save as CSV' }).click();
    const [head, ...rows] = (await downloaded(await file)).toString().trim().split('\n');
    const column = head!.split(',').findIndex((field) => field === 'hand_goal_l.mm');
    const values = rows.map((row) => Number(row.split(',')[column]));
    expect(rows).toHaveLength(25);
    expect(values.indexOf(Math.max(...values))).toBe(13);
    expect(values[0]).toBe(0);
  });

  await test.step('and back to the bench, where everything is as it was', async () => {
    await page.keyboard.press('Shift+C');
    await expect(page.getByRole('region', { name: 'Lanes' })).toBeVisible();
    await page.keyboard.press('Shift+C');
    await expect(page.getByRole('listbox', { name: 'Differences by joint and frame' })).toBeVisible();
  });
});

test('before and after retiming: the time found, a film of both side by side, and what cannot be compared', async ({
  page,
}) => {
  await takeDemo(page, 'Kneading loop');
  // Twice as long from here on: done on the bench, so that there is a before.
  await page.keyboard.press('/');
  await page.getByRole('textbox', { name: 'Find an edit' }).fill('Stretch');
  await page.keyboard.press('Enter');
  await page.getByRole('spinbutton', { name: /Factor/ }).fill('2');
  await page.getByRole('button', { name: 'Apply' }).first().click();
  await page.getByRole('link', { name: 'Compare' }).click();
  await page.getByRole('combobox', { name: 'Time by' }).click();
  await page.getByText('Found in the poses').click();
  await page.getByRole('tab', { name: 'Time' }).click();
  await expect(page.locator('.compare-plot .recharts-line-curve')).toBeVisible();
  const apart = page.getByRole('button', { name: /^Farthest apart/ }).or(page.getByText('No place differs'));
  await expect(apart).toBeVisible();

  await withFilmLibrary(page);
  await page.getByLabel('Look').getByText('Beside').click();
  await page.getByRole('button', { name: 'Film' }).click();
  const dialog = page.getByRole('dialog', { name: /Film of/ });
  await dialog.getByRole('spinbutton', { name: 'First frame' }).fill('4');
  await dialog.getByRole('spinbutton', { name: 'Last frame' }).fill('9');
  const file = page.waitForEvent('download', { timeout: 60_000 });
  await dialog.getByRole('button', { name: 'Make it' }).click();
  const film = await decoded(page, await downloaded(await file));
  expect([film.width, film.height]).toEqual([1280, 720]);
  expect(film.pictures).toHaveLength(6);
  film.pictures.forEach(({ at }, k) => expect(Math.abs(at - k / 24)).toBeLessThan(0.5 / 24));

  await page.goto(`${new URL(page.url()).pathname}?a=now&b=shot:nobody`);
  await expect(page.getByRole('alert')).toContainText('There is no such shot here');
});

test('notes at a frame and over a range, one done; a contact sheet with them and a timing sheet', async ({
  page,
}) => {
  await takeDemo(page, 'First tray');
  await goToFrame(page, 24);
  await page.keyboard.press('Shift+N');
  await page.keyboard.type('The wrist is late');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Close' }).click();
  await markRange(page, 40, 60);
  await page.keyboard.press('Shift+N');
  await page.keyboard.type('Too even');
  await page.getByRole('textbox', { name: 'By' }).fill('Ada');
  await page.getByRole('button', { name: 'Write' }).click();
  const list = page.getByRole('list', { name: 'All notes' });
  await expect(list.getByRole('listitem')).toHaveCount(2);
  await page.getByRole('checkbox', { name: 'Done: The wrist is late' }).check();
  await expect(page.getByRole('button', { name: 'Notes 1 of 2 open' })).toBeVisible();
  await page.getByRole('button', { name: 'Close' }).click();
  await goToFrame(page, 3);
  await page.getByRole('button', { name: 'Note at 40–60: Too even' }).click();
  await expect(page.getByRole('spinbutton', { name: 'Frame', exact: true })).toHaveValue('40');
  await page.getByRole('button', { name: 'Close' }).click();
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: 'Notes 2 of 2 open' })).toBeVisible();
  await page.keyboard.press('Control+y');

  await page.getByRole('button', { name: 'Export' }).click();
  await page.getByRole('menuitem', { name: 'Sheet to print' }).click();
  const dialog = page.getByRole('dialog', { name: 'Sheet to print' });
  const give = async (kind: string) => {
    const file = page.waitForEvent('download');
    await dialog.getByRole('button', { name: kind, exact: true }).click();
    return downloaded(await file);
  };
  await expect(dialog.getByRole('img', { name: /contact sheet/ })).toBeVisible();
  const svg = (await give('SVG')).toString();
  expect(svg).toContain('24 (done): The wrist is late');
  expect(svg).toContain('40–60 Ada: Too even');
  const png = await give('PNG');
  expect(png.subarray(1, 4).toString()).toBe('PNG');
  expect(png.readUInt32BE(16)).toBe(1684);
  await dialog.getByRole('combobox', { name: 'Sheet' }).click();
  await page.getByTitle('Timing sheet').click();
  await expect(dialog.getByRole('img', { name: /timing sheet/ })).toBeVisible();
  const pdf = await PDFDocument.load(await give('PDF'));
  expect(pdf.getPageCount()).toBe(2);
  expect(pdf.getTitle()).toBe('First tray');
});

test('figures of two makes: mapped, shown in one size, at the rate of the first; one of them in its own skin', async ({
  page,
}) => {
  await page.goto('/');
  await dropFiles(page, [
    { name: '01_01.bvh', content: await readFile('/usr/share/assimp/models/BVH/01_01.bvh') },
  ]);
  await expect(page.getByText('of 0–2751, 120/s')).toBeVisible();
  await saved(page);
  await page.getByRole('link', { name: 'Back to the shots' }).click();
  await page.getByRole('article', { name: 'Demo: Bram in one skin' }).getByRole('button').click();
  await page.getByRole('button', { name: /^Take 1 shot/ }).click();
  await expect(page.getByRole('combobox', { name: 'Figures as' })).toBeVisible();
  await saved(page);
  await takeDemo(page, 'Night round');
  await saved(page);
  await page.getByRole('link', { name: 'Compare' }).click();
  await choose(page, 'Second', 'Bram in one skin');
  await expect(page.getByText('No place differs')).toBeVisible();
  await page.getByLabel('Look').getByText('Over').click();
  const alone = await stageShot(page);
  await choose(page, 'Second', '01_01');
  await expect(page.getByText(/Joints of other names were mapped/)).toBeVisible();
  await expect(page.locator('.compare-name').nth(1)).toHaveText('01_01 × 5.34');
  await expect(page.getByText('of 0–16, 24/s')).toBeVisible();
  await expect(async () => expect((await stageShot(page)).equals(alone)).toBe(false)).toPass();
  await page.getByRole('button', { name: 'Exchange the two' }).click();
  await expect(page.getByText('of 0–2751, 120/s')).toBeVisible();
  await expect(page.locator('.compare-name').nth(1)).toHaveText('Now × 0.187');
});
