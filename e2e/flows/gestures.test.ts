/** Every drag of the bench through every one of its ends: whatever takes it back leaves the shot, the choice and the view as they were. */
import { curveOf, DEMO_SHOTS } from '@kneader/core';
import type { Page } from '@playwright/test';
import { along, boxOf, by, middleOf, throughAllEnds } from './drag-ends.ts';
import type { Place } from './drag-ends.ts';
import {
  applyOpen,
  edits,
  expect,
  goToFrame,
  history,
  lanes,
  markRange,
  openEdit,
  pick,
  placeInCurves,
  takeDemo,
  test,
  touchControl,
} from './helpers.ts';

/** The keys of the height of the hips, whatever the shot. */
const hips = (id: string) => curveOf(DEMO_SHOTS.find((demo) => demo.id === id)!.make(), null, 'hips.ty');

async function puddle(page: Page): Promise<void> {
  await takeDemo(page, 'Over the puddle');
  await touchControl(page, 'hips');
}

test('keys, a handle, the box, the marquee and the view of the curves', async ({ page }) => {
  await puddle(page);
  await page.getByRole('textbox', { name: 'Filter channels' }).fill('hips ty');
  const curve = hips('over-the-puddle');
  const key = (k: number) => placeInCurves(page, curve.times[k]!, curve.values[k]!);
  await page.getByRole('application', { name: 'Curves' }).focus();
  await page.keyboard.press('o');
  await throughAllEnds(page, { name: 'a key', way: async () => along(await key(2), 40, -12) });
  await page.keyboard.press('Control+z');
  await throughAllEnds(page, {
    name: 'a key with Shift',
    held: 'Shift',
    way: async () => along(await key(2), 40, -12),
  });
  await page.keyboard.press('Control+z');
  await page.mouse.click(...(await key(2)));
  await throughAllEnds(page, {
    name: 'chosen keys, from anywhere, with Control',
    held: 'Control',
    way: async () => along(by(await key(3), 60, 50), 0, -30),
  });
  await page.keyboard.press('Control+z');
  await page.mouse.click(...(await key(1)));
  const handle = async (): Promise<Place> => {
    const [x, y] = await key(1);
    const [ahead] = await key(2);
    // A third of the way, along the slope.
    const frames = (curve.times[2]! - curve.times[1]!) / 3;
    const [, up] = await placeInCurves(page, 0, curve.slopesOut[1]! * frames);
    const [, level] = await placeInCurves(page, 0, 0);
    return [x + (ahead - x) / 3, y + up - level];
  };
  for (const held of [undefined, 'Alt', 'Shift'] as const) {
    await throughAllEnds(page, {
      name: `a handle with ${held ?? 'nothing'}`,
      ...(held && { held }),
      way: async () => along(await handle(), 14, -26),
    });
    await expect(history(page).getByRole('listitem').last()).toContainText('tangents');
    await page.keyboard.press('Control+z');
  }
  await page.keyboard.press('Control+a');
  await page.keyboard.press('x');
  await throughAllEnds(page, {
    name: 'the box with Alt',
    held: 'Alt',
    way: async () => {
      const lane = page.locator('.curves-lane');
      const box = (await lane.boundingBox())!;
      const sides = (await lane.getAttribute('data-box'))!.split(' ').map(Number);
      const [, right, top, bottom] = sides as [number, number, number, number];
      return along([box.x + right, box.y + top + (bottom - top) * 0.27], -60);
    },
  });
  await page.keyboard.press('Control+z');
  await page.keyboard.press('x');
  const empty = async () => by(await key(4), 30, -40);
  await throughAllEnds(page, {
    name: 'the view with Alt',
    held: 'Alt',
    way: async () => along(await empty(), 30, 20),
  });
  await page.keyboard.press('o');
  await throughAllEnds(
    page,
    { name: 'a marquee with Shift', held: 'Shift', way: async () => along(await empty(), 40, 20) },
    false,
  );
});

