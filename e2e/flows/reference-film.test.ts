/** Footage to look at beside the figure: films and numbered pictures. */
import { countedFilm, withFilmLibrary } from './film-library.ts';
import { edits, expect, goToFrame, history, lanes, saved, takeDemo, test } from './helpers.ts';

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
