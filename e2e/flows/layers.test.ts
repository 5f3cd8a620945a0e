/** The three ways through the layers: passes and variants on a toss, live filters on a loop, on twos in a blocking. */
import type { Page } from '@playwright/test';
import {
  applyOpen,
  animated,
  exportedGlb,
  edits,
  expect,
  goToFrame,
  history,
  markRange,
  lanes,
  openEdit,
  reportNumber,
  saved,
  takeDemo,
  test,
  touchControl,
  valueField,
} from './helpers.ts';

const typeValue = async (page: Page, label: string, value: number) => {
  await valueField(page, label).click();
  await page.keyboard.type(String(value));
  await page.keyboard.press('Enter');
  await expect.poll(async () => Number(await valueField(page, label).inputValue())).toBeCloseTo(value, 0);
};
const shownValue = async (page: Page, label: string) => Number(await valueField(page, label).inputValue());
const rows = (page: Page) => page.locator('.pass-name').allInnerTexts();
const findings = (page: Page) => edits(page).getByRole('status', { name: 'Report' });
const variants = (page: Page) => page.getByRole('group', { name: 'Variants' });

test('Dough toss: an offset with ramps, a replace pass from what shows, variants, a merge that says what it loses', async ({
  page,
}) => {
  await takeDemo(page, 'Dough toss (captured)');
  await touchControl(page, 'upperarm_r');
  await page.getByRole('button', { name: 'Right arm' }).click();
  await goToFrame(page, 60);
  const before = await shownValue(page, 'upperarm_r rz');
  await goToFrame(page, 20);
  const outside = await shownValue(page, 'upperarm_r rz');

  await test.step('an offset pass from 40 to 90, pushed too far, dialled to 70 %', async () => {
    await markRange(page, 40, 90);
    await openEdit(page, 'Add offset pass');
    await edits(page).getByRole('textbox', { name: 'Name', exact: true }).fill('Push');
    await edits(page)
      .getByText(/Bookends at the chosen range/)
      .click();
    await applyOpen(page);
    await goToFrame(page, 60);
    await typeValue(page, 'upperarm_r rz', before - 40);
    const weight = page.getByRole('spinbutton', { name: 'Weight of Push' });
    await weight.click();
    await weight.fill('70');
    await page.keyboard.press('Enter');
    await expect.poll(() => shownValue(page, 'upperarm_r rz')).toBeCloseTo(before - 28, 0);
    await goToFrame(page, 20);
    expect(await shownValue(page, 'upperarm_r rz')).toBe(outside);
  });

  await test.step('the weight is keyed to nothing at 120, and bent among the curves like any other', async () => {
    await goToFrame(page, 90);
    await page.getByRole('button', { name: 'Key the weight of Push' }).click();
    await goToFrame(page, 120);
    await page.getByRole('button', { name: 'Key the weight of Push' }).click();
    const weight = page.getByRole('spinbutton', { name: 'Weight of Push' });
    await weight.fill('0');
    await page.keyboard.press('Enter');
    await openEdit(page, 'Set weight');
    await edits(page).getByRole('button', { name: 'As a curve' }).click();
    const curves = page.getByRole('application', { name: 'Curves' });
    await expect(curves).toHaveAttribute('data-curves', '1');
    await expect(lanes(page).getByText('the weight of Push')).toBeVisible();
    await curves.focus();
    await page.keyboard.press('Control+a');
    await expect(page.getByRole('status', { name: 'Chosen' })).toContainText('its weight');
    await openEdit(page, 'Set tangents');
    await edits(page).getByRole('button', { name: /^flat/ }).click();
    await expect(history(page).getByRole('button', { name: 'Set tangents' })).toHaveCount(1);
    await page.locator('.pass-name', { hasText: 'Push' }).click();
    await expect(lanes(page).getByText('the weight of Push')).toBeHidden();
  });

  await test.step('deleted offset keys give back what was there', async () => {
    await page.getByRole('application', { name: 'Curves' }).focus();
    await page.keyboard.press('Control+a');
    await page.keyboard.press('Delete');
    await goToFrame(page, 60);
    expect(await shownValue(page, 'upperarm_r rz')).toBe(before);
    await page.keyboard.press('Control+z');
    await expect.poll(() => shownValue(page, 'upperarm_r rz')).toBeCloseTo(before - 28, 0);
  });

  await test.step('a replace pass for head and neck starts from what shows, on the pose columns: the timing stays', async () => {
    for (const frame of [30, 80, 140]) {
      await goToFrame(page, frame);
      await lanes(page)
        .getByRole('button', { name: `Pose at ${frame}` })
        .click();
    }
    await touchControl(page, 'neck');
    await touchControl(page, 'head', 'Shift');
    const head: number[] = [];
    for (const frame of [80, 30]) {
      await goToFrame(page, frame);
      head.push(await shownValue(page, 'head rx'));
    }
    await openEdit(page, 'Add replace pass');
    await edits(page).getByRole('textbox', { name: 'Name', exact: true }).fill('Look');
    await edits(page).getByRole('combobox', { name: 'Starts from' }).click();
    await page.getByTitle('the pose columns').click();
    await applyOpen(page);
    await expect.poll(() => rows(page)).toEqual(['Look', 'Push']);
    await expect(page.getByRole('note').filter({ hasText: '2 controls on Look' })).toBeVisible();
    await expect.poll(() => shownValue(page, 'head rx')).toBeCloseTo(head[1]!, 1);
    await goToFrame(page, 80);
    expect(await shownValue(page, 'head rx')).toBeCloseTo(head[0]!, 1);
  });

  await test.step('two members are split out into a pass of their own; the stack is reordered and soloed', async () => {
    await page.locator('.pass-name', { hasText: 'Push' }).click();
    await page.keyboard.press('Escape');
    await touchControl(page, 'forearm_r');
    await touchControl(page, 'hand_r', 'Shift');
    await openEdit(page, 'Split out');
    await edits(page).getByRole('textbox', { name: 'Name', exact: true }).fill('Wrist');
    await applyOpen(page);
    await expect.poll(() => rows(page)).toEqual(['Look', 'Wrist', 'Push']);
    const grip = async (name: string) =>
      (await page.getByRole('button', { name: `Move ${name} in the stack` }).boundingBox())!;
    const [carried, over] = [await grip('Wrist'), await grip('Look')];
    await page.mouse.move(carried.x + 8, carried.y + 8);
    await page.mouse.down();
    await page.mouse.move(carried.x + 8, carried.y - 4, { steps: 4 });
    await page.mouse.move(over.x + 8, over.y + 2, { steps: 8 });
    await page.mouse.up();
    await expect.poll(() => rows(page)).toEqual(['Wrist', 'Look', 'Push']);
    await page.keyboard.press('Control+z');
    await expect.poll(() => rows(page)).toEqual(['Look', 'Wrist', 'Push']);
    await openEdit(page, 'Set up pass');
    await edits(page)
      .getByText(/^Solo:/)
      .click();
    await expect(edits(page).getByRole('checkbox', { name: /^Solo:/ })).toBeChecked();
    await edits(page)
      .getByText(/^Solo:/)
      .click();
  });

  await test.step('variants are named, shown by a stroke and side by side', async () => {
    await page.keyboard.press('Escape');
    await variants(page).getByRole('button', { name: 'Variant', exact: true }).click();
    await page.getByRole('button', { name: 'Mute Look' }).click();
    await variants(page).getByRole('button', { name: 'Variant', exact: true }).click();
    const first = variants(page).getByRole('button', { name: 'Variant A' });
    const second = variants(page).getByRole('button', { name: 'Variant B' });
    await expect(second).toHaveAttribute('aria-pressed', 'true');
    await page.keyboard.press('v');
    await expect(first).toHaveAttribute('aria-pressed', 'true');
    await expect(page.getByRole('button', { name: 'Mute Look' })).toBeVisible();
    await page.getByRole('button', { name: 'Mute Push' }).click();
    await variants(page).getByRole('button', { name: 'Variant', exact: true }).click();
    await page.keyboard.press('1');
    await expect(first).toHaveAttribute('aria-pressed', 'true');
    await page.keyboard.press('2');
    await expect(second).toHaveAttribute('aria-pressed', 'true');
    await variants(page).getByRole('button', { name: 'Side by side' }).click();
    await expect(page.locator('.stage-name')).toHaveText(['Variant A', 'Variant B', 'Variant C']);
    await variants(page).getByRole('button', { name: 'Side by side' }).click();
  });

  await test.step('a merge says before it is applied that the muted one would be lost', async () => {
    await openEdit(page, 'Merge passes');
    await edits(page).getByRole('combobox', { name: 'Merge', exact: true }).click();
    await page.getByTitle('all onto the base').click();
    await expect(findings(page)).toContainText(/Muted, or not solo, so lost with its keys: Look/);
    await expect.poll(() => reportNumber(page, 'greatest distance between frames')).toBeLessThanOrEqual(1);
    await expect.poll(() => rows(page)).toEqual([]);
    await edits(page).getByRole('button', { name: 'Leave', exact: true }).click();
    await expect.poll(() => rows(page)).toEqual(['Look', 'Wrist', 'Push']);
  });

  await test.step('the two lower passes are merged within 2 mm', async () => {
    await expect(page.locator('.pass-name', { hasText: 'Wrist' })).toHaveAttribute('aria-pressed', 'true');
    await openEdit(page, 'Merge passes');
    await edits(page).getByRole('combobox', { name: 'Merge', exact: true }).click();
    await page.getByTitle('into the one below').last().click();
    await edits(page).getByRole('spinbutton', { name: 'In space' }).fill('2');
    await page.keyboard.press('Tab');
    await expect.poll(() => reportNumber(page, 'greatest distance between frames')).toBeLessThanOrEqual(2);
    await applyOpen(page);
    await expect.poll(() => rows(page)).toEqual(['Look', 'Push']);
  });

  await test.step('the second variant is baked out to a shot of its own', async () => {
    await openEdit(page, 'Bake out variant');
    await edits(page).getByRole('combobox', { name: 'Variant', exact: true }).click();
    await page.getByTitle('Variant B').last().click();
    await edits(page).getByRole('button', { name: 'Bake out', exact: true }).click();
    await expect(edits(page).getByText('Stored as')).toBeVisible({ timeout: 60_000 });
    await saved(page);
    await edits(page)
      .getByRole('link', { name: /Variant B/ })
      .click();
    await expect(page.getByRole('heading', { name: /Variant B/ })).toBeVisible();
    expect(await page.locator('.pass-name').count()).toBe(0);
    const root = await exportedGlb(page);
    expect(root.listAnimations()[0]!.listChannels().length).toBeGreaterThan(20);
  });
});

