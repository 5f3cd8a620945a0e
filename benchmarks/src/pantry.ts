/** A pantry of hundreds: brought in as one zip, scrolled from end to end, found by a word. */
import { strToU8, zipSync } from 'fflate';
import { shelf } from '@kneader/core';
import { longestTask, noteLongTasks, secondsOf } from './page-times.ts';
import { ADDRESS, withServedPage } from './served-page.ts';
import { limitRow } from './measure.ts';
import type { Row } from './measure.ts';

const COUNT = 500;
const WHEELS = 60;

export const pantryRows = (): Promise<Row[]> =>
  withServedPage(async (page) => {
    const rows: Row[] = [];
    const row = (...given: Parameters<typeof limitRow>) => rows.push(limitRow(...given));
    await page.goto(`${ADDRESS}pantry`);
    const all = page.getByRole('menuitem', { name: `All actions (${COUNT})` });
    const first = page.getByRole('article').first().getByRole('button').first();
    const bring = await secondsOf(async () => {
      await page
        .locator('.pantry-tools input[type=file]')
        .setInputFiles({ name: 'many.zip', mimeType: 'application/zip', buffer: zipOfMany() });
      await all.waitFor({ timeout: 120_000 });
    });
    row(`bring ${COUNT} actions in one zip`, 'until they are there', bring, 's', 10);
    const open = await secondsOf(async () => {
      await page.reload();
      await first.waitFor();
    });
    row(`open the pantry of ${COUNT}`, 'until its cards are there', open, 's', 2);

    await page.waitForTimeout(2000);
    await noteLongTasks(page);
    const box = (await page.locator('.action-cards').boundingBox())!;
    await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
    for (let i = 0; i < WHEELS; i += 1) {
      await page.mouse.wheel(0, 320);
      await page.waitForTimeout(16);
    }
    await page.waitForTimeout(500);
    row(
      'scroll it by the wheel',
      'the longest time that the page is held',
      await longestTask(page),
      'ms',
      50,
    );
    return rows;
  });

/** The shelf again and again, each a little weaker than the last: no two are equal. */
function zipOfMany(): Buffer {
  const six = shelf();
  const members = Object.fromEntries(
    Array.from({ length: COUNT }, (_, i) => {
      const { action } = six[i % six.length]!;
      const name = `${action.name} ${i}`;
      const file = { ...action, name, notes: `Number ${i}`, length: action.length + i };
      return [`many/${i % 7}/${name}.kneader-action.json`, strToU8(JSON.stringify(file))];
    }),
  );
  return Buffer.from(zipSync(members, { level: 1 }));
}