test('the play-head, a range and its ends, the end of the shot, a pose, a marker, a lane’s height', async ({
  page,
}) => {
  await puddle(page);
  const ruler = await boxOf(page, '.ruler');
  const onRuler = (frame: number, y = 6): Place => [
    ruler.x + ((frame + 1.08) / (56.16 + 1.08)) * ruler.width,
    ruler.y + y,
  ];
  await throughAllEnds(page, { name: 'the play-head', way: () => along(onRuler(30), 60) });
  await throughAllEnds(page, { name: 'a range', held: 'Shift', way: () => along(onRuler(12), 90) });
  const marked = await page.locator('.span-range').boundingBox();
  await throughAllEnds(page, {
    name: 'the end of the range',
    way: () => along([marked!.x + marked!.width, ruler.y + 6], 40),
  });
  await page.keyboard.press('Escape');
  await throughAllEnds(page, {
    name: 'the end of the shot',
    way: () => along(onRuler(54, ruler.height - 4), -40),
  });
  await page.keyboard.press('Control+z');
  await goToFrame(page, 8);
  await page.keyboard.press('j');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('textbox', { name: 'Name' })).toBeHidden();
  const marker = lanes(page).getByRole('button', { name: 'Marker Marker 1 at frame 8' });
  await throughAllEnds(page, {
    name: 'a marker',
    way: async () => along(middleOf((await marker.boundingBox())!), 50),
  });
  await page.keyboard.press('Control+z');
  const poses = await boxOf(page, '.poses-lane');
  await throughAllEnds(page, {
    name: 'a pose',
    way: () => along([onRuler(6)[0], poses.y + 40], 50),
  });
  await page.keyboard.press('Control+z');
  await throughAllEnds(page, {
    name: 'a lane’s height',
    way: async () => along(middleOf(await boxOf(page, '.lane-edge')), 0, 30),
  });
});

test('a switch, contacts, values, a weight, its keys, the range of a pass, a slider, a point of a warp', async ({
  page,
}) => {
  await takeDemo(page, 'Oven door');
  await page.getByRole('button', { name: 'Props' }).click();
  await goToFrame(page, 30);
  await page.getByRole('combobox', { name: 'What tray follows from here' }).click();
  await page
    .locator('.ant-select-dropdown:visible .ant-select-item-option:not(.ant-select-item-option-selected)')
    .first()
    .click();
  const spans = lanes(page).locator('.space-span');
  await expect(spans).not.toHaveCount(1);
  const edgeOf = async (at: number) => {
    const { x, y, height } = (await spans.nth(at).boundingBox())!;
    return [x, y + height / 2] as const;
  };
  await throughAllEnds(page, { name: 'a switch', way: async () => along(await edgeOf(1), 24) });
  await page.keyboard.press('Control+z');

  await touchControl(page, 'hips');
  const value = page.locator('.channels input.value').nth(1);
  for (const held of [undefined, 'Alt', 'Shift'] as const) {
    await throughAllEnds(page, {
      name: `a value with ${held ?? 'nothing'}`,
      ...(held && { held }),
      way: async () => along(middleOf((await value.boundingBox())!), 20),
    });
    await page.keyboard.press('Control+z');
  }
  await openEdit(page, 'Add offset pass');
  await applyOpen(page);
  await page.keyboard.press('Escape');
  const percent = page.locator('.pass-percent').first();
  await throughAllEnds(page, {
    name: 'a weight',
    way: async () => along(middleOf((await percent.boundingBox())!), -30),
  });
  await page.keyboard.press('Control+z');
  const track = await boxOf(page, '.pass-track');
  const onTrack = (x: number): Place => [track.x + x, track.y + track.height / 2];
  await page.mouse.dblclick(...onTrack(200));
  await page.mouse.dblclick(...onTrack(320));
  await throughAllEnds(page, { name: 'a key of a weight', way: () => along(onTrack(320), 20, -6) });

  await page.getByRole('button', { name: 'All of Bram' }).click();
  await openEdit(page, 'Find contacts');
  await applyOpen(page);
  await page.keyboard.press('Escape');
  const contact = lanes(page).locator('.contact-span').first();
  await throughAllEnds(page, {
    name: 'the end of a contact',
    way: async () => {
      const { x, y, width, height } = (await contact.boundingBox())!;
      return along([x + width, y + height / 2], -30);
    },
  });
  await openEdit(page, 'Warp');
  const warp = page.getByRole('application', { name: 'Warp' });
  await throughAllEnds(
    page,
    {
      name: 'a point of a warp',
      way: async () => along(middleOf((await warp.boundingBox())!), 0, 25),
    },
    false,
  );
  await openEdit(page, 'Thin');
  const slider = edits(page).getByRole('slider').first();
  await throughAllEnds(page, {
    name: 'a slider',
    way: async () => along(middleOf((await slider.boundingBox())!), 40),
  });
});

