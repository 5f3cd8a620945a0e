/** Two beside each other; notes; footage to look at; films and sheets that are given to somebody. */
import { readFile } from 'node:fs/promises';
import { DEMO_SHOTS, NOTHING, rigOf, runEdit, valuesAt, writeShotFile } from '@kneader/core';
import type { Shot } from '@kneader/core';
import { ZipReader, Uint8ArrayReader, Uint8ArrayWriter } from '@zip.js/zip.js';
import { PDFDocument } from 'pdf-lib';
import type { Page } from '@playwright/test';
import { countedFilm, decoded, withFilmLibrary } from './film-library.ts';
import {
  downloaded,
  dropFiles,
  edits,
  expect,
  goToFrame,
  history,
  lanes,
  markRange,
  saved,
  takeDemo,
  test,
} from './helpers.ts';

const demo = (id: string) => DEMO_SHOTS.find((one) => one.id === id)!.make();

/** Opens a shot that was made for the flow. */
async function openShot(page: Page, shot: Shot): Promise<void> {
  await page.goto('/');
  await dropFiles(page, [{ name: `${shot.name}.kneader.json`, content: writeShotFile(shot) }]);
  await expect(page.getByRole('region', { name: 'Stage' })).toBeVisible({ timeout: 20_000 });
}

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

test('a reference film beside the stage: offset, slowed, marked into pose columns, hidden, kept', async ({
  page,
}) => {
  await takeDemo(page, 'First tray');
  await withFilmLibrary(page);
  const film = Buffer.from(await countedFilm(page, 100, 24), 'base64');
  await page.locator('.stage-tools').getByRole('button', { name: 'Film' }).click();
  const pane = page.getByRole('region', { name: 'Reference film' });
  await pane
    .locator('input[type=file]')
    .setInputFiles({ name: 'counted.webm', mimeType: 'video/webm', buffer: film });
  const picture = pane.locator('canvas');
  await expect(picture).toBeVisible();
  /** Which picture of the film is shown: it says so by its grey. */
  const shown = async () => {
    const grey = await picture.evaluate(
      (canvas: HTMLCanvasElement) => canvas.getContext('2d')!.getImageData(80, 48, 1, 1).data[0]!,
    );
    return Math.round((grey - 20) / 2);
  };
  await goToFrame(page, 31);
  await expect.poll(shown).toBe(31);

  await test.step('frame by frame', async () => {
    for (const frame of [32, 33, 34]) {
      await page.keyboard.press('ArrowRight');
      await expect.poll(shown).toBe(frame);
    }
  });
  await pane.getByRole('spinbutton', { name: 'The film begins at frame' }).fill('12');
  await page.keyboard.press('Enter');
  await expect.poll(shown).toBe(22);
  await pane.getByRole('spinbutton', { name: 'Rate of the film' }).fill('0.8');
  await page.keyboard.press('Enter');
  // 22 frames on at 0.8 are 17.6 pictures.
  await expect.poll(shown).toBe(17);

  await test.step('three marks become pose columns', async () => {
    const marks = pane.getByRole('group', { name: 'Marks' });
    for (const frame of [21, 37, 53]) {
      await goToFrame(page, frame);
      await marks.getByRole('button', { name: 'Mark here' }).click();
      await expect(marks.getByRole('button', { name: String(frame), exact: true })).toBeVisible();
    }
    await expect(page.getByText('14 columns')).toBeVisible();
    await marks.getByRole('button', { name: 'Bring poses here' }).click();
    await expect(page.getByText('Old frames along, new ones up')).toBeVisible();
    await edits(page).getByRole('button', { name: 'Apply', exact: true }).click();
    await expect(history(page).getByRole('button', { name: 'Warp' })).toHaveCount(1);
    await expect(lanes(page).getByRole('group', { name: /^Poses at / })).toHaveAttribute(
      'aria-label',
      /\b21, .*\b37, .*\b53, /,
    );
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Escape');
    await marks.getByRole('button', { name: 'Make pose columns' }).click();
    await expect(page.getByText('17 columns')).toBeVisible();
  });
  await saved(page);
  await pane.getByRole('button', { name: 'Hide' }).click();
  await expect(pane).toHaveCount(0);
  await page.reload();
  await expect(page.getByRole('region', { name: 'Stage' })).toBeVisible();
  await expect(pane).toHaveCount(0);
  await page.locator('.stage-tools').getByRole('button', { name: 'Film' }).click();
  await expect(pane.getByRole('spinbutton', { name: 'Rate of the film' })).toHaveValue('0.80');
  await goToFrame(page, 34);
  await expect.poll(shown).toBe(17);
  await expect(pane.getByRole('group', { name: 'Marks' }).getByRole('button')).toHaveCount(6);

  await test.step('what is no film is refused with a sentence, and the film stays', async () => {
    await pane.getByRole('button', { name: 'Take away' }).click();
    await page.getByRole('button', { name: 'Take it away' }).click();
    await pane
      .locator('input[type=file]')
      .setInputFiles({ name: 'notes.webm', mimeType: 'video/webm', buffer: Buffer.from('no film at all') });
    await expect(pane.getByRole('alert')).toContainText('This browser cannot read that film');
  });
});

