/** Recording: by the pointer with pictures dropped, by the pointer over the stage, from a feed that goes wrong. */
import type { Page } from '@playwright/test';
import {
  downloaded,
  edits,
  expect,
  history,
  markRange,
  openEdit,
  pick,
  takeDemo,
  test,
  touchControl,
} from './helpers.ts';

type Columns = { readonly times: number[]; readonly values: number[] };

/** The curves of the first layer, out of the shot's file. */
async function layerCurves(page: Page): Promise<Record<string, Columns>> {
  const waiting = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Export' }).click();
  await page.getByRole('menuitem', { name: /Shot file/ }).click();
  const file = JSON.parse((await downloaded(await waiting)).toString('utf8')) as {
    layers: { curves: Record<string, Columns> }[];
  };
  return file.layers[0]!.curves;
}

test('Recorded by the pointer with the page throttled four times: a sample on every frame, on the way of the hand', async ({
  page,
}) => {
  await takeDemo(page, 'Dough toss (captured)');
  await touchControl(page, 'chest');
  await page.locator('.channel-name[title="chest.ry"]').click();
  await markRange(page, 0, 60);
  await openEdit(page, 'Record');
  await pick(page, 'From', 'pointer, up and down');
  await edits(page).getByRole('spinbutton', { name: 'Count-in' }).fill('1');
  await page.mouse.move(500, 700);
  const throttle = await page.context().newCDPSession(page);
  await throttle.send('Emulation.setCPUThrottlingRate', { rate: 4 });
  await edits(page).getByRole('button', { name: 'Start', exact: true }).press('Enter');
  // Up by the clock, slower and slower, until it is over: a busy machine begins late, and the hand is still on its way then.
  const began = Date.now();
  const recorded = history(page).getByRole('button', { name: 'Record' });
  for (let step = 0; (await recorded.count()) === 0 && step < 4000; step += 1) {
    const seconds = (Date.now() - began) / 1000;
    await page.mouse.move(500, 700 - (620 * seconds) / (seconds + 20));
    await page.waitForTimeout(12);
  }
  await expect(recorded).toHaveCount(1, { timeout: 20_000 });
  await throttle.send('Emulation.setCPUThrottlingRate', { rate: 1 });
  const { times, values } = (await layerCurves(page))['chest.ry']!;
  expect(times).toEqual(times.map((_, i) => i));
  expect(times.length).toBeGreaterThan(58);
  // The hand only ever went up, and so does what it drove.
  expect(values.every((value, i) => i === 0 || value >= values[i - 1]! - 1e-9)).toBe(true);
  expect(values.at(-1)! - values[0]!).toBeGreaterThan(5);
});

test('Over the stage a hand is led where the pointer goes, a key on every frame', async ({ page }) => {
  await takeDemo(page, 'Kneading loop');
  await touchControl(page, 'hand_goal_r');
  await markRange(page, 0, 48);
  await openEdit(page, 'Record');
  await pick(page, 'From', 'pointer, over the stage');
  await edits(page).getByRole('spinbutton', { name: 'Count-in' }).fill('1');
  const stage = (await page.getByRole('region', { name: 'Stage' }).boundingBox())!;
  const [x, y] = [stage.x + stage.width / 2, stage.y + stage.height / 2];
  await page.mouse.move(x, y);
  await edits(page).getByRole('button', { name: 'Start', exact: true }).press('Enter');
  // On a circle of 60 pixels, a third of a turn and more at every step: however few places a busy machine sees, they lie apart.
  const recorded = history(page).getByRole('button', { name: 'Record' });
  for (let step = 0; (await recorded.count()) === 0 && step < 4000; step += 1) {
    const angle = 2.2 * step;
    await page.mouse.move(x + 60 * Math.cos(angle), y + 60 * Math.sin(angle));
    await page.waitForTimeout(12);
  }
  await expect(recorded).toHaveCount(1, { timeout: 20_000 });
  const curves = await layerCurves(page);
  const moved = Object.entries(curves).filter(([id]) => id.startsWith('hand_goal_r.t'));
  expect(moved.map(([id]) => id).sort()).toEqual(['hand_goal_r.tx', 'hand_goal_r.ty', 'hand_goal_r.tz']);
  for (const [, { times }] of moved) expect(times).toEqual(times.map((_, i) => i));
  // It went up and down and to the side, as the pointer did.
  const span = (values: number[]) => Math.max(...values) - Math.min(...values);
  expect(span(curves['hand_goal_r.ty']!.values)).toBeGreaterThan(5);
  expect(
    Math.max(span(curves['hand_goal_r.tx']!.values), span(curves['hand_goal_r.tz']!.values)),
  ).toBeGreaterThan(5);
});

test('A feed that sends nonsense and stops: what came until then is kept, and it is said', async ({
  page,
}) => {
  await page.routeWebSocket(/\/feed/, (socket) => {
    socket.send('{"kind": "hello", "name": "Broken", "rate": 50, "channels": ["head.rx", "whisker.rx"]}');
    const start = Date.now();
    let sent = 0;
    // Whatever is due by the clock: a busy machine sends in bursts, and is not late with the end.
    const timer = setInterval(() => {
      for (const due = Math.min((Date.now() - start) / 20, 75); sent < due; sent += 1) {
        socket.send(JSON.stringify({ kind: 'sample', time: 20 * sent, values: [sent, 1] }));
        if (sent === 10) socket.send('what');
      }
      if (sent < 75) return;
      clearInterval(timer);
      void socket.close();
    }, 20);
  });
  await takeDemo(page, 'Dough toss (captured)');
  await markRange(page, 0, 96);
  await openEdit(page, 'Record');
  await pick(page, 'From', 'capture feed');
  await edits(page).getByRole('spinbutton', { name: 'Count-in' }).fill('0');
  await edits(page).getByRole('button', { name: 'Start', exact: true }).press('Enter');
  await expect(history(page).getByRole('button', { name: 'Record' })).toHaveCount(1, { timeout: 20_000 });
  await expect(edits(page)).toContainText('The feed has stopped: what came until then is kept.');
  await expect(edits(page)).toContainText('1 message of the feed made no sense and was left out.');
  await expect(edits(page)).toContainText('whisker.rx');
  const { times, values } = (await layerCurves(page))['head.rx']!;
  expect(times).toEqual(times.map((_, i) => i));
  // A second and a half came, of four.
  expect(times.length).toBeGreaterThan(20);
  expect(times.length).toBeLessThan(70);
  expect(values.at(-1)!).toBeGreaterThan(50);
});