test('the handle on the stage; the view stays as it is', async ({ page }) => {
  await puddle(page);
  const canvas = page.locator('.stage canvas');
  /** Where the middle of the handle is seen. */
  const centre = async (): Promise<Place> => {
    const { x, y } = (await canvas.boundingBox())!;
    const [dx, dy] = (await canvas.getAttribute('data-handle'))!.split(' ').map(Number) as [number, number];
    return [x + dx, y + dy];
  };
  for (const view of ['Front', 'Top', 'Camera']) {
    await page.locator('.stage-tools').getByText(view, { exact: true }).click();
    // Once the camera stands.
    let seen = '';
    await expect
      .poll(
        async () => {
          const now = (await canvas.getAttribute('data-handle')) ?? '';
          const isStill = now === seen && now !== '';
          seen = now;
          return isStill;
        },
        { intervals: [400] },
      )
      .toBe(true);
    const before = await centre();
    await throughAllEnds(page, {
      name: `the middle of the handle, ${view}`,
      way: async () => along(await centre(), 14, -10),
    });
    // It went where the hand did, in the plane that is seen, and a drag on empty ground turns no such view.
    const now = await centre();
    expect([now[0] - before[0], now[1] - before[1]].map(Math.round)).toEqual([14, -10]);
    await page.keyboard.press('Control+z');
    expect((await centre()).map(Math.round)).toEqual(before.map(Math.round));
    const { x, y } = (await canvas.boundingBox())!;
    await page.mouse.move(x + 30, y + 300);
    await page.mouse.down();
    await page.mouse.move(x + 60, y + 300, { steps: 3 });
    await page.mouse.up();
    const [moved] = await centre();
    // What lies nearer than what is looked at goes farther.
    const [least, most] = view === 'Camera' ? [0, 0] : [20, 40];
    expect(Math.abs(moved - before[0]), `${view}: it goes along its plane`).toBeGreaterThanOrEqual(least);
    expect(Math.abs(moved - before[0]), `${view}: it goes along its plane`).toBeLessThanOrEqual(most);
  }
  await page.locator('.stage-tools').getByText('Free', { exact: true }).click();
  await page.keyboard.press('h');
  await expect(page.getByRole('button', { name: 'Handle turns' })).toBeVisible();
});

