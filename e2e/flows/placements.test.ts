/** The night round's way: recorded from the feed, saved, placed over a new walk, stretched, crossed, turned to keys. */
import type { Page } from '@playwright/test';
import {
  animated,
  downloaded,
  edits,
  expect,
  exportedGlb,
  goToFrame,
  history,
  lanes,
  markRange,
  openEdit,
  pick,
  saved,
  takeDemo,
  test,
  touchControl,
  wholeWalk,
} from './helpers.ts';

const block = (page: Page, name: string) =>
  lanes(page).getByRole('button', { name: new RegExp(`^${name}, frames`) });
/** By the keyboard; after a drag the focus may still be on its way home. */
const openBlock = (page: Page, name: string) =>
  expect(async () => {
    await block(page, name).press('Enter');
    await expect(edits(page).getByRole('spinbutton', { name: 'As long' })).toBeVisible({ timeout: 1000 });
  }).toPass();
const row = (page: Page, name: string) => edits(page).getByRole('listitem', { name, exact: true });

type Track = ReturnType<typeof animated>;

/** A track's value at a time: straight between its samples. */
function valueAt(track: Track, time: number): readonly number[] {
  const after = track.findIndex((one) => one.time >= time);
  if (after <= 0) return track.at(after)!.value;
  const [a, b] = [track[after - 1]!, track[after]!];
  const part = (time - a.time) / (b.time - a.time);
  const near = a.value.reduce((sum, value, i) => sum + value * b.value[i]!, 0) < 0 ? -1 : 1;
  return a.value.map((value, i) => value + part * (near * b.value[i]! - value));
}

/** How far two rotations are apart at most, on frames; samples may stand elsewhere, within what an export may stray. */
function apart(one: Track, other: Track): number {
  const last = one.at(-1)!.time;
  let worst = 0;
  for (let time = 0; time <= last; time += 1 / 24) {
    const [a, b] = [valueAt(one, time), valueAt(other, time)];
    const near = a.reduce((sum, value, i) => sum + value * b[i]!, 0) < 0 ? -1 : 1;
    worst = Math.max(worst, Math.hypot(...a.map((value, i) => value - near * b[i]!)));
  }
  return worst;
}

