/** Opening among hundreds of stored shots against opening the first one. */
import { cloneStored } from '../../e2e/flows/clone-stored.ts';
import type { Row } from './measure.ts';
import { secondsOf } from './page-times.ts';
import { ADDRESS, withServedPage } from './served-page.ts';

const COUNT = 500;

export const manyShotsRows = (): Promise<Row[]> =>
  withServedPage(async (page) => {
    const take = page
      .getByRole('article', { name: 'Demo: Night round' })
      .getByRole('button', { name: 'Take a copy' });
    const copied = async () => {
      await page.goto(ADDRESS);
      // Who takes one has seen the page.
      await take.scrollIntoViewIfNeeded();
      await page.waitForTimeout(1500);
      const seconds = await secondsOf(async () => {
        await take.click();
        await page.getByRole('application', { name: 'Curves' }).waitFor();
      });
      await page
        .getByRole('status')
        .filter({ hasText: /^Saved$/ })
        .waitFor();
      return seconds;
    };
    const listed = () =>
      secondsOf(async () => {
        await page.goto(ADDRESS);
        await page.locator('.shot-row article').first().waitFor();
      });
    // The first of all fetches the bench too.
    await copied();
    const [alone, few] = [await copied(), await listed()];
    await cloneStored(page, COUNT);
    const [among, many] = [await copied(), await listed()];
    const row = (work: string, now: number, before: number): Row => ({
      work,
      against: 'the same with one shot stored',
      measured: `${(now / before).toFixed(2)}× (${now.toFixed(2)} s)`,
      toReach: '≤ 1.5×',
      reached: now / before <= 1.5,
    });
    return [
      row(`take a copy of a demo shot among ${COUNT}, until its bench is there`, among, alone),
      row(`the shots page with ${COUNT}, until its cards are there`, many, few),
    ];
  });
