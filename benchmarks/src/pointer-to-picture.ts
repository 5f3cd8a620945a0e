/**
 * From a movement of the pointer to the picture that it makes, as a ratio to a movement over nothing in the same run: until the page has laid out what it draws and the stage's picture is
 * there to be read. In the built application, without a graphics card (`npm run build` first).
 */
import type { Page } from '@playwright/test';
import { median } from './measure.ts';
import type { Row } from './measure.ts';
import { withServedPage } from './served-page.ts';

const MOVES = 30;

type Place = readonly [x: number, y: number];

export const pointerToPictureRows = (): Promise<Row[]> =>
  withServedPage(async (page) => {
    await page
      .getByRole('article', { name: 'Demo: Dough toss (captured)' })
      .getByRole('button', { name: 'Take a copy' })
      .click();
    const lane = page.getByRole('application', { name: 'Curves' });
    await lane.waitFor();
    await page.waitForTimeout(2000);
    await listen(page);
    const middle = async (name: string): Promise<Place> => {
      const box = (await page.getByRole('region', { name }).boundingBox())!;
      return [box.x + box.width / 2, box.y + box.height / 2];
    };
    const empty = await moved(page, [640, 20], false);
    const rows: Row[] = [];
    const row = (work: string, ms: number, most: number) =>
      rows.push({
        work,
        against: 'a movement of the pointer over nothing',
        measured: `${(ms / empty).toFixed(1)}×: ${ms.toFixed(0)} ms to ${empty.toFixed(1)} ms`,
        toReach: `≤ ${most}×`,
        reached: ms <= most * empty,
      });

    const ruler = (await page.getByRole('slider', { name: 'Play-head' }).boundingBox())!;
    row(
      'scrub, the stage following',
      await moved(page, [ruler.x + 200, ruler.y + ruler.height / 2], true),
      16,
    );

    await page.locator('[id="spot-chest"] circle').first().click({ force: true });
    const close = page.locator('[id="close-up-chest"] circle').first();
    await close.waitFor({ timeout: 2000 }).then(
      () => close.click({ force: true }),
      () => undefined,
    );
    const canvas = page.locator('canvas[data-handle]');
    const handle = async (): Promise<Place> => {
      const box = (await canvas.boundingBox())!;
      const [x, y] = (await canvas.getAttribute('data-handle'))!.split(' ').map(Number) as [number, number];
      return [box.x + x, box.y + y];
    };
    row('turn the chest by its handle', await moved(page, await handle(), true), 16);
    const ghosts = page.getByRole('button', { name: /^Ghosts/ });
    await page.keyboard.press('Shift+A');
    await ghosts.click();
    row('turn the chest with arcs and ghosts', await moved(page, await handle(), true), 16);
    await page.keyboard.press('Shift+A');
    await ghosts.click({ clickCount: 2, delay: 50 });

    await page.getByRole('button', { name: 'Right arm' }).click();
    await lane.focus();
    await page.keyboard.press('Control+a');
    const chosen = await page.getByRole('status', { name: 'Chosen' }).innerText();
    await page.keyboard.down('Control');
    row(
      `drag ${chosen.split(' ·')[0]!} in the curves lane`,
      await moved(page, await middle('Lanes'), true),
      8,
    );
    await page.keyboard.up('Control');
    return rows;
  });

/** Notes for each movement when its picture was there. */
const listen = (page: Page): Promise<void> =>
  page.evaluate(() => {
    const times: number[] = [];
    Object.assign(window, { times });
    const gl = document.querySelector<HTMLCanvasElement>('canvas[data-engine]');
    const context = gl?.getContext('webgl2') ?? null;
    const pixel = new Uint8Array(4);
    window.addEventListener(
      'pointermove',
      () => {
        const began = performance.now();
        requestAnimationFrame(() => {
          const drawn = new MessageChannel();
          drawn.port1.onmessage = () => {
            // Reading waits for what was drawn.
            context?.readPixels(0, 0, 1, 1, context.RGBA, context.UNSIGNED_BYTE, pixel);
            times.push(performance.now() - began);
          };
          drawn.port2.postMessage(null);
        });
      },
      { capture: true },
    );
  });

/** The median of some movements, milliseconds; what was dragged is taken back. */
async function moved(page: Page, [x, y]: Place, pressed: boolean): Promise<number> {
  await page.mouse.move(x, y);
  if (pressed) await page.mouse.down();
  await page.mouse.move(x + 6, y + 4);
  await page.waitForTimeout(300);
  await page.evaluate(() => (window as unknown as { times: number[] }).times.splice(0));
  for (let i = 1; i <= MOVES; i += 1) {
    await page.mouse.move(x + 6 + 2 * i, y + 4 + 10 * Math.sin(i / 5));
    await page.waitForTimeout(60);
  }
  if (pressed) {
    await page.keyboard.press('Escape');
    await page.mouse.up();
  }
  return median(await page.evaluate(() => (window as unknown as { times: number[] }).times));
}