test('Night round: grumbled from the feed, placed over a new walk, crossed with a sneeze, turned to keys', async ({
  page,
}) => {
  await page.goto('/pantry');
  await page.getByRole('button', { name: 'Lay out the shelf' }).click();
  await expect(page.getByRole('article')).toHaveCount(6);

  await test.step('three seconds of the upper body, counted in, over the walk', async () => {
    await wholeWalk(page);
    await markRange(page, 0, 71);
    await openEdit(page, 'Record');
    await pick(page, 'From', 'capture feed');
    await edits(page).getByRole('spinbutton', { name: 'Count-in' }).fill('1');
    await edits(page).getByRole('textbox', { name: 'Name of the take' }).fill('Grumble');
    await edits(page).getByRole('button', { name: 'Start', exact: true }).click();
    await expect(page.getByRole('status').filter({ hasText: /^1$/ })).toBeVisible();
    await expect(page.getByRole('status').filter({ hasText: 'recording' })).toBeVisible();
    await expect(history(page).getByRole('button', { name: 'Record' })).toHaveCount(1, { timeout: 15_000 });
    await expect(edits(page)).toContainText('The pass counts from 0 to 71');
    await expect(edits(page)).toContainText(/latency \d+ ms|channels/);
  });

  await test.step('cleaned, and saved with tags', async () => {
    await page.getByRole('group', { name: 'Body parts' }).getByText('All', { exact: true }).click();
    await openEdit(page, 'Thin');
    await expect(edits(page).getByRole('status', { name: 'Report' })).toContainText('keys');
    await edits(page).getByRole('button', { name: 'Apply', exact: true }).click();
    await openEdit(page, 'Save as action');
    await edits(page).getByText('The chosen layer alone, not what shows').click();
    await edits(page).getByRole('textbox', { name: 'Name', exact: true }).fill('Grumble');
    await edits(page).getByRole('combobox', { name: 'Tags' }).fill('night');
    await page.keyboard.press('Enter');
    await edits(page).getByRole('button', { name: 'Save to the pantry' }).click();
    await expect(edits(page)).toContainText('Saved to the pantry.');
    // The very same again is not kept twice.
    await edits(page).getByRole('textbox', { name: 'Name', exact: true }).fill('Mutter');
    await edits(page).getByRole('button', { name: 'Save to the pantry' }).click();
    await expect(edits(page)).toContainText('in the pantry already, as “Grumble”');
  });

  await wholeWalk(page);
  const plain = await exportedGlb(page);
  await test.step('placed over a new walk by dragging, the feet untouched', async () => {
    await openEdit(page, 'Apply action');
    await pick(page, 'It is laid', 'as a block');
    await row(page, 'Grumble').dragTo(page.getByRole('application', { name: 'Curves' }), {
      targetPosition: { x: 60, y: 40 },
    });
    await expect(history(page).getByRole('button', { name: 'Place action' })).toHaveCount(1);
    const over = await exportedGlb(page);
    for (const foot of ['foot_l', 'foot_r', 'toe_l'])
      expect(apart(animated(over, foot, 'rotation'), animated(plain, foot, 'rotation'))).toBeLessThan(2e-3);
    expect(apart(animated(over, 'head', 'rotation'), animated(plain, 'head', 'rotation'))).toBeGreaterThan(
      0.02,
    );
  });

  await test.step('dragged later, stretched, repeated', async () => {
    const place = (await block(page, 'Grumble').boundingBox())!;
    const before = await block(page, 'Grumble').getAttribute('aria-label');
    await page.mouse.move(place.x + place.width / 2, place.y + 14);
    await page.mouse.down();
    await page.mouse.move(place.x + place.width / 2 - 30, place.y + 14, { steps: 5 });
    await page.mouse.up();
    await expect(block(page, 'Grumble')).not.toHaveAttribute('aria-label', before!);
    await openBlock(page, 'Grumble');
    await edits(page).getByRole('spinbutton', { name: 'As long' }).fill('1.5');
    await page.keyboard.press('Enter');
    await edits(page).getByRole('spinbutton', { name: 'Times' }).fill('2');
    await page.keyboard.press('Enter');
    await expect(block(page, 'Grumble')).toContainText(/150 %.*× 2/);
  });

  await test.step('crossed with Sneeze', async () => {
    const end = Number(/to ([\d.]+)/.exec((await block(page, 'Grumble').getAttribute('aria-label'))!)![1]);
    await goToFrame(page, Math.floor(end) - 10);
    await openEdit(page, 'Apply action');
    await row(page, 'Sneeze')
      .getByRole('button', { name: /^Place at/ })
      .click();
    await openBlock(page, 'Sneeze');
    await edits(page).getByRole('spinbutton', { name: 'Crosses over' }).fill('8');
    await edits(page).getByRole('button', { name: 'Cross with the one before' }).click();
    await expect(edits(page)).toContainText(/“Grumble” gives way to “Sneeze” from frame/);
    await expect(edits(page).getByText('Grumble gives way: undo')).toBeVisible();
  });

  await test.step('one pose of Wave for the left arm', async () => {
    await goToFrame(page, 14);
    await page.getByRole('button', { name: 'Left arm' }).click();
    await openEdit(page, 'Apply action');
    await row(page, 'Wave').getByRole('button', { name: 'A pose …' }).click();
    await page.getByRole('spinbutton', { name: 'Its frame' }).fill('14');
    await page.getByRole('spinbutton', { name: 'Amount, %' }).fill('60');
    await page.getByRole('button', { name: 'Blend in at 14' }).click();
    await expect(edits(page)).toContainText('channels keyed');
    await page.keyboard.press('Escape');
  });

  await test.step('moved by the keyboard, then turned to keys', async () => {
    await block(page, 'Sneeze').focus();
    const before = await block(page, 'Sneeze').getAttribute('aria-label');
    await page.keyboard.press('ArrowRight');
    await expect(block(page, 'Sneeze')).not.toHaveAttribute('aria-label', before!);
    await openBlock(page, 'Sneeze');
    await edits(page).getByRole('button', { name: 'Turn to keys' }).click();
    await expect(history(page).getByRole('button', { name: 'Turn placement to keys' })).toHaveCount(1);
    await expect(block(page, 'Sneeze')).toHaveCount(0);
    await saved(page);
  });

  await test.step('a sneeze of the shelf on Nib', async () => {
    await takeDemo(page, 'Oven door');
    await openEdit(page, 'Apply action');
    await pick(page, 'It is laid', 'as keys');
    await pick(page, 'Onto', 'Nib');
    await pick(page, 'Match', 'by name, then by structure');
    await row(page, 'Sneeze')
      .getByRole('button', { name: /^Lay at/ })
      .click();
    await expect(edits(page)).toContainText('Not found by name');
    await touchControl(page, 'skull');
    await expect(page.locator('.channel-name[title="skull.rx"]')).toBeVisible();
  });
});

