import { keepApart, openFile, saveFile } from '../files.ts';
import type { Output } from './output.ts';

/** `kneader convert IN OUT` */
export async function convert(
  from: string,
  to: string,
  given: {
    readonly as?: string;
    readonly to?: string;
    readonly animation?: string;
    readonly withFiles?: boolean;
  },
  { warn }: Output,
): Promise<void> {
  await keepApart([from], [to]);
  const { shot, findings, files, withFiles } = await openFile(from, given.as, given.animation);
  for (const { sentence } of findings) warn(sentence);
  for (const { sentence } of await saveFile(shot, to, { withFiles, ...given, files })) warn(sentence);
}
