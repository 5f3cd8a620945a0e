/** The commands of `kneader`: the same edits and formats as the application, for batches and pipelines. */
import picomatch from 'picomatch';
import {
  curvesIn,
  EDITS,
  finding,
  framesOf,
  framesPerSecond,
  InputError,
  keyCount,
  measureShot,
  measureTable,
  NOTHING,
  readJson,
  refuse,
  rigOf,
  runEdit,
  writeCsv,
} from '@kneader/core';
import type { FrameRange, Shot } from '@kneader/core';
import { z } from 'zod';
import { keepApart, openFile, saveFile, saveText } from './files.ts';

export interface Output {
  readonly print: (text: string) => void;
  readonly warn: (text: string) => void;
}

/** `kneader edits [--json]` */
export function listEdits(json: boolean, { print }: Output): void {
  if (json) {
    const list = EDITS.map(({ id, title, summary, group, options }) => ({
      id,
      title,
      summary,
      group,
      options: z.toJSONSchema(options, { io: 'input' }),
    }));
    print(JSON.stringify(list, null, 2));
    return;
  }
  for (const { id, summary } of EDITS) print(`${id.padEnd(22)} ${summary}`);
}

/** `kneader info FILE [--json]` */
export async function describe(path: string, json: boolean, { print, warn }: Output): Promise<void> {
  const { shot, findings } = await openFile(path);
  for (const { sentence } of findings) warn(sentence);
  const info = {
    name: shot.name,
    nodes: shot.nodes.length,
    channels: rigOf(shot).channels.length,
    animated: [...curvesIn(shot.curves, shot.nodes)].length,
    keys: keyCount(shot),
    range: shot.range,
    rate: framesPerSecond(shot.rate),
    layers: shot.layers.map(({ id, name, kind, range }) => ({ id, name, kind, range })),
  };
  if (json) print(JSON.stringify(info, null, 2));
  else {
    print(
      `${info.name}: ${info.nodes} nodes, ${info.channels} channels (${info.animated} animated), ${info.keys} keys`,
    );
    print(
      `frames ${info.range.start} to ${info.range.end} at ${Math.round(info.rate * 1000) / 1000} per second`,
    );
    if (info.layers.length > 0)
      print(`layers: ${info.layers.map(({ name, kind }) => `${name} (${kind})`).join(', ')}`);
  }
}

export interface SampleOptions {
  readonly from?: number;
  readonly to?: number;
  readonly step: number;
  readonly channels: readonly string[];
  readonly world: readonly string[];
  readonly output: string;
}

