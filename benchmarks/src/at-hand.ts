/** What a person waits for at the bench: opening, importing, a slider's answer, pictures while it plays. */
import type { Locator, Page } from '@playwright/test';
import { CAPTURED_TEXT } from './open-data.ts';
import { limitRow, median } from './measure.ts';
import type { Row } from './measure.ts';
import { longestTask, noteLongTasks, secondsOf } from './page-times.ts';
import { ADDRESS, withServedPage } from './served-page.ts';

const SLIDER_STEPS = 7;
const PLAYED_MS = 4000;

export const atHandRows = (): Promise<Row[]> =>
  withServedPage(async (page) => {
    const rows: Row[] = [];
    const row = (...given: Parameters<typeof limitRow>) => rows.push(limitRow(...given));

    const take = page
      .getByRole('article', { name: 'Demo: Dough toss (captured)' })
      .getByRole('button', { name: 'Take a copy' });
    await take.waitFor();
    const load = await secondsOf(async () => {
      await page.goto(ADDRESS);
      await take.waitFor();
    });
    row('open the address a second time', 'until a demo shot can be touched', load, 's', 1.5);

    await noteLongTasks(page);
    const open = await secondsOf(async () => {
      await take.click();
      await page.getByRole('application', { name: 'Curves' }).waitFor();
    });
    row('take a copy of a demo shot', 'until its bench is there', open, 's', 1.5);
    row('the same', 'the longest time that the page is held', await longestTask(page), 'ms', 200);

    await page.getByRole('button', { name: 'Right arm' }).click();
    const keys = await sliderAnswers(page);
    row(
      `one step of Thin, an arm of ${keys.keys} keys`,
      'until the report says the new number',
      keys.ms,
      'ms',
      250,
    );

    await chooseEverything(page);
    const all = await sliderAnswers(page);
    row(`the same, all ${all.keys} keys`, 'until the report says the new number', all.ms, 'ms', 400);

    const pictures = await picturesPerSecond(page);
    row('play Dough toss without a graphics card', 'pictures', pictures, 'a second', 20, true);

    await page.goto(ADDRESS);
    await take.waitFor();
    const drop = await secondsOf(async () => {
      await dropFile(page, '01_01.bvh', CAPTURED_TEXT);
      await page.getByRole('application', { name: 'Curves' }).waitFor();
    });
    row('drop 01_01.bvh (2,752 frames)', 'until its bench is there', drop, 's', 3);

    await page.goto(ADDRESS);
    await take.waitFor();
    await page.waitForTimeout(2500);
    // The first time loads code that stays: the second is measured.
    await openAndLeave(page, take);
    const empty = await megabytes(page);
    await take.click();
    await page.getByRole('application', { name: 'Curves' }).waitFor();
    await smallEdits(page, 3);
    const first = await megabytes(page);
    await smallEdits(page, 30);
    row(
      '30 small edits on Dough toss',
      'memory that they leave behind',
      (await megabytes(page)) - first,
      'MB',
      20,
    );
    await page.getByRole('link', { name: 'Back to the shots' }).click();
    await take.waitFor();
    row(
      'the same, and back to the shots',
      'memory above what it was',
      (await megabytes(page)) - empty,
      'MB',
      20,
    );
    return rows;
  });

/** From a typed tolerance to another number of keys in the report, median of some steps. */
async function sliderAnswers(page: Page): Promise<{ ms: number; keys: string }> {
  await page.keyboard.press('/');
  await page.keyboard.type('thin');
  await page.keyboard.press('Enter');
  const report = page.getByRole('status', { name: 'Report' });
  await report.getByText('→').first().waitFor();
  const keys = (await report.innerText()).match(/([\d,]+) →/)![1]!;
  const field = page.getByRole('spinbutton', { name: 'Rotation in °' });
  const times: number[] = [];
  for (let step = 0; step < SLIDER_STEPS; step += 1) {
    const before = await report.innerText();
    await field.fill(String(0.7 + step * 0.31));
    const began = performance.now();
    await page.waitForFunction(
      (text) => document.querySelector<HTMLElement>('.report')?.innerText !== text,
      before,
      { polling: 'raf' },
    );
    times.push(performance.now() - began);
  }
  await page.keyboard.press('Escape');
  return { ms: median(times), keys };
}

/** All controls, by the chips of the body parts. */
async function chooseEverything(page: Page): Promise<void> {
  const chips = page.getByRole('group', { name: 'Body parts' }).getByRole('button');
  const count = await chips.count();
  for (let i = 0; i < count; i += 1) {
    if ((await chips.nth(i).getAttribute('aria-pressed')) === 'true') continue;
    await chips.nth(i).click({ modifiers: i === 0 ? [] : ['Shift'] });
  }
}

async function openAndLeave(page: Page, take: Locator): Promise<void> {
  await take.click();
  await page.getByRole('application', { name: 'Curves' }).waitFor();
  await smallEdits(page, 3);
  await page.getByRole('link', { name: 'Back to the shots' }).click();
  await take.waitFor();
}

/** Values typed on one channel, at one frame after another. */
async function smallEdits(page: Page, count: number): Promise<void> {
  const field = page.getByRole('textbox', { name: 'chest rz', exact: true });
  if (!(await field.isVisible())) {
    await page.getByRole('button', { name: 'Torso' }).click();
    await page.getByRole('textbox', { name: 'Filter channels' }).fill('chest rz');
  }
  for (let i = 0; i < count; i += 1) {
    await field.fill(String(5 + (i % 9)));
    await page.keyboard.press('Enter');
    await page.keyboard.press('ArrowRight');
  }
  await page.waitForTimeout(1500);
}

/** The page's heap with the typed arrays beside it, after what is not needed was collected. */
async function megabytes(page: Page): Promise<number> {
  const session = await page.context().newCDPSession(page);
  await page.waitForTimeout(2000);
  for (let i = 0; i < 3; i += 1) await session.send('HeapProfiler.collectGarbage');
  const usage = (await session.send('Runtime.getHeapUsage')) as unknown as {
    usedSize: number;
    backingStorageSize?: number;
  };
  await session.detach();
  return (usage.usedSize + (usage.backingStorageSize ?? 0)) / 1e6;
}

async function picturesPerSecond(page: Page): Promise<number> {
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  return page.evaluate(
    (ms) =>
      new Promise<number>((resolve) => {
        let pictures = 0;
        const began = performance.now();
        const tick = (now: number) => {
          pictures += 1;
          if (now - began < ms) requestAnimationFrame(tick);
          else resolve((pictures * 1000) / (now - began));
        };
        requestAnimationFrame(tick);
      }),
    PLAYED_MS,
  );
}

async function dropFile(page: Page, name: string, content: string): Promise<void> {
  const transfer = await page.evaluateHandle(
    ([file, text]) => {
      const data = new DataTransfer();
      data.items.add(new File([text!], file!));
      return data;
    },
    [name, content],
  );
  await page.getByRole('main').dispatchEvent('drop', { dataTransfer: transfer });
}
