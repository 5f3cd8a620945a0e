/** A film, or numbered pictures, of whatever draws frames: in slices, so that the page stays usable, and left whenever it is asked for. */
import { BlobWriter, Uint8ArrayReader, ZipWriter } from '@zip.js/zip.js';
import {
  BufferTarget,
  CanvasSource,
  canEncodeVideo,
  Mp4OutputFormat,
  Output,
  QUALITY_HIGH,
  WebMOutputFormat,
} from 'mediabunny';
import type { VideoCodec } from 'mediabunny';

export type FilmKind = 'webm' | 'mp4' | 'png';

/** What can be encoded in each kind of file, the best first. */
const CODECS: Record<Exclude<FilmKind, 'png'>, readonly VideoCodec[]> = {
  webm: ['vp9', 'vp8', 'av1'],
  mp4: ['avc', 'av1', 'vp9'],
};

/** The codec that this browser has for a kind of film; null where it has none. */
export async function codecFor(
  kind: Exclude<FilmKind, 'png'>,
  width: number,
  height: number,
): Promise<VideoCodec | null> {
  if (typeof VideoEncoder === 'undefined') return null;
  for (const codec of CODECS[kind]) if (await canEncodeVideo(codec, { width, height })) return codec;
  return null;
}

export interface FilmPlan {
  readonly kind: FilmKind;
  readonly width: number;
  readonly height: number;
  readonly frames: readonly number[];
  readonly framesPerSecond: number;
  /** How often all of it is shown. */
  readonly times: number;
  /** Draws a frame onto the picture. */
  readonly paint: (picture: OffscreenCanvasRenderingContext2D, frame: number) => void;
  readonly signal: AbortSignal;
  /** @param done pictures so far, of all */
  readonly onShare: (done: number, all: number) => void;
}

/** The page has its turn, in a tab that is out of sight too: timers wait a second there. */
const turn = (): Promise<void> =>
  new Promise((resolve) => {
    const { port1, port2 } = new MessageChannel();
    port1.onmessage = () => {
      port1.close();
      resolve();
    };
    port2.postMessage(null);
  });

/** @returns null when it was left */
export async function makeFilm(plan: FilmPlan): Promise<Blob | null> {
  const canvas = new OffscreenCanvas(plan.width, plan.height);
  const picture = canvas.getContext('2d', { alpha: plan.kind === 'png' })!;
  return plan.kind === 'png' ? numbered(plan, canvas, picture) : filmed(plan, plan.kind, canvas, picture);
}

async function filmed(
  { width, height, frames, framesPerSecond, times, paint, signal, onShare }: FilmPlan,
  kind: Exclude<FilmKind, 'png'>,
  canvas: OffscreenCanvas,
  picture: OffscreenCanvasRenderingContext2D,
): Promise<Blob | null> {
  const codec = await codecFor(kind, width, height);
  if (codec === null)
    throw new Error(`This browser cannot write ${kind.toUpperCase()}: take numbered pictures.`);
  const format = kind === 'webm' ? new WebMOutputFormat() : new Mp4OutputFormat({ fastStart: 'in-memory' });
  const target = new BufferTarget();
  const output = new Output({ format, target });
  const source = new CanvasSource(canvas, { codec, bitrate: QUALITY_HIGH, keyFrameInterval: 1 });
  output.addVideoTrack(source, { frameRate: framesPerSecond });
  await output.start();
  const all = frames.length * times;
  for (let k = 0; k < all; k += 1) {
    if (signal.aborted) {
      await output.cancel();
      return null;
    }
    paint(picture, frames[k % frames.length]!);
    // Counted, not summed: the last of an hour is where it belongs.
    await source.add(k / framesPerSecond, 1 / framesPerSecond);
    onShare(k + 1, all);
    await turn();
  }
  await output.finalize();
  return new Blob([target.buffer!], { type: kind === 'webm' ? 'video/webm' : 'video/mp4' });
}

async function numbered(
  { frames, paint, signal, onShare }: FilmPlan,
  canvas: OffscreenCanvas,
  picture: OffscreenCanvasRenderingContext2D,
): Promise<Blob | null> {
  const zip = new ZipWriter(new BlobWriter('application/zip'), { level: 0 });
  for (const [k, frame] of frames.entries()) {
    if (signal.aborted) return null;
    picture.clearRect(0, 0, canvas.width, canvas.height);
    paint(picture, frame);
    const png = await canvas.convertToBlob({ type: 'image/png' });
    await zip.add(pictureName(frame), new Uint8ArrayReader(new Uint8Array(await png.arrayBuffer())));
    onShare(k + 1, frames.length);
    await turn();
  }
  return zip.close();
}

/** `0024.png`; before 0 `-0003.png`. */
const pictureName = (frame: number): string =>
  `${frame < 0 ? '-' : ''}${String(Math.abs(Math.round(frame))).padStart(4, '0')}.png`;
