/** Footage that gives its picture at any moment: films decoded frame by frame (WebCodecs) where the browser can, else by its own player; numbered pictures one by one. */
import { ALL_FORMATS, BlobSource, CanvasSink, Input } from 'mediabunny';

export interface Footage {
  /** Seconds. */
  readonly duration: number;
  /** Pictures in a second, as far as it says. */
  readonly framesPerSecond: number;
  readonly width: number;
  readonly height: number;
  /** Whether each picture is exactly the one of its moment; by the browser's player it may be the one beside it. */
  readonly isExact: boolean;
  readonly pictureAt: (moment: number) => Promise<CanvasImageSource | null>;
  readonly close: () => void;
}

/** Numbered pictures run at the shot's own rate. @param framesPerSecond of the shot */
export async function openFootage(files: readonly Blob[], framesPerSecond: number): Promise<Footage> {
  const [first] = files;
  if (first!.type.startsWith('image/')) return openPictures(files, framesPerSecond);
  return (await openFilm(first!).catch(() => null)) ?? openByPlayer(first!);
}

/** Seconds. */
const TICK = 1e-3;
/** Pictures of a second are looked at to know how fast it runs. */
const LOOKED_AT = 60;

async function openFilm(file: Blob): Promise<Footage | null> {
  if (typeof VideoDecoder === 'undefined') return null;
  const input = new Input({ source: new BlobSource(file), formats: ALL_FORMATS });
  const track = await input.getPrimaryVideoTrack();
  if (!track || !(await track.canDecode())) return null;
  const sink = new CanvasSink(track, { poolSize: 3 });
  const start = await track.getFirstTimestamp();
  const { averagePacketRate } = await track.computePacketStats(LOOKED_AT);
  return {
    duration: (await track.computeDuration()) - start,
    framesPerSecond: averagePacketRate,
    width: track.displayWidth,
    height: track.displayHeight,
    isExact: true,
    // A little later, so that the very beginning of a picture is that picture: Matroska counts in whole milliseconds (RFC 9559, TimestampScale).
    pictureAt: async (moment) => (await sink.getCanvas(start + moment + TICK))?.canvas ?? null,
    close: () => input.dispose(),
  };
}

/** By an element that plays: what it can be moved to. */
function openByPlayer(file: Blob): Promise<Footage> {
  const address = URL.createObjectURL(file);
  const video = document.createElement('video');
  video.muted = true;
  video.preload = 'auto';
  return new Promise((resolve, reject) => {
    video.onerror = () => {
      URL.revokeObjectURL(address);
      reject(
        new Error('This browser cannot read that film: take a WebM or an MP4 (VP8, VP9, AV1 or H.264).'),
      );
    };
    video.onloadeddata = () =>
      resolve({
        duration: video.duration,
        framesPerSecond: 0,
        width: video.videoWidth,
        height: video.videoHeight,
        isExact: false,
        pictureAt: (moment) =>
          new Promise((seen) => {
            video.onseeked = () => seen(video);
            video.currentTime = moment;
          }),
        close: () => URL.revokeObjectURL(address),
      });
    video.src = address;
  });
}

async function openPictures(files: readonly Blob[], framesPerSecond: number): Promise<Footage> {
  const first = await createImageBitmap(files[0]!).catch(() => {
    throw new Error('The first of the pictures cannot be read: PNG, JPEG and WebP can.');
  });
  let last: { readonly index: number; readonly picture: ImageBitmap } | null = { index: 0, picture: first };
  return {
    duration: files.length / framesPerSecond,
    framesPerSecond,
    width: first.width,
    height: first.height,
    isExact: true,
    pictureAt: async (moment) => {
      const index = Math.min(Math.max(Math.floor(moment * framesPerSecond + 1e-6), 0), files.length - 1);
      if (last?.index === index) return last.picture;
      const picture = await createImageBitmap(files[index]!).catch(() => null);
      if (!picture) return null;
      last?.picture.close();
      last = { index, picture };
      return picture;
    },
    close: () => {
      last?.picture.close();
      last = null;
    },
  };
}

/** Pictures in the order of the numbers in their names. */
export const inOrder = (files: readonly File[]): File[] =>
  [...files].sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }));
