/** Films made and read within the page, by the library alone: what the application makes of them is asked of nobody but it. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { Page } from '@playwright/test';
import type * as mediabunny from 'mediabunny';

const bundle = createRequire(import.meta.url)
  .resolve('mediabunny')
  .replace(/dist\/.*$/, 'dist/bundles/mediabunny.min.cjs');

declare global {
  interface Window {
    filmLibrary: typeof mediabunny;
  }
}

/** Puts the library into the page, past the policy of the server. */
export async function withFilmLibrary(page: Page): Promise<void> {
  const code = readFileSync(bundle, 'utf8');
  await page.evaluate(
    `(() => { const module = { exports: {} }; const exports = module.exports; ${code}\n; window.filmLibrary = module.exports; })()`,
  );
}

/** A film whose pictures count: the one of number n is a grey of 2 n + 20. @returns base64 */
export const countedFilm = (page: Page, count: number, framesPerSecond: number): Promise<string> =>
  page.evaluate(
    async ([many, rate]) => {
      const { Output, WebMOutputFormat, BufferTarget, CanvasSource } = window.filmLibrary;
      const canvas = new OffscreenCanvas(160, 96);
      const picture = canvas.getContext('2d')!;
      const output = new Output({ format: new WebMOutputFormat(), target: new BufferTarget() });
      const source = new CanvasSource(canvas, { codec: 'vp8', bitrate: 2e6, keyFrameInterval: 0.5 });
      output.addVideoTrack(source);
      await output.start();
      for (let k = 0; k < many; k += 1) {
        const grey = 20 + 2 * k;
        picture.fillStyle = `rgb(${grey} ${grey} ${grey})`;
        picture.fillRect(0, 0, 160, 96);
        await source.add(k / rate, 1 / rate);
      }
      await output.finalize();
      let text = '';
      for (const byte of new Uint8Array(output.target.buffer!)) text += String.fromCharCode(byte);
      return btoa(text);
    },
    [count, framesPerSecond] as const,
  );

export interface DecodedPicture {
  /** Seconds. */
  readonly at: number;
  readonly lasts: number;
  /** A digest of its pixels, coarse enough for what encoding does to them. */
  readonly looks: readonly number[];
}

/** All pictures of a film. */
export const decoded = (
  page: Page,
  film: Buffer,
): Promise<{ readonly width: number; readonly height: number; readonly pictures: DecodedPicture[] }> =>
  page.evaluate(async (base64) => {
    const { Input, BufferSource, ALL_FORMATS, CanvasSink } = window.filmLibrary;
    const bytes = Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0));
    const input = new Input({ source: new BufferSource(bytes), formats: ALL_FORMATS });
    const track = (await input.getPrimaryVideoTrack())!;
    const pictures: { at: number; lasts: number; looks: number[] }[] = [];
    for await (const { canvas, timestamp, duration } of new CanvasSink(track).canvases()) {
      const small = new OffscreenCanvas(64, 36);
      const context = small.getContext('2d')!;
      context.drawImage(canvas, 0, 0, 64, 36);
      const { data } = context.getImageData(0, 0, 64, 36);
      pictures.push({
        at: timestamp,
        lasts: duration,
        looks: Array.from(data.filter((_, i) => i % 4 === 1)),
      });
    }
    return { width: track.displayWidth, height: track.displayHeight, pictures };
  }, film.toString('base64'));
