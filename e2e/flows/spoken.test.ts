/** The bench for whoever listens to it: what is said of changes, how parts are called, the keys of a curve as a list. */
import type { Page } from '@playwright/test';
import { expect, goToFrame, takeDemo, test, touchControl } from './helpers.ts';

/** Does something and gives what is spoken next. */
async function heard(page: Page, act: () => Promise<void>): Promise<string> {
  const region = page.locator('[aria-live="polite"].only-spoken');
  // What was said before is over by then.
  await expect(region).toHaveText('');
  await act();
  await expect(region).not.toHaveText('');
  return region.innerText();
}

test('each change is said in one short sentence: the approved list', async ({ page }) => {
  await takeDemo(page, 'First tray');
  await touchControl(page, 'hand_goal_l');
  await goToFrame(page, 12);
  const press = (stroke: string) => () => page.keyboard.press(stroke);
  const said: string[] = [];
  for (const stroke of [
    'n',
    'Control+ArrowRight',
    'Alt+ArrowRight',
    'Alt+ArrowUp',
    'Control+z',
    'Control+Shift+z',
    'Shift+a',
    'Shift+a',
    'Control+c',
    'Space',
    'Space',
  ])
    if (stroke === 'Control+ArrowRight') await press(stroke)();
    else said.push(`${stroke}: ${await heard(page, press(stroke))}`);
  // Where it stops depends on when.
  expect(said.map((line) => line.replace(/at \d+$/, 'at …'))).toEqual([
    'n: Keyed here',
    'Alt+ArrowRight: 7 keys moved: +1 frame',
    'Alt+ArrowUp: 7 keys moved: +1',
    'Control+z: Undone: Move keys',
    'Control+Shift+z: Redone: Move keys',
    'Shift+a: Arcs on: hand_goal_l',
    'Shift+a: Arcs off',
    'Control+c: Keys copied',
    'Space: Playing',
    'Space: Stopped at …',
  ]);
});

test('the keys of a curve are walked as a list, by keyboard alone, and the play-head goes along', async ({
  page,
}) => {
  await takeDemo(page, 'First tray');
  await touchControl(page, 'hand_goal_l');
  await page.keyboard.press('Shift+K');
  const list = page.getByRole('listbox', { name: 'Keys of hand_goal_l tx' });
  await expect(list).toBeFocused();
  const frame = page.getByRole('spinbutton', { name: 'Frame', exact: true });
  await page.keyboard.press('ArrowDown');
  await expect(frame).toHaveValue('8');
  await expect(list.getByRole('option', { selected: true })).toHaveText(/^frame 8, -?[\d.]+ cm, /);
  await expect(page.getByRole('status', { name: 'Chosen' })).toContainText('1 key ');
  await page.keyboard.press('End');
  await expect(frame).toHaveValue('104');
  await page.keyboard.press('PageUp');
  await expect(frame).toHaveValue('32');
  await page.keyboard.press('ArrowUp');
  await expect(frame).toHaveValue('24');
  await page.keyboard.press('Escape');
  await expect(list).toBeHidden();
  await expect(page.getByRole('button', { name: 'List', exact: true })).toBeFocused();
});

test('the parts of the bench by their roles and names: the approved tree', async ({ page }) => {
  await takeDemo(page, 'First tray');
  await touchControl(page, 'hand_goal_l');
  await expect(page.getByRole('main')).toMatchAriaSnapshot({ name: 'bench.aria.yml' });
});
