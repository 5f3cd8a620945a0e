/** A drag taken through its ends: what is seen of the bench before, in hand, and after it was taken back. */
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import type { Page } from '@playwright/test';
import { expect } from './helpers.ts';

export type Place = readonly [number, number];
interface Way {
  readonly from: Place;
  readonly to: Place;
}
interface Drag {
  readonly name: string;
  /** Held all through. */
  readonly held?: 'Shift' | 'Alt' | 'Control';
  readonly way: () => Way | Promise<Way>;
}

/** What is seen and stored of the bench, as text. */
const lookOf = async (page: Page) =>
  hashOf(
    await page.evaluate(() => {
      const pictures = [...document.querySelectorAll<HTMLCanvasElement>('.lanes canvas')].map((one) =>
        one.toDataURL(),
      );
      const spans = [...document.querySelectorAll<HTMLElement>('.lanes [style*="left"]')].map(
        ({ className, style }) => `${className} ${style.left} ${style.width}`,
      );
      const values = [...document.querySelectorAll<HTMLInputElement>('input')].map(({ value }) => value);
      const [frame] = document.querySelectorAll('.ruler');
      const sliders = [...document.querySelectorAll('[role="slider"], [role="separator"]')].map((one) =>
        one.getAttribute('aria-valuenow'),
      );
      const steps = document.querySelectorAll('.history li').length;
      return JSON.stringify([pictures, spans, values, frame?.getAttribute('aria-valuenow'), sliders, steps]);
    }),
  );
const hashOf = (text: string) => createHash('sha256').update(text).digest('hex');

/** Milliseconds between looks. */
const QUICK = [30, 30, 50, 50, 100, 200, 500];

/** The look once nothing moves any more. */
async function settled(page: Page): Promise<string> {
  let before = '';
  await expect
    .poll(
      async () => {
        const now = await lookOf(page);
        const same = now === before;
        before = now;
        return same;
      },
      { intervals: QUICK },
    )
    .toBe(true);
  return before;
}

export const boxOf = async (page: Page, selector: string) =>
  (await page.locator(selector).first().boundingBox())!;
export const by = ([x, y]: Place, dx: number, dy = 0): Place => [x + dx, y + dy];
export const along = (from: Place, dx: number, dy = 0) => ({ from, to: by(from, dx, dy) });
export const middleOf = ({
  x,
  y,
  width,
  height,
}: {
  x: number;
  y: number;
  width: number;
  height: number;
}): Place => [x + width / 2, y + height / 2];

const ENDS: readonly (readonly [string, (page: Page) => Promise<unknown>])[] = [
  ['Escape', (page) => page.keyboard.press('Escape')],
  ['Escape with Shift', (page) => page.keyboard.press('Shift+Escape')],
  ['Escape with Control and Alt', (page) => page.keyboard.press('Control+Alt+Escape')],
  ['Undo', (page) => page.keyboard.press('Control+z')],
  ['the window left', (page) => page.evaluate(() => window.dispatchEvent(new Event('blur')))],
  [
    'the pointer taken away',
    (page) => page.evaluate(() => window.dispatchEvent(new PointerEvent('pointercancel', { pointerId: 1 }))),
  ],
  [
    'a second finger',
    (page) => page.evaluate(() => window.dispatchEvent(new PointerEvent('pointerdown', { pointerId: 9 }))),
  ],
];

/** The first of them always, and two others, the next ones with each commit; ALL_ENDS=1 tries all of them: `drag.test.ts` does so with the machine behind every drag. */
const turn = Number(execFileSync('git', ['rev-list', '--count', 'HEAD'], { encoding: 'utf8' }));
function theirTurn() {
  if (process.env['ALL_ENDS'] === '1') return ENDS;
  const [first, ...others] = ENDS;
  return [first!, ...[0, 1].map((i) => others[(2 * turn + i) % others.length]!)];
}

/** Drags, sees that something is another while it is in hand, and that nothing is once it was taken back; then that it can be done. */
export async function throughAllEnds(page: Page, { name, held, way }: Drag, isDone = true): Promise<void> {
  const { from, to } = await way();
  await page.mouse.move(...from);
  const before = await settled(page);
  for (const [end, take] of theirTurn()) {
    await page.mouse.move(...from);
    // The stroke that took back the last one let it go.
    if (held) await page.keyboard.down(held);
    await page.mouse.down();
    await page.mouse.move(...to, { steps: 4 });
    await expect
      .poll(() => lookOf(page), {
        message: `${name}: it follows the hand, to be taken back by ${end}`,
        timeout: 9000,
        intervals: QUICK,
      })
      .not.toBe(before);
    await take(page);
    await page.mouse.move(to[0] + 9, to[1] + 5);
    await page.mouse.up();
    if (held) await page.keyboard.up(held);
    await page.mouse.move(...from);
    await expect
      .poll(() => lookOf(page), { message: `${name}, taken back by ${end}`, timeout: 9000, intervals: QUICK })
      .toBe(before);
  }
  await page.mouse.move(...from);
  if (held) await page.keyboard.down(held);
  await page.mouse.down();
  await page.mouse.move(...to, { steps: 4 });
  await page.mouse.up();
  if (held) await page.keyboard.up(held);
  if (!isDone) return;
  await page.mouse.move(...from);
  await expect
    .poll(() => lookOf(page), { message: `${name}, let go of`, timeout: 9000, intervals: QUICK })
    .not.toBe(before);
}