test('Kneading loop: filters laid, turned while it plays, posed under, baked and removed', async ({
  page,
}) => {
  await takeDemo(page, 'Kneading loop');
  await touchControl(page, 'chest');
  const plain = async (frame: number) => {
    await goToFrame(page, frame);
    return shownValue(page, 'chest rx');
  };
  const [at4, at6, at10] = [await plain(4), await plain(6), await plain(10)];

  await test.step('a shift of two frames; a value set under it lands where it is seen', async () => {
    await openEdit(page, 'Add filter');
    await edits(page).getByRole('radio', { name: 'Shift' }).click();
    await applyOpen(page);
    expect(await plain(6)).toBe(at4);
    await goToFrame(page, 10);
    await typeValue(page, 'chest rx', at10 + 12);
    await page.getByRole('button', { name: 'Mute Shift 1' }).click();
    expect(await plain(8)).toBeCloseTo(at10 + 12, 1);
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    await expect.poll(() => plain(6)).toBe(at4);
  });

  await test.step('a spring, loop-aware, turned while it plays; its strength keyed', async () => {
    await touchControl(page, 'chest');
    await openEdit(page, 'Add filter');
    await edits(page).getByRole('radio', { name: 'Spring' }).click();
    await edits(page).getByText('Loop-aware').click();
    await applyOpen(page);
    await expect
      .poll(() => rows(page))
      .toEqual([expect.stringContaining('Spring 1'), expect.stringContaining('Shift 1')]);
    await page.locator('.pass-name', { hasText: 'Spring 1' }).click();
    const sprung = await plain(10);
    await page.getByRole('button', { name: 'Play', exact: true }).click();
    const frequency = edits(page).getByRole('slider', { name: 'Frequency, slider' });
    const slow = await frequency.getAttribute('aria-valuenow');
    // Within the page: on a slow machine presses from outside come too far apart to be one turn.
    await frequency.evaluate(async (slider) => {
      for (let i = 0; i < 6; i += 1) {
        slider.dispatchEvent(
          new KeyboardEvent('keydown', { key: 'ArrowUp', bubbles: true, cancelable: true }),
        );
        await new Promise((done) => setTimeout(done));
      }
    });
    await expect(frequency).not.toHaveAttribute('aria-valuenow', slow!);
    await expect(history(page).getByRole('button', { name: 'Turn Spring 1' })).toHaveCount(1);
    await page.getByRole('button', { name: 'Stop' }).click();
    await expect.poll(() => plain(10)).not.toBe(sprung);
    const strength = page.getByRole('spinbutton', { name: 'Strength of Spring 1' });
    await strength.click();
    await strength.fill('0');
    await page.keyboard.press('Enter');
    // Without strength it is the shifted motion again, to the digit.
    await expect.poll(() => plain(6)).toBe(at4);
  });

  await test.step('the eye, held, shows it without the filter', async () => {
    await goToFrame(page, 6);
    const eye = page.getByRole('button', { name: 'Mute Shift 1' });
    const place = (await eye.boundingBox())!;
    await page.mouse.move(place.x + 8, place.y + 8);
    await page.mouse.down();
    await expect.poll(() => shownValue(page, 'chest rx')).toBe(at6);
    await page.waitForTimeout(300);
    await page.mouse.up();
    await expect.poll(() => shownValue(page, 'chest rx')).toBe(at4);
  });

  await test.step('one is baked, the other removed', async () => {
    await page.locator('.pass-name', { hasText: 'Spring 1' }).hover();
    await page.getByRole('button', { name: 'Remove Spring 1' }).click();
    await openEdit(page, 'Bake filter');
    await expect(findings(page)).toContainText(/replaced by those that show the same/);
    await applyOpen(page);
    await expect.poll(() => page.locator('.pass-name').count()).toBe(0);
    expect(Math.abs((await plain(6)) - at4)).toBeLessThan(0.2);
  });

  await test.step('the file has what showed', async () => {
    expect(animated(await exportedGlb(page), 'chest', 'rotation').length).toBeGreaterThan(2);
  });
});

