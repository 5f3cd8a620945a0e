/** axe finds nothing on any route, with panels and menus open, in both themes (rules of WCAG 2.2 A and AA and best practices). */
import { execFileSync } from 'node:child_process';
import axe from 'axe-core';
import { EDITS } from '@kneader/core';
import type { Page } from '@playwright/test';
import { edits, expect, openEdit, takeDemo, test, touchControl } from './helpers.ts';

/** Which third of all panels is looked at: the next one with each commit; ALL_PANELS=1 looks at all of them. */
const turn = Number(execFileSync('git', ['rev-list', '--count', 'HEAD'], { encoding: 'utf8' }));
const all = process.env['ALL_PANELS'] === '1';
const isTheirTurn = (i: number) => all || i % 3 === turn % 3;
/** In which theme what compares and shows is looked at: by turns, for only the palette differs, whose contrast every other page and panel shows too. */
const themesOfCompare = all ? ['flour', 'rye'] : [turn % 2 === 0 ? 'flour' : 'rye'];

async function clean(page: Page, where: string, part = 'html'): Promise<void> {
  // What fades in would be measured half way: nothing moves here, and a moment is enough.
  await page.waitForTimeout(120);
  const found = await page.evaluate(async (include) => {
    const { violations } = await axe.run(include, {
      runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'],
      resultTypes: ['violations'],
    });
    return violations.flatMap(({ id, nodes }) =>
      nodes.map(({ target, any }) => `${id}: ${target.join(' ')} ${any[0]?.message ?? ''}`),
    );
  }, part);
  expect.soft(found, where).toEqual([]);
}

/** Apply and Leave lie within the window, over nothing, and no panel is wider than its place. */
async function footIsInSight(page: Page, title: string): Promise<void> {
  const found = await page.evaluate(() => {
    const list = document.querySelector('.edits-list')!;
    const apply = [...list.querySelectorAll('button')].find(
      (one) => one.textContent.trim() === 'Apply' && !one.closest('.close-up'),
    );
    const wide = list.scrollWidth > list.clientWidth;
    if (!apply) return { wide, inSight: true };
    const { left, top, width, height } = apply.getBoundingClientRect();
    const there = document.elementFromPoint(left + width / 2, top + height / 2);
    return { wide, inSight: there !== null && apply.contains(there) && top + height <= window.innerHeight };
  });
  expect([title, found]).toEqual([title, { wide: false, inSight: true }]);
}

for (const theme of ['flour', 'rye'] as const) {
  test.describe(theme, () => {
    test.beforeEach(async ({ page }) => {
      await page.emulateMedia({ reducedMotion: 'reduce' });
      // With the page, once: a part of a megabyte that would else go there for each look.
      await page.addInitScript(axe.source);
      await page.addInitScript((name) => {
        localStorage.setItem('kneader-theme', JSON.stringify({ state: { name }, version: 0 }));
      }, theme);
    });

    test('the routes', async ({ page }) => {
      await page.goto('/');
      await expect(page.getByRole('article').first()).toBeVisible();
      await clean(page, 'shots');
      for (const route of ['pantry', 'routines', 'characters', 'help', 'shots/nobody', 'nowhere']) {
        await page.goto(`/${route}`);
        await expect(page.locator('main, .ant-result').first()).toBeVisible();
        await clean(page, route);
      }
    });

    if (themesOfCompare.includes(theme))
      test('two compared, notes, film and sheet', async ({ page }) => {
        await takeDemo(page, 'First tray');
        await page.keyboard.press('Shift+N');
        await page.keyboard.type('Too even');
        await page.keyboard.press('Enter');
        await clean(page, 'notes', '.notes-drawer');
        await page.getByRole('button', { name: 'Close' }).click();
        await page.locator('.stage-tools').getByRole('button', { name: 'Film' }).click();
        await clean(page, 'reference film', '.reference');
        for (const [title, dialog] of [
          ['Film or pictures', 'Film or numbered pictures'],
          ['Sheet to print', 'Sheet to print'],
        ] as const) {
          await page.getByRole('button', { name: 'Export' }).click();
          await page.getByRole('menuitem', { name: title }).click();
          await expect(page.getByRole('dialog', { name: dialog })).toBeVisible();
          await clean(page, title, '.ant-modal');
          await page.keyboard.press('Escape');
          await expect(page.getByRole('dialog', { name: dialog })).toBeHidden();
        }
        await page.getByRole('link', { name: 'Compare' }).click();
        await expect(page.getByRole('listbox', { name: 'Differences by joint and frame' })).toBeVisible();
        await clean(page, 'compared');
        for (const look of ['Blink', 'Beside']) {
          await page.getByLabel('Look').getByText(look).click();
          await clean(page, `compared: ${look}`, '.compare-stage');
        }
        for (const tab of ['Time', 'Contacts', 'Keys']) {
          await page.getByRole('tab', { name: tab }).click();
          await clean(page, `compared: ${tab}`, '.compare-side');
        }
      });

    test('the bench, its panels and menus', async ({ page }) => {
      test.setTimeout(480_000);
      // On a small screen: what applies an edit is in sight however long its panel is.
      await page.setViewportSize({ width: 1024, height: 700 });
      await takeDemo(page, 'Night round');
      await clean(page, 'the bench');
      await page.setViewportSize({ width: 640, height: 400 });
      for (const name of ['Figure', 'Stage', 'Lanes', 'Edits']) {
        await page.getByRole('tab', { name, exact: true }).click();
        await clean(page, `the bench at 200 %, ${name}`);
      }
      await page.setViewportSize({ width: 1024, height: 700 });
      await touchControl(page, 'chest');
      // The panels are the same in both themes but for their colours, which they share: each is looked at in one of them.
      const some = EDITS.filter((_, i) => isTheirTurn(i)).filter(
        (_, i) => (i % 3 === 0) === (theme === 'rye'),
      );
      for (const { title } of some) {
        await openEdit(page, title);
        await clean(page, title, '.edits');
        await footIsInSight(page, title);
      }
      await openEdit(page, 'Add offset pass');
      await edits(page).getByRole('button', { name: 'Apply' }).click();
      for (const title of ['Set up pass', 'Set weight']) {
        await openEdit(page, title);
        await clean(page, `${title} of a pass`);
      }
      // For who wants nothing to move lists open where they belong.
      await page.getByRole('combobox', { name: 'Shading' }).click();
      const field = (await page.getByRole('combobox', { name: 'Shading' }).boundingBox())!;
      const list = page.locator('.ant-select-dropdown:visible');
      await expect.poll(async () => (await list.boundingBox())?.y).toBeGreaterThan(field.y);
      expect((await list.boundingBox())!.y).toBeLessThan(field.y + 60);
      await list.getByTitle('Flat').click();
      await page.getByRole('button', { name: 'Export' }).click();
      await clean(page, 'Export');
      await page.keyboard.press('Escape');
      await page.keyboard.press('/');
      await clean(page, 'Find');
    });
  });
}
