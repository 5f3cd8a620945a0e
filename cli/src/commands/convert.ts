import { keepApart, openFile, saveFile } from '../files.ts';
import type { Output } from './output.ts';

/** `kneader convert IN OUT` */
export async function convert(
  from: string,
  to: string,
  given: { readonly as?: string; readonly to?: string },
  { warn }: Output,
): Promise<void> {
  await keepApart([from], [to]);
  const { shot, findings } = await openFile(from, given.as);
  for (const { sentence } of findings) warn(sentence);
  for (const { sentence } of await saveFile(shot, to, given.to)) warn(sentence);
}