/** `kneader sample FILE … -o OUT.csv`: channels in the file's own order; all of them where neither channels nor nodes are named. */
export async function sample(path: string, options: SampleOptions, { warn }: Output): Promise<void> {
  await keepApart([path], [options.output]);
  const { shot, findings } = await openFile(path);
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

/** The channels that any of the globs names; a glob that names none is refused. */
export function matching(shot: Shot, globs: readonly string[]): string[] {
  const ids = rigOf(shot).channels.map(({ id }) => id);
  const chosen = new Set<string>();
  for (const glob of globs) {
    // Node names may hold characters that globs give a meaning: an exact name always counts.
    if (glob.trim() === '') refuse('unknownChannel', { channel: glob }, glob);
    const isMatch = picomatch(glob, { dot: true, bash: true });
    const matches = ids.includes(glob) ? [glob] : ids.filter((id) => isMatch(id));
    if (matches.length === 0) refuse('unknownChannel', { channel: glob }, glob);
    for (const id of matches) chosen.add(id);
  }
  return ids.filter((id) => chosen.has(id));
}

export interface EditOptions {
  readonly edit: string;
  readonly options: string;
  readonly channels: readonly string[];
  readonly range?: FrameRange;
  readonly pass?: string;
  readonly output: string;
  readonly report?: string;
  readonly made?: string;
}

/** `kneader edit FILE --edit ID …`: without `--channels` the edit acts on all of them. */
export async function edit(path: string, given: EditOptions, { print, warn }: Output): Promise<void> {
  const beside = [given.report, given.made].filter((name) => name !== undefined);
  // The result may take the place of what was read: it is written beside it and renamed.
  await keepApart([path], beside);
  await keepApart([], [given.output, ...beside]);
  const { shot, findings } = await openFile(path);
  for (const { sentence } of findings) warn(sentence);
  const channels =
    given.channels.length > 0 ? matching(shot, given.channels) : rigOf(shot).channels.map(({ id }) => id);
  const selection = { ...NOTHING, channels, range: given.range ?? null, pass: given.pass ?? null };
  const { shot: after, report, made } = runEdit(given.edit, shot, selection, readJson(given.options));
  if (given.report) await saveText(given.report, `${JSON.stringify(report, null, 2)}\n`);
  if (report.status === 'refused') throw new InputError(report.findings[0]!);
  for (const { sentence } of await saveFile(after, given.output)) warn(sentence);
  if (given.made && made !== undefined) await saveText(given.made, `${JSON.stringify(made)}\n`);
  print(report.status === 'changed' ? `Changed ${report.touched.length} channels.` : 'Nothing was changed.');
  for (const { name, value, unit, before } of report.measures.slice(0, 6)) {
    print(
      `${name}: ${before === undefined ? '' : `${before} → `}${Math.round(value * 1e4) / 1e4} ${unit}`.trimEnd(),
    );
  }
  for (const { sentence } of report.findings) print(sentence);
}

export interface MeasureOptions {
  readonly json?: boolean;
  readonly output?: string;
}

/** `kneader measure FILE [-o OUT.csv|.json] [--json]` */
export async function measure(
  path: string,
  { json, output }: MeasureOptions,
  { print, warn }: Output,
): Promise<void> {
  if (output !== undefined) await keepApart([path], [output]);
  if (output !== undefined && !/\.(csv|json)$/i.test(output))
    refuse('measuresEnding', { file: output }, output);
  const { shot, findings } = await openFile(path);
  for (const { sentence } of findings) warn(sentence);
  const measured = measureShot(shot);
  const text = `${JSON.stringify(measured, null, 2)}\n`;
  if (output !== undefined) await saveText(output, /\.csv$/i.test(output) ? measureTable(shot) : text);
  if (json) print(text.trimEnd());
  else for (const line of linesOf(measured)) print(line);
}

/** What was measured as people read it. */
function linesOf({ characters, rate }: ReturnType<typeof measureShot>): string[] {
  const short = (value: number) => String(Math.round(value * 100) / 100);
  return characters.flatMap(({ name, height: { stands, unit, unitByFlights }, contacts, flights }) => {
    const slid = contacts.reduce((most, one) => Math.max(most, one.slideGreatest), 0);
    const deep = contacts.reduce((most, one) => Math.max(most, one.belowGround), 0);
    return [
      `${name} stands ${short(stands)} units high, ${short(stands * unit)} cm.` +
        (unitByFlights === null
          ? ''
          : ` By its own leaps a unit is ${short(unitByFlights)} cm: ${short(stands * unitByFlights)} cm tall.`),
      `${contacts.length} contacts: they slide by up to ${short(slid)} mm and lie up to ${short(deep)} mm below the ground.`,
      ...flights.map(
        ({ start, end, gravity, greatest, rms, turning }) =>
          `Flies from ${start} to ${end} (${short((end - start) / rate)} s): ${short(greatest * 10)} mm off free flight at most, ${short(rms * 10)} mm rms; it falls as under ${short((gravity * unit) / 980.665)} g.` +
          (turning
            ? ` Its turning changes most at ${turning.frame}, by ${Math.round(100 * turning.part)} % in a frame.`
            : ''),
      ),
    ];
  });
}

/** `kneader convert IN OUT` */
export async function convert(from: string, to: string, { warn }: Output): Promise<void> {
  await keepApart([from], [to]);
  const { shot, findings } = await openFile(from);
  for (const { sentence } of findings) warn(sentence);
  for (const { sentence } of await saveFile(shot, to)) warn(sentence);
}