test('a block and its end, the end of a range of a pass and its ramp', async ({ page }) => {
  await takeDemo(page, 'Kneading loop');
  await page.getByRole('button', { name: 'Left arm' }).click();
  await markRange(page, 0, 8);
  await openEdit(page, 'Save as action');
  await edits(page).getByRole('textbox', { name: 'Name', exact: true }).fill('Reach');
  await edits(page).getByRole('button', { name: 'Save to the pantry' }).click();
  await openEdit(page, 'Apply action');
  await pick(page, 'It is laid', 'as a block');
  await edits(page)
    .getByRole('listitem', { name: 'Reach', exact: true })
    .getByRole('button', { name: /^Place at/ })
    .click();
  await page.keyboard.press('Escape');
  const block = lanes(page).locator('.block');
  const blockAt = async (share: number, up: number): Promise<Place> => {
    const { x, y, width, height } = (await block.boundingBox())!;
    return [x + share * width, y + up * height];
  };
  await throughAllEnds(page, { name: 'a block', way: async () => along(await blockAt(0.5, 0.5), 60) });
  await page.keyboard.press('Control+z');
  await throughAllEnds(page, {
    name: 'the end of a block, stretched',
    held: 'Shift',
    way: async () => along(middleOf((await block.locator('.block-handle.end').boundingBox())!), 50),
  });
  await page.keyboard.press('Control+z');

  await markRange(page, 4, 16);
  await openEdit(page, 'Add offset pass');
  await edits(page)
    .getByText(/Bookends at the chosen range/)
    .click();
  await applyOpen(page);
  await page.keyboard.press('Escape');
  const track = (await lanes(page).locator('.pass-track').last().boundingBox())!;
  const [start] = await placeInCurves(page, 4, 0);
  await throughAllEnds(page, {
    name: 'the end of a range',
    way: () => along([start, track.y + track.height - 5], 30),
  });
  await page.keyboard.press('Control+z');
  // It comes in over six frames.
  const [ramp] = await placeInCurves(page, 10, 0);
  await throughAllEnds(page, { name: 'a ramp', way: () => along([ramp, track.y + 5], -30) });
});

test('a bead of an arc: the cursor tells what a press takes, and takes it back like any drag', async ({
  page,
}) => {
  await puddle(page);
  await page.locator('.stage-tools').getByText('Side', { exact: true }).click();
  await page.keyboard.press('Shift+A');
  const canvas = page.locator('.stage canvas');
  const cursor = () => canvas.evaluate((node) => (node as HTMLElement).style.cursor);
  const box = (await canvas.boundingBox())!;
  await expect(canvas).toHaveAttribute('data-handle', /\d/);
  await page.waitForTimeout(1500);
  const [hx, hy] = (await canvas.getAttribute('data-handle'))!.split(' ').map(Number) as [number, number];
  const frame = page.getByRole('spinbutton', { name: 'Frame', exact: true });
  // Away from the handle only a bead is taken hold of. The whole picture is gone over in the page: by hand it would take minutes.
  const bead = await canvas.evaluate(
    (node, [hx, hy]) => {
      const { left, top, width, height } = node.getBoundingClientRect();
      for (let y = 70; y < height - 20; y += 4)
        for (let x = 20; x < width - 20; x += 4) {
          if (Math.hypot(x - hx, y - hy) < 110) continue;
          const at = { clientX: left + x, clientY: top + y, bubbles: true, pointerId: 1 };
          node.dispatchEvent(new PointerEvent('pointermove', at));
          if ((node as HTMLElement).style.cursor === 'grab') return [left + x + 1, top + y + 1] as const;
        }
      return null;
    },
    [hx, hy] as const,
  );
  expect(bead, 'a bead is in sight').not.toBeNull();
  const before = await frame.inputValue();
  await throughAllEnds(page, { name: 'a bead', way: () => along(bead!, 9, -14) });
  await expect(frame).not.toHaveValue(before);
  // On the handle a press goes to no other frame, whatever beads lie behind it.
  await page.keyboard.press('Control+z');
  const there = await frame.inputValue();
  let pressed = 0;
  const [x, y] = (await canvas.getAttribute('data-handle'))!.split(' ').map(Number) as [number, number];
  for (const [dx, dy] of [
    [0, -40],
    [40, 0],
  ] as const) {
    await page.mouse.move(box.x + x + dx, box.y + y + dy);
    if ((await cursor()) !== 'grab') continue;
    pressed += 1;
    await page.mouse.down();
    await page.mouse.move(box.x + x + dx + 8, box.y + y + dy - 6, { steps: 3 });
    await page.keyboard.press('Escape');
    await page.mouse.up();
    await expect(frame).toHaveValue(there);
  }
  expect(pressed, 'the handle was pressed').toBeGreaterThan(0);
});
