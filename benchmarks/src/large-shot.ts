/** A shot of three million keys in the browser: opened from a file, opened again, an edit stored. */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { AT_REST, buildCurve, newShot, SEGMENT, TANGENT, withCurves, writeShotFile } from '@kneader/core';
import type { Node } from '@kneader/core';
import { limitRow } from './measure.ts';
import type { Row } from './measure.ts';
import { longestTask, noteLongTasks, secondsOf } from './page-times.ts';
import { withServedPage } from './served-page.ts';

const [NODES, KEYS] = [50, 10_000];
const CHANNELS = ['tx', 'ty', 'tz', 'rx', 'ry', 'rz'];

export const largeShotRows = (): Promise<Row[]> =>
  withServedPage(async (page) => {
    const folder = mkdtempSync(join(tmpdir(), 'kneader-large-'));
    const file = join(folder, 'large.kneader.json');
    writeFileSync(file, writeShotFile(largeShot()));
    const rows: Row[] = [];
    const row = (...given: Parameters<typeof limitRow>) => rows.push(limitRow(...given));
    const curves = page.getByRole('application', { name: 'Curves' });
    const saved = page.getByRole('status').filter({ hasText: /^Saved$/ });
    try {
      const read = await secondsOf(async () => {
        await page.locator('input[type=file]').setInputFiles(file);
        await curves.waitFor({ timeout: 120_000 });
      });
      row('open a file of 3,000,000 keys', 'until its bench is there', read, 's', 6);
      await saved.waitFor({ timeout: 120_000 });
      const again = await secondsOf(async () => {
        await page.reload();
        await curves.waitFor({ timeout: 120_000 });
      });
      row('open it again', 'until its bench is there', again, 's', 3);

      await page
        .locator('[id="spot-node 3"]')
        .waitFor({ timeout: 20_000 })
        .catch(() => undefined);
      await page.getByRole('textbox', { name: 'Filter channels' }).fill('node 3');
      await page.keyboard.press('Escape');
      await page.keyboard.press('c');
      const field = page.getByRole('textbox', { name: 'node 3 rx', exact: true });
      await field.waitFor();
      await page.waitForTimeout(3000);
      await noteLongTasks(page);
      await field.fill('12');
      const stored = await secondsOf(async () => {
        await page.keyboard.press('Enter');
        await page
          .getByText('Saving …')
          .waitFor({ timeout: 5000 })
          .catch(() => undefined);
        await saved.waitFor({ timeout: 120_000 });
      });
      row('type a value in it', 'until it is stored', stored, 's', 1);
      row('the same', 'the longest time that the page is held', await longestTask(page), 'ms', 100);

      await page.getByRole('textbox', { name: 'Filter channels' }).fill('');
      await page.keyboard.press('Escape');
      await page.keyboard.press('Control+a');
      await page.getByRole('button', { name: /Find/ }).click();
      await page.getByRole('textbox', { name: 'Find an edit' }).fill('Thin');
      const previewed = await secondsOf(async () => {
        await page.keyboard.press('Enter');
        await page.getByText('shown as far as it has come').waitFor({ timeout: 120_000 });
      });
      await page.getByText('3,000,000 keys on 300 channels').waitFor({ timeout: 1000 });
      row('thin all of it', 'until a part of it is shown', previewed, 's', 3);
      const leftIn = await secondsOf(async () => {
        await page.getByRole('button', { name: 'Leave', exact: true }).click();
        await page.getByText('shown as far as it has come').waitFor({ state: 'hidden' });
      });
      row('leave that', 'until it is gone', leftIn, 's', 1);
      return rows;
    } finally {
      rmSync(folder, { recursive: true });
    }
  });

function largeShot() {
  const nodes = Array.from({ length: NODES }, (_, i): Node => ({
    id: `node ${i + 1}`,
    parent: null,
    kind: 'control',
    rest: { ...AT_REST, translation: [i * 10, 0, 0] },
    order: 'xyz',
    channels: CHANNELS,
    side: 'centre',
    pair: null,
    part: 'extra',
    character: 'one',
    solids: [],
  }));
  const curves = nodes.flatMap(({ id }, n) =>
    CHANNELS.map((name, c) => {
      const curve = buildCurve(KEYS, (columns) => {
        for (let i = 0; i < KEYS; i += 1) {
          columns.times[i] = i;
          columns.values[i] = Math.round(2000 * Math.sin(i / 90 + c + n)) / 100;
        }
        columns.segments.fill(SEGMENT.linear);
        columns.tangentsIn.fill(TANGENT.linear);
        columns.tangentsOut.fill(TANGENT.linear);
      });
      return [`${id}.${name}`, curve] as const;
    }),
  );
  const bare = newShot('Large', nodes, [], { numerator: 24, denominator: 1 }, { start: 0, end: KEYS - 1 });
  return withCurves({ ...bare, characters: [{ id: 'one', name: 'One' }] }, null, new Map(curves));
}
