import { InputError, NOTHING, readJson, rigOf, runEdit } from '@kneader/core';
import type { FrameRange } from '@kneader/core';
import { STREAM, keepApart, openFile, saveFile, saveText } from '../files.ts';
import { matching } from './matching.ts';
import type { Output } from './output.ts';

export interface EditOptions {
  readonly edit: string;
  readonly options: string;
  readonly channels: readonly string[];
  readonly range?: FrameRange;
  readonly pass?: string;
  readonly output: string;
  readonly report?: string;
  readonly made?: string;
  readonly as?: string;
  readonly to?: string;
}

/** `kneader edit FILE --edit ID …`: without `--channels` the edit acts on all of them. */
export async function edit(path: string, given: EditOptions, { print, warn }: Output): Promise<void> {
  const say = [given.output, given.report, given.made].includes(STREAM) ? warn : print;
  const beside = [given.report, given.made].filter((name) => name !== undefined);
  // The result may take the place of what was read: it is written beside it and renamed.
  await keepApart([path], beside);
  await keepApart([], [given.output, ...beside]);
  const { shot, findings, files, withFiles } = await openFile(path, given.as);
  for (const { sentence } of findings) warn(sentence);
  const channels =
    given.channels.length > 0 ? matching(shot, given.channels) : rigOf(shot).channels.map(({ id }) => id);
  const selection = { ...NOTHING, channels, range: given.range ?? null, pass: given.pass ?? null };
  const { shot: after, report, made } = runEdit(given.edit, shot, selection, readJson(given.options));
  if (given.report) await saveText(given.report, `${JSON.stringify(report, null, 2)}\n`);
  if (report.status === 'refused') throw new InputError(report.findings[0]!);
  for (const { sentence } of await saveFile(after, given.output, { to: given.to, files, withFiles }))
    warn(sentence);
  if (given.made && made !== undefined) await saveText(given.made, `${JSON.stringify(made)}\n`);
  say(report.status === 'changed' ? `Changed ${report.touched.length} channels.` : 'Nothing was changed.');
  for (const { name, value, unit, before } of report.measures.slice(0, 6)) {
    say(
      `${name}: ${before === undefined ? '' : `${before} → `}${Math.round(value * 1e4) / 1e4} ${unit}`.trimEnd(),
    );
  }
  for (const { sentence } of report.findings) say(sentence);
}