test('numbered pictures run at the shot’s rate, in the order of their numbers; with no room left they stay in sight, which is said', async ({
  page,
}) => {
  await takeDemo(page, 'First tray');
  await saved(page);
  const pictures = await page.evaluate(() =>
    Promise.all(
      [0, 1, 2, 3].map(async (k) => {
        const canvas = new OffscreenCanvas(64, 36);
        const picture = canvas.getContext('2d')!;
        picture.fillStyle = `rgb(${40 + 50 * k} 0 0)`;
        picture.fillRect(0, 0, 64, 36);
        const bytes = new Uint8Array(await (await canvas.convertToBlob({ type: 'image/png' })).arrayBuffer());
        return btoa(String.fromCharCode(...bytes));
      }),
    ),
  );
  const file = (k: number) => ({
    name: `walk.${8 + k}.png`,
    mimeType: 'image/png',
    buffer: Buffer.from(pictures[k]!, 'base64'),
  });
  await page.evaluate(() => {
    const put: unknown = Reflect.get(IDBObjectStore.prototype, 'put');
    IDBObjectStore.prototype.put = () => {
      throw new DOMException('full', 'QuotaExceededError');
    };
    Object.assign(window, { makeRoom: () => Object.assign(IDBObjectStore.prototype, { put }) });
  });
  await page.locator('.stage-tools').getByRole('button', { name: 'Film' }).click();
  const pane = page.getByRole('region', { name: 'Reference film' });
  // 8, 9, 10, 11: by their numbers, and not by their letters.
  await pane.locator('input[type=file]').setInputFiles([2, 0, 3, 1].map(file));
  const red = () =>
    pane
      .locator('canvas')
      .evaluate((canvas: HTMLCanvasElement) => canvas.getContext('2d')!.getImageData(20, 20, 1, 1).data[0]!);
  for (const [frame, wanted] of [
    [0, 40],
    [1, 90],
    [2, 140],
    [3, 190],
  ] as const) {
    await goToFrame(page, frame);
    await expect.poll(red).toBe(wanted);
  }
  await expect(pane.getByRole('alert')).toContainText('The film is not kept for the next time');
  await page.evaluate(() => (window as unknown as { makeRoom: () => void }).makeRoom());
  await pane.getByRole('spinbutton', { name: 'The film begins at frame' }).fill('2');
  await page.keyboard.press('Enter');
  await expect(pane.getByRole('alert')).toHaveCount(0);
  await page.reload();
  await goToFrame(page, 3);
  await expect.poll(red).toBe(90);
  await page.getByRole('link', { name: 'Back to the shots' }).click();
  await expect(page.getByText(/less than 0\.1 MB by films beside shots/)).toBeVisible();
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

test('Oven door through its camera at 23.976, decoded again; numbered pictures with nothing behind; left in the middle', async ({
  page,
}) => {
  const { shot } = runEdit('timing.setShot', demo('oven-door'), NOTHING, {
    rate: 24000 / 1001,
    keep: 'frames',
  });
  await openShot(page, shot);
  await withFilmLibrary(page);
  const open = async () => {
    await page.getByRole('button', { name: 'Export' }).click();
    await page.getByRole('menuitem', { name: 'Film or pictures' }).click();
    return page.getByRole('dialog', { name: 'Film or numbered pictures' });
  };
  const pick = async (dialog: Awaited<ReturnType<typeof open>>, label: string, title: string) => {
    await dialog.getByRole('combobox', { name: label }).click();
    await page
      .locator('.ant-select-dropdown:not(.ant-select-dropdown-hidden)')
      .getByText(title, { exact: true })
      .click();
  };
  let dialog = await open();
  await pick(dialog, 'View', 'The shot’s camera');
  await dialog.getByRole('spinbutton', { name: 'First frame' }).fill('20');
  await dialog.getByRole('spinbutton', { name: 'Last frame' }).fill('43');
  const film = page.waitForEvent('download', { timeout: 90_000 });
  await dialog.getByRole('button', { name: 'Make it' }).click();
  const { width, height, pictures } = await decoded(page, await downloaded(await film));
  expect([width, height]).toEqual([1280, 720]);
  expect(pictures).toHaveLength(24);
  const tick = 1001 / 24000;
  pictures.forEach(({ at }, k) => expect(Math.abs(at - k * tick)).toBeLessThan(tick / 2));
  // He moves all the time here: no picture is the one before.
  for (let k = 1; k < pictures.length; k += 1) {
    const [before, now] = [pictures[k - 1]!.looks, pictures[k]!.looks];
    expect(now.reduce((sum, value, i) => sum + Math.abs(value - before[i]!), 0)).toBeGreaterThan(0);
  }

  dialog = await open();
  await pick(dialog, 'As', 'Numbered pictures, PNG in a zip');
  await pick(dialog, 'Behind', 'Nothing');
  await dialog.getByRole('spinbutton', { name: 'First frame' }).fill('20');
  await dialog.getByRole('spinbutton', { name: 'Last frame' }).fill('22');
  const zip = page.waitForEvent('download', { timeout: 60_000 });
  await dialog.getByRole('button', { name: 'Make it' }).click();
  const entries = await new ZipReader(
    new Uint8ArrayReader(new Uint8Array(await downloaded(await zip))),
  ).getEntries();
  expect(entries.map(({ filename }) => filename)).toEqual(['0020.png', '0021.png', '0022.png']);
  const first = entries[0]!;
  const png = first.directory ? null : await first.getData(new Uint8ArrayWriter());
  const alpha = await page.evaluate(async (base64) => {
    const bytes = Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0));
    const image = await createImageBitmap(new Blob([bytes], { type: 'image/png' }));
    const canvas = new OffscreenCanvas(image.width, image.height);
    const context = canvas.getContext('2d')!;
    context.drawImage(image, 0, 0);
    const { data } = context.getImageData(0, 0, image.width, image.height);
    const counts = { width: image.width, clear: 0, full: 0 };
    for (let i = 3; i < data.length; i += 4) counts[data[i] === 0 ? 'clear' : 'full'] += 1;
    return counts;
  }, Buffer.from(png!).toString('base64'));
  expect(alpha.width).toBe(1280);
  expect(alpha.clear).toBeGreaterThan(100_000);
  expect(alpha.full).toBeGreaterThan(5_000);

  dialog = await open();
  await dialog.getByRole('button', { name: 'Make it' }).click();
  const card = page.getByRole('group', { name: 'Film' });
  await expect(card).toBeVisible();
  // The bench is usable meanwhile.
  await goToFrame(page, 50);
  await card.getByRole('button', { name: 'Leave it' }).click();
  await expect(card).toHaveCount(0);
  await expect(page.getByRole('spinbutton', { name: 'Frame', exact: true })).toHaveValue('50');
});

