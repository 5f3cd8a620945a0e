/** The bench where there is little room, under a finger, and in the colours of the system. */
import type { Page } from '@playwright/test';
import { applyOpen, edits, expect, history, openEdit, takeDemo, test, touchControl } from './helpers.ts';

const part = (page: Page, name: string) => page.getByRole('tab', { name, exact: true }).click();

/** Buttons, fields and tabs that lie partly outside of the window, or of what would scroll to them. */
const clipped = (page: Page) =>
  page.locator('.bench').evaluate((bench) => {
    const scrolls = (node: Element): Element | null => {
      for (let at = node.parentElement; at && at !== bench; at = at.parentElement)
        if (/auto|scroll/.test(getComputedStyle(at).overflow)) return at;
      return null;
    };
    return [...bench.querySelectorAll<HTMLElement>('button, input, [role="tab"], select')]
      .filter((node) => node.getClientRects().length > 0 && node.offsetWidth > 1)
      .filter((node) => {
        const box = node.getBoundingClientRect();
        // Up and down it is scrolled to; sideways nothing is.
        const isTall = scrolls(node) === null && (box.top < 0 || box.bottom > window.innerHeight + 0.5);
        return box.left < -0.5 || box.right > window.innerWidth + 0.5 || isTall;
      })
      .map((node) => node.getAttribute('aria-label') ?? node.textContent ?? node.tagName);
  });

test.describe('at 200 %', () => {
  test.use({ viewport: { width: 640, height: 400 }, deviceScaleFactor: 2 });

  test('figure, stage, lanes and edits are parts to go to, nothing is clipped, undo and export in reach', async ({
    page,
  }) => {
    await takeDemo(page, 'First tray');
    for (const name of ['Stage', 'Figure', 'Lanes', 'Edits']) {
      await part(page, name);
      await expect(page.getByRole('tabpanel', { name })).toBeVisible();
      expect(await clipped(page), name).toEqual([]);
      for (const button of ['Undo', 'Redo', 'Export'])
        await expect(page.getByRole('button', { name: button })).toBeInViewport({ ratio: 1 });
    }
    await part(page, 'Figure');
    await touchControl(page, 'hand_goal_l');
    // From any part an edit is found and seen.
    await page.keyboard.press('/');
    await page.getByRole('textbox', { name: 'Find an edit' }).fill('thin');
    await page.keyboard.press('Enter');
    await expect(edits(page).locator('.edit.open .edit-title')).toHaveText('Thin');
    await expect(edits(page).getByRole('button', { name: 'Apply' })).toBeInViewport({ ratio: 1 });
    expect(await clipped(page), 'Thin').toEqual([]);
    await applyOpen(page);
    await expect(history(page).getByRole('listitem')).toHaveCount(2);
    await page.getByRole('button', { name: 'Undo' }).click();
    await part(page, 'Lanes');
    await expect(page.getByRole('application', { name: 'Curves' })).toBeInViewport();
    // In a larger window all is there at once.
    await page.setViewportSize({ width: 1280, height: 800 });
    await expect(page.getByRole('tab', { name: 'Lanes' })).toBeHidden();
    await expect(page.getByRole('region', { name: 'Figure' })).toBeVisible();
  });
});

test.describe('under a finger', () => {
  test.use({ viewport: { width: 1024, height: 768 }, hasTouch: true });

  test('a control is touched, turned on the stage, taken back, thinned', async ({ page }) => {
    await takeDemo(page, 'Dough toss');
    const finger = await page.context().newCDPSession(page);
    const touch = (type: 'touchStart' | 'touchMove' | 'touchEnd', ...at: [number, number][]) =>
      finger.send('Input.dispatchTouchEvent', { type, touchPoints: at.map(([x, y]) => ({ x, y })) });
    const spot = (await page.locator('[id="spot-chest"] circle').first().boundingBox())!;
    await page.touchscreen.tap(spot.x + spot.width / 2, spot.y + spot.height / 2);
    const closeUp = page.locator('[id="close-up-chest"] circle').first();
    if (await closeUp.isVisible()) await closeUp.tap({ force: true });
    await expect(page.locator('[id="spot-chest"][aria-selected="true"]')).toBeAttached();
    const canvas = page.locator('canvas[data-handle]');
    await expect(canvas).toHaveAttribute('data-handle', /\d/);
    const box = (await canvas.boundingBox())!;
    const [dx, dy] = (await canvas.getAttribute('data-handle'))!.split(' ').map(Number) as [number, number];
    const at = (x: number, y: number): [number, number] => [box.x + dx + x, box.y + dy + y];
    const values = () =>
      page
        .locator('.channels input.value')
        .evaluateAll((fields) => fields.map((field) => (field as HTMLInputElement).value).join(' '));
    const before = await values();
    const steps = history(page).getByRole('listitem');
    await touch('touchStart', at(0, 0));
    for (let i = 1; i <= 6; i += 1) await touch('touchMove', at(8 * i, 3 * i));
    await expect.poll(values).not.toBe(before);
    // A second finger takes it back; the first alone keeps it.
    await touch('touchStart', at(48, 18), at(120, 90));
    await touch('touchEnd');
    await expect.poll(values).toBe(before);
    await expect(steps).toHaveText(['Opened']);
    await touch('touchStart', at(0, 0));
    for (let i = 1; i <= 6; i += 1) await touch('touchMove', at(8 * i, 3 * i));
    await touch('touchEnd');
    await expect(steps).toHaveCount(2);
    await page.getByRole('button', { name: 'Undo' }).tap();
    await expect.poll(values).toBe(before);
    await openEdit(page, 'Thin');
    await edits(page).getByRole('button', { name: 'Apply' }).tap();
    await expect(steps.last()).toContainText('Thin');
  });
});

test('in forced colours what is chosen, the play-head and the focus are told from what is not', async ({
  page,
}) => {
  await page.emulateMedia({ forcedColors: 'active' });
  await takeDemo(page, 'First tray');
  await touchControl(page, 'hand_goal_l');
  const look = (selector: string) =>
    page
      .locator(selector)
      .first()
      .evaluate((node) => {
        const { backgroundColor, outlineColor, outlineStyle, stroke } = getComputedStyle(node);
        return [backgroundColor, outlineStyle === 'none' ? '' : outlineColor, stroke].join(' / ');
      });
  for (const [chosen, other] of [
    ['.strip .ant-segmented-item-selected', '.strip .ant-segmented-item:not(.ant-segmented-item-selected)'],
    ['.edit-groups [aria-current="true"]', '.edit-groups [aria-current="false"]'],
    ['.play-head', '.lanes'],
    ['.bead.keyed', '.bead:not(.keyed)'],
    ['[id="spot-hand_goal_l"]', '[id="spot-hand_goal_r"]'],
    ['.history [aria-current="true"], .history [aria-current="step"]', '.history'],
  ] as const)
    expect(await look(chosen), chosen).not.toBe(await look(other));
  await page.keyboard.press('Tab');
  await expect
    .poll(() => page.evaluate(() => getComputedStyle(document.activeElement!).outlineStyle))
    .toBe('solid');
});