test('First tray: on twos by keyboard, a pattern, a range; the tray that slides is added with one click', async ({
  page,
}) => {
  await takeDemo(page, 'First tray');
  await openEdit(page, 'Stepped to spline');
  await applyOpen(page);
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Head', exact: true }).click();
  for (const part of ['Torso', 'L arm', 'R arm', 'L leg', 'R leg', 'Extra'])
    await page
      .getByRole('group', { name: 'Body parts' })
      .getByText(part, { exact: true })
      .click({ modifiers: ['Shift'] });
  await page.keyboard.press('/');
  await page.keyboard.type('Add filter');
  await page.keyboard.press('Enter');
  await edits(page).getByRole('radio', { name: 'Step' }).focus();
  // Space is the bench's own, always.
  await page.keyboard.press('Enter');
  await expect(findings(page)).toContainText(/sliding while the rest holds.*tray/);
  await page.getByRole('application', { name: 'Curves' }).focus();
  await page.keyboard.press('Enter');
  await expect.poll(() => rows(page)).toEqual([expect.stringContaining('Step 1')]);
  await page.locator('.pass-name').click();
  await edits(page)
    .getByRole('button', { name: /^Add (it|them)$/ })
    .click();
  await expect(edits(page).getByText(/Sliding while the rest holds/)).toBeHidden();
  const pattern = edits(page).getByRole('textbox', { name: 'Frames for each drawing' });
  await pattern.fill('2 3');
  await page.keyboard.press('Enter');
  await expect(history(page).getByRole('button', { name: 'Turn Step 1' })).toHaveCount(1);
  await touchControl(page, 'head');
  const values: number[] = [];
  for (const frame of [30, 31, 32, 33, 34]) {
    await goToFrame(page, frame);
    values.push(await shownValue(page, 'head ry'));
  }
  // From frame 0, two and three: 30 and 31 are one drawing, 32 to 34 the next.
  expect([values[0], values[2], values[2]]).toEqual([values[1], values[3], values[4]]);

  // In the file drawings change on the same frames, and on no others.
  const keys = animated(await exportedGlb(page), 'head', 'rotation');
  const at = (frame: number) =>
    keys
      .findLast(({ time }) => time <= frame / 24 + 1e-4)!
      .value.map((part) => part.toFixed(4))
      .join();
  expect(at(30)).toBe(at(31));
  expect([at(33), at(34)]).toEqual([at(32), at(32)]);
  expect(at(32)).not.toBe(at(31));
});

