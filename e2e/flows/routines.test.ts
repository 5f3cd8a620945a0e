/** A routine taken from the history of one captured shot, and run from the command line over others (01_03.bvh, Debian's assimp-testmodels). */
import { spawnSync } from 'node:child_process';
import { mkdtemp, readdir, readFile, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import type { Page } from '@playwright/test';
import {
  downloaded,
  dropFiles,
  edits,
  expect,
  history,
  openEdit,
  pick,
  saved,
  takeDemo,
  test,
} from './helpers.ts';

const FRAMES = 160;

/** A part of the captured motion as a file of its own. */
async function cutFrom(first: number): Promise<string> {
  const lines = (await readFile('/usr/share/assimp/models/BVH/01_03.bvh', 'utf8')).split(/\r?\n/);
  const at = lines.findIndex((line) => line.startsWith('Frames:'));
  const rows = lines.slice(at + 2 + first, at + 2 + first + FRAMES);
  return [...lines.slice(0, at), `Frames: ${FRAMES}`, lines[at + 1]!, ...rows, ''].join('\n');
}

async function apply(page: Page, step: string): Promise<void> {
  await edits(page).getByRole('button', { name: 'Apply', exact: true }).click();
  await expect(history(page).getByRole('button', { name: step }).last()).toHaveAttribute(
    'aria-current',
    'step',
  );
}

test('unwrapped, low-passed, thinned, flipped, saved: from the history to a folder of files and one report', async ({
  page,
}) => {
  await page.goto('/');
  await dropFiles(page, [{ name: 'first.bvh', content: Buffer.from(await cutFrom(3110)) }]);
  await expect(page.getByRole('region', { name: 'Stage' })).toBeVisible();
  await page.getByRole('button', { name: 'Left arm' }).click();
  await page.getByRole('button', { name: 'Right arm' }).click({ modifiers: ['Shift'] });

  await openEdit(page, 'Unwrap angles');
  await apply(page, 'Unwrap angles');
  await openEdit(page, 'Smooth');
  await pick(page, 'Method', 'low pass');
  await apply(page, 'Smooth');
  await openEdit(page, 'Thin');
  await edits(page).getByText('In space', { exact: true }).click();
  await apply(page, 'Thin');
  await openEdit(page, 'Flip a range');
  await apply(page, 'Flip a range');
  await openEdit(page, 'Save as action');
  await edits(page).getByRole('textbox', { name: 'Name', exact: true }).fill('Arms');
  await edits(page).getByRole('button', { name: 'Save to the pantry' }).click();
  await expect(edits(page)).toContainText('Saved to the pantry.');

  await history(page).getByText('Save as routine').click();
  await page.getByRole('textbox', { name: 'Name of the routine' }).fill('Clean arms');
  await page.keyboard.press('Enter');
  await expect(page.getByText('“Clean arms” is under actions')).toBeVisible();
  await page.goto('/routines');
  const card = page.getByRole('article', { name: 'Clean arms' });
  await expect(card.getByRole('listitem')).toHaveCount(5);
  const waiting = page.waitForEvent('download');
  await card.getByRole('button', { name: 'Save Clean arms to a file' }).click();

  const folder = await mkdtemp(join(tmpdir(), 'kneader-flow-'));
  const routine = join(folder, 'clean-arms.kneader-routine.json');
  await writeFile(routine, await downloaded(await waiting));
  const files = await Promise.all(
    [0, 1500, 4100].map(async (first) => {
      const path = join(folder, `from-${first}.bvh`);
      await writeFile(path, await cutFrom(first));
      return path;
    }),
  );
  const report = join(folder, 'report.json');
  const out = join(folder, 'out');
  const ran = spawnSync(
    resolve('../bin/kneader'),
    ['routine', routine, ...files, '-o', out, '--channels', '*Arm*', '--report', report],
    { encoding: 'utf8', timeout: 120_000 },
  );
  expect(ran.stderr + ran.stdout).toContain('3 changed, 0 unchanged, 0 failed.');
  const { files: lines } = JSON.parse(await readFile(report, 'utf8')) as {
    files: { status: string; steps: object[] }[];
  };
  expect(lines.map(({ status, steps }) => [status, steps.length])).toEqual(Array(3).fill(['changed', 5]));
  const written = await readdir(out);
  expect(written.filter((name) => name.endsWith('.kneader-action.json'))).toHaveLength(3);
  expect(written.filter((name) => name.endsWith('.bvh'))).toHaveLength(3);
});

test('an example is taken, carried and set up step by step, run by body parts on a shot, and shows what it did', async ({
  page,
}) => {
  await takeDemo(page, 'Dough toss');
  await saved(page);
  await page.goto('/routines');
  await page
    .getByRole('article', { name: 'Example: Calm the arms' })
    .getByRole('button', { name: 'Take a copy' })
    .click();
  const card = page.getByRole('article', { name: 'Calm the arms', exact: true });
  await card.getByRole('button', { name: 'Change Calm the arms' }).click();
  const drawer = page.getByRole('dialog', { name: 'Change “Calm the arms”' });
  const steps = drawer.getByRole('list', { name: 'Steps' }).getByRole('listitem');
  await expect(steps).toHaveText([/1\. Smooth/, /2\. Thin/]);
  await test.step('a step is added, carried to the beginning by keyboard, another set up', async () => {
    await drawer.getByRole('combobox', { name: 'Add an edit' }).fill('unwrap');
    await page.keyboard.press('Enter');
    await expect(steps.last()).toContainText('3. Unwrap angles');
    await drawer.getByRole('button', { name: 'Move step 3, Unwrap angles', exact: true }).focus();
    await page.keyboard.press('Enter');
    for (const key of ['ArrowUp', 'ArrowUp', 'Enter']) {
      // What is carried moves there first.
      await page.waitForTimeout(350);
      await page.keyboard.press(key);
    }
    await expect(steps).toHaveText([/1\. Unwrap angles/, /2\. Smooth/, /3\. Thin/]);
    await drawer.getByRole('button', { name: 'Options of step 3, Thin' }).click();
    await drawer.getByRole('spinbutton', { name: 'Rotation' }).fill('1.5');
    await drawer.getByRole('button', { name: 'Save', exact: true }).click();
    await expect(drawer).toBeHidden();
    await expect(card.getByRole('listitem')).toHaveCount(3);
  });
  await test.step('run on the shot: what it runs on is said, and the keys become fewer', async () => {
    await card.getByRole('button', { name: 'Run on shots' }).click();
    const dialog = page.getByRole('dialog', { name: 'Run “Calm the arms” on shots' });
    await dialog.getByRole('checkbox', { name: 'Dough toss' }).click();
    await dialog.getByRole('button', { name: 'Run on one shot' }).click();
    await expect(dialog.getByRole('list', { name: 'What became of them' })).toContainText(
      /Dough toss \(captured\): [\d,]+ keys → [\d,]+\. It can be undone/,
    );
    await dialog.getByRole('button', { name: 'Close' }).first().click();
  });
  const last = card.getByRole('region', { name: 'What it did last' });
  await expect(last).toContainText('1 of 1 changed');
  await expect(last.getByRole('img')).toHaveCount(2);
  await page.reload();
  await expect(last).toContainText(/Dough toss \(captured\) [\d,]+ → [\d,]+ keys/);
  await last.getByRole('link', { name: 'Dough toss' }).click();
  await expect(history(page).getByRole('listitem')).toHaveText(['Opened', 'Unwrap angles', 'Smooth', 'Thin']);
});