test('a skin as MP4 while the tab is out of sight; whoever goes while it is filmed is asked, or told', async ({
  page,
}) => {
  await page.goto('/');
  await page.getByRole('article', { name: 'Demo: Bram in one skin' }).getByRole('button').click();
  await page.getByRole('button', { name: /^Take 1 shot/ }).click();
  await expect(page.getByRole('combobox', { name: 'Figures as' })).toBeVisible();
  await saved(page);
  await withFilmLibrary(page);
  const begin = async (last: number) => {
    await page.getByRole('button', { name: 'Export' }).click();
    await page.getByRole('menuitem', { name: 'Film or pictures' }).click();
    const dialog = page.getByRole('dialog', { name: 'Film or numbered pictures' });
    await dialog.getByRole('combobox', { name: 'As' }).click();
    await page.locator('.ant-select-dropdown:visible').getByText('Film, MP4', { exact: true }).click();
    await dialog.getByRole('combobox', { name: 'Behind' }).click();
    await page.locator('.ant-select-dropdown:visible').getByText('White', { exact: true }).click();
    await dialog.getByRole('spinbutton', { name: 'Last frame' }).fill(String(last));
    await dialog.getByRole('button', { name: 'Make it' }).click();
    await expect(page.getByRole('progressbar', { name: 'Pictures made' })).toBeVisible();
  };
  const film = page.waitForEvent('download', { timeout: 90_000 });
  await begin(11);
  await expect(page.getByRole('group', { name: 'Film' })).toContainText(/[1-9]\d* of 12/);
  // What is out of sight is told no frames to draw.
  await page.evaluate(() => (window.requestAnimationFrame = () => 0));
  const { width, pictures } = await decoded(page, await downloaded(await film));
  expect([width, pictures.length]).toEqual([1280, 12]);
  for (let k = 0; k < 12; k += 1) {
    expect(Math.abs(pictures[k]!.at - k / 24)).toBeLessThan(1 / 48);
    // He is there on each: the darkest of a white picture are his trousers.
    expect(pictures[k]!.looks.filter((value) => value < 150).length).toBeGreaterThan(20);
  }
  await page.reload();
  await begin(16);
  const asked = page.waitForEvent('dialog');
  await page.evaluate(() => void setTimeout(() => location.reload()));
  const dialog = await asked;
  expect(dialog.type()).toBe('beforeunload');
  await dialog.dismiss();
  await expect(page.getByRole('group', { name: 'Film' })).toBeVisible();
  await page.getByRole('link', { name: 'Back to the shots' }).click();
  await expect(page.getByText('The film was not finished, and nothing of it is saved.')).toBeVisible();
});

test('a browser without an encoder makes numbered pictures, which is said', async ({ page }) => {
  await page.addInitScript(() => {
    Reflect.deleteProperty(globalThis, 'VideoEncoder');
  });
  await takeDemo(page, 'Kneading loop');
  await page.getByRole('button', { name: 'Export' }).click();
  await page.getByRole('menuitem', { name: 'Film or pictures' }).click();
  const dialog = page.getByRole('dialog', { name: 'Film or numbered pictures' });
  await expect(
    dialog.getByText('This browser has no encoder for films: numbered pictures can be made.'),
  ).toBeVisible();
  await expect(dialog.getByTitle('Numbered pictures, PNG in a zip')).toBeVisible();
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