test('The pantry as a file in another browser: nothing doubled, and removal undone', async ({
  page,
  browser,
}) => {
  await page.goto('/pantry');
  await page.getByRole('button', { name: 'Lay out the shelf' }).click();
  await expect(page.getByRole('article')).toHaveCount(6);
  const waiting = page.waitForEvent('download');
  await page.getByRole('button', { name: /Save all 6/ }).click();
  const zip = await downloaded(await waiting);

  const other = await (await browser.newContext()).newPage();
  await other.goto(`${new URL(page.url()).origin}/pantry`);
  const open = async (name: string, buffer: Buffer) =>
    other.locator('input[type=file]').setInputFiles({ name, mimeType: 'application/octet-stream', buffer });
  await open('actions.zip', zip);
  await expect(other.getByRole('article')).toHaveCount(6);
  await open('actions.zip', zip);
  await expect(other.getByText(/6 in the pantry already, not kept twice/)).toBeVisible();
  await expect(other.getByRole('article')).toHaveCount(6);
  await open('cut.zip', zip.subarray(0, 900));
  await expect(other.getByText('One file was not opened')).toBeVisible();

  await other.getByRole('button', { name: 'Remove Wave' }).click();
  await expect(other.getByRole('article')).toHaveCount(5);
  await other.getByRole('button', { name: 'Undo' }).click();
  await expect(other.getByRole('article', { name: 'Wave' })).toBeVisible();
  await other.getByRole('checkbox', { name: 'Choose Wave' }).click();
  await other.getByRole('checkbox', { name: 'Choose Nod' }).click();
  await other.getByRole('button', { name: 'Compare' }).click();
  await expect(other.getByRole('dialog')).toContainText(/head\.rx.*only in the/);
  await other.getByRole('dialog').getByRole('button', { name: 'Close' }).click();

  // The two of them into a folder, and away; and had back.
  await other.getByRole('button', { name: 'Change …' }).click();
  await other.getByRole('combobox', { name: /^Folder/ }).fill('greetings / short');
  await other.getByRole('button', { name: 'Keep' }).click();
  await expect(other.getByRole('menuitem', { name: 'greetings (2)' })).toBeVisible();
  await other.getByRole('menuitem', { name: 'short (2)' }).click();
  await expect(other.getByRole('article')).toHaveCount(2);
  await other.getByRole('checkbox', { name: 'All', exact: true }).check();
  await other.getByRole('button', { name: 'Remove 2' }).click();
  await expect(other.getByText('2 actions were removed')).toBeVisible();
  await expect(other.getByRole('article')).toHaveCount(0);
  await other.getByRole('button', { name: 'Undo' }).last().click();
  await expect(other.getByRole('article')).toHaveCount(2);
  await other.close();
});

