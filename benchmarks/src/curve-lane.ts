/** Drawing the curves lane in the browser that the interface tests use, against bare polylines of the same points. */
import { chromium } from '@playwright/test';
import { build } from 'vite';
import { resolve } from 'node:path';
import { median } from './measure.ts';
import type { Row } from './measure.ts';

export async function curveLaneRows(): Promise<Row[]> {
  const output = await build({
    configFile: false,
    logLevel: 'silent',
    build: {
      write: false,
      lib: {
        // The benchmarks run bundled, in their own folder.
        entry: resolve('src/curve-lane-page.ts'),
        formats: ['iife'],
        name: 'lane',
      },
    },
  });
  const [bundle] = Array.isArray(output) ? output : [output];
  if (!bundle || !('output' in bundle)) throw new Error('Vite gave no bundle');
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-quic', '--no-first-run'],
  });
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.addScriptTag({ content: bundle.output[0].code });
    const pairs = await page.evaluate(() =>
      (window as unknown as { lanePairs: () => Promise<[number, number][]> }).lanePairs(),
    );
    const ratio = median(pairs.map(([lane, bare]) => lane / bare));
    return [
      {
        work: 'draw the curves lane, 60 curves × 2,000 keys visible, grid and keys too',
        against: 'bare canvas polylines of the same points',
        measured: `${ratio.toFixed(2)}× (${median(pairs.map(([lane]) => lane)).toFixed(1)} ms)`,
        toReach: '≤ 1.5×',
        reached: ratio <= 1.5,
      },
    ];
  } finally {
    await browser.close();
  }
}
