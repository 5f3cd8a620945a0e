/** Frame times while about 500 chosen keys on 82 curves are dragged, in the built application (`npm run build` first). */
import type { Page } from '@playwright/test';
import { median } from './measure.ts';
import type { Row } from './measure.ts';
import { withServedPage } from './served-page.ts';

const STEPS = 80;

export const draggingRows = (): Promise<Row[]> =>
  withServedPage(async (page) => {
    const { times, keys, curves } = await dragged(page);
    const slow = [...times].sort((a, b) => a - b)[Math.floor(times.length * 0.95)]!;
    return [
      {
        work: `drag ${keys} chosen keys on ${curves} curves of 241 keys, the stage following, without a graphics card`,
        against: 'time from one frame to the next',
        measured: `median ${median(times).toFixed(0)} ms, 95 % within ${slow.toFixed(0)} ms`,
        toReach: 'stated',
        reached: true,
      },
    ];
  });

async function dragged(page: Page) {
  const demo = page.getByRole('article', { name: 'Demo: Dough toss (captured)' });
  await demo.getByRole('button', { name: 'Take a copy' }).click();
  await page.getByRole('button', { name: 'Right arm' }).click();
  await page.keyboard.down('Shift');
  for (const part of ['Left arm', 'Torso', 'Head'])
    await page.getByRole('button', { name: part, exact: true }).click();
  await page.keyboard.up('Shift');
  const lane = page.getByRole('application', { name: 'Curves' });
  await lane.focus();
  await page.keyboard.press('m');
  const curves = Number(await lane.getAttribute('data-curves'));
  const box = (await lane.boundingBox())!;
  const [from, to] = (await lane.getAttribute('data-view'))!.split(' ').map(Number) as [number, number];
  const xOf = (frame: number) => box.x + ((frame - from) / (to - from)) * box.width;
  const frames = Math.round(500 / curves);
  await page.mouse.move(xOf(99.6), box.y + 2);
  await page.mouse.down();
  await page.mouse.move(xOf(99.6 + frames), box.y + box.height - 2, { steps: 3 });
  await page.mouse.up();
  await page.keyboard.down('Control');
  await page.mouse.move(xOf(100), box.y + 100);
  await page.mouse.down();
  await page.evaluate(() => {
    const stamps: number[] = [];
    Object.assign(window, { stamps });
    const tick = (now: number) => {
      stamps.push(now);
      requestAnimationFrame(tick);
    };
    requestAnimationFrame(tick);
  });
  for (let i = 0; i < STEPS; i += 1) await page.mouse.move(xOf(100) + i, box.y + 100 + 40 * Math.sin(i / 6));
  const stamps = await page.evaluate(() => [...(window as unknown as { stamps: number[] }).stamps]);
  await page.mouse.up();
  await page.keyboard.up('Control');
  return { times: stamps.slice(1).map((stamp, i) => stamp - stamps[i]!), keys: frames * curves, curves };
}
