import { finding, framesOf, InputError, rigOf, writeCsv } from '@kneader/core';
import type { FrameRange } from '@kneader/core';
import { keepApart, openFile, saveText } from '../files.ts';
import { matching } from './matching.ts';
import type { Output } from './output.ts';

export interface SampleOptions {
  readonly from?: number;
  readonly to?: number;
  readonly step: number;
  readonly channels: readonly string[];
  readonly world: readonly string[];
  readonly output: string;
  readonly as?: string;
}

/** `kneader sample FILE … -o OUT.csv`: channels in the file's own order; all of them where neither channels nor nodes are named. */
export async function sample(path: string, options: SampleOptions, { warn }: Output): Promise<void> {
  await keepApart([path], [options.output]);
  const { shot, findings } = await openFile(path, options.as);
  for (const { sentence } of findings) warn(sentence);
  const range: FrameRange = { start: options.from ?? shot.range.start, end: options.to ?? shot.range.end };
  if (!(options.step > 0)) throw new InputError(finding('badOption', {}, 'step', 'it must be more than 0'));
  if (range.end < range.start) throw new InputError(finding('badRange', {}, range.start, range.end));
  const count = Math.floor((range.end - range.start) / options.step) + 1;
  if (count > 1e7) throw new InputError(finding('notSampleable', {}, count));
  const all = options.channels.length === 0 && options.world.length === 0;
  const channels = all ? rigOf(shot).channels.map(({ id }) => id) : matching(shot, options.channels);
  await saveText(
    options.output,
    writeCsv(shot, { frames: framesOf(range, options.step), channels, world: options.world }),
  );
}
