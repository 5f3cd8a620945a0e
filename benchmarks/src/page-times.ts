/** Times on a page in the browser. */
import type { Page } from '@playwright/test';

export async function secondsOf(run: () => Promise<void>): Promise<number> {
  const began = performance.now();
  await run();
  return (performance.now() - began) / 1000;
}

export async function noteLongTasks(page: Page): Promise<void> {
  await page.evaluate(() => {
    const tasks: number[] = [];
    Object.assign(window, { tasks });
    new PerformanceObserver((list) =>
      tasks.push(...list.getEntries().map(({ duration }) => duration)),
    ).observe({
      entryTypes: ['longtask'],
    });
  });
}

export const longestTask = (page: Page): Promise<number> =>
  page.evaluate(() => Math.max(0, ...(window as unknown as { tasks: number[] }).tasks));