test('Kneading loop: a tassel follows through by itself, looser by the slider, baked to keys and taken back', async ({
  page,
}) => {
  await takeDemo(page, 'Kneading loop');
  await touchControl(page, 'tassel_1');
  await goToFrame(page, 9);
  const before = await shownValue(page, 'tassel_1 rx');
  await openEdit(page, 'Add filter');
  await edits(page).getByRole('radio', { name: 'Follow-through' }).click();
  await edits(page).getByText('Loop-aware').click();
  await applyOpen(page);
  // The chain is taken by its first control.
  expect(await reportNumber(page, 'controls')).toBe(4);
  await expect.poll(() => shownValue(page, 'tassel_1 rx')).not.toBe(before);
  const swung = await shownValue(page, 'tassel_1 rx');
  await page.locator('.pass-name', { hasText: 'Follow-through 1' }).click();
  await edits(page).getByRole('slider', { name: 'Stiffness, slider' }).focus();
  for (let i = 0; i < 6; i += 1) await page.keyboard.press('ArrowDown');
  await expect(history(page).getByRole('button', { name: 'Turn Follow-through 1' })).toHaveCount(1);
  await expect.poll(() => shownValue(page, 'tassel_1 rx')).not.toBe(swung);
  const looser = await shownValue(page, 'tassel_1 rx');
  await openEdit(page, 'Bake filter');
  await applyOpen(page);
  await expect(page.locator('.pass-name', { hasText: 'Follow-through 1' })).toHaveCount(0);
  await expect.poll(async () => Math.abs((await shownValue(page, 'tassel_1 rx')) - looser)).toBeLessThan(0.2);
  for (let i = 0; i < 3; i += 1) await page.keyboard.press('Control+z');
  await expect.poll(() => shownValue(page, 'tassel_1 rx')).toBe(before);
});
