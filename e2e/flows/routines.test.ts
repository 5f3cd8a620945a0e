/** A routine taken from the history of one captured shot, and run from the command line over others (01_03.bvh, Debian's assimp-testmodels). */
import { spawnSync } from 'node:child_process';
import { mkdtemp, readdir, readFile, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import type { Page } from '@playwright/test';
import { downloaded, dropFiles, edits, expect, history, openEdit, pick, test } from './helpers.ts';

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