test('a placed action that has changed in the pantry is offered anew, renewed, and shown backward one and a half times', async ({
  page,
}) => {
  const saveArm = async (to: number) => {
    await page.getByRole('button', { name: 'Left arm' }).click();
    await markRange(page, 0, to);
    await openEdit(page, 'Save as action');
    await edits(page).getByRole('textbox', { name: 'Name', exact: true }).fill('Reach');
    await edits(page).getByRole('button', { name: 'Save to the pantry' }).click();
    await expect(edits(page)).toContainText('Saved to the pantry.');
  };
  await takeDemo(page, 'Night round');
  await saveArm(8);
  await openEdit(page, 'Apply action');
  await pick(page, 'It is laid', 'as a block');
  await row(page, 'Reach')
    .getByRole('button', { name: /^Place at/ })
    .click();
  await expect(block(page, 'Reach')).toHaveAttribute('aria-label', 'Reach, frames 0 to 8');
  const notice = page.getByText('“Reach” has changed in the pantry since it was placed here.');
  await expect(notice).toHaveCount(0);
  await saveArm(12);
  await expect(notice).toBeVisible();
  await page.getByRole('button', { name: 'Renew it where it is placed' }).click();
  await expect(block(page, 'Reach')).toHaveAttribute('aria-label', 'Reach, frames 0 to 12');
  await expect(notice).toHaveCount(0);
  await openBlock(page, 'Reach');
  await edits(page).getByRole('checkbox', { name: 'Backward' }).click();
  await edits(page).getByRole('spinbutton', { name: 'Times' }).fill('1.5');
  await page.keyboard.press('Enter');
  await expect(block(page, 'Reach')).toContainText(/× 1.5 *backward/);

  await test.step('stretched by its beginning with Shift, and by keys: what is opposite stays', async () => {
    const laid = (await block(page, 'Reach').boundingBox())!;
    await page.mouse.move(laid.x + 2, laid.y + laid.height - 4);
    await page.mouse.down();
    await page.keyboard.down('Shift');
    await page.mouse.move(laid.x + laid.width / 3 + 2, laid.y + laid.height - 4, { steps: 6 });
    await page.mouse.up();
    await page.keyboard.up('Shift');
    await expect(block(page, 'Reach')).toHaveAttribute('aria-label', 'Reach, frames 6 to 18');
    await expect(block(page, 'Reach')).toContainText('67 %');
    // A moment after a drag the focus is let go of: until then what a script gives it is taken back.
    await saved(page);
    await block(page, 'Reach').focus();
    await page.keyboard.press('Control+Shift+ArrowLeft');
    await expect(block(page, 'Reach')).toHaveAttribute('aria-label', 'Reach, frames 6 to 17');
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    await expect(block(page, 'Reach')).toHaveAttribute('aria-label', 'Reach, frames 0 to 18');
  });

  await test.step('left as it is here and after a reload; in a copy that nobody opened it is renewed from the list of shots', async () => {
    await saveArm(10);
    await page.getByRole('button', { name: 'Leave it' }).click();
    await expect(notice).toHaveCount(0);
    await saved(page);
    await page.reload();
    await expect(block(page, 'Reach')).toContainText(/× 1.5 *backward/);
    await expect(notice).toHaveCount(0);
    await page.getByRole('link', { name: 'Shots' }).click();
    await page.getByRole('button', { name: 'Make a copy of Night round' }).click();
    const offer = page.getByRole('alert').filter({ hasText: 'has changed in the pantry' });
    await expect(offer).toContainText(
      '“Reach” has changed in the pantry since it was placed in Night round 2.',
    );
    await offer.getByRole('button', { name: 'Renew' }).click();
    await expect(page.getByText('1 block in 1 shot renewed')).toBeVisible();
    await expect(offer).toHaveCount(0);
    await page
      .getByRole('article', { name: 'Night round 2' })
      .getByRole('button', { name: 'Open', exact: true })
      .click();
    await expect(block(page, 'Reach')).toHaveAttribute('aria-label', 'Reach, frames 0 to 15');
  });
});
