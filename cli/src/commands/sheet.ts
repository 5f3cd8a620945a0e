import { mkdir } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { finding, FORMATS, refuse, sheetOptions, SHEETS, svgOf } from '@kneader/core';
import type { FrameRange, Page, SheetOptions } from '@kneader/core';
import { keepApart, openFile, saveText } from '../files.ts';
import type { Output } from './output.ts';

export interface SheetCommand {
  readonly kind: readonly string[];
  readonly output: string;
  readonly to: 'svg' | 'pdf';
  readonly range?: FrameRange;
  readonly frames?: readonly number[];
  readonly turn?: number;
  readonly channels: readonly string[];
  readonly notes: boolean;
  readonly as?: string;
}

interface Made {
  readonly name: string;
  readonly kind: string;
  readonly pages: readonly Page[];
}

/** `kneader sheet FILE … -o OUT.svg|OUT.pdf|FOLDER`: all in one file, page by page, or a file for each in a folder. */
export async function sheet(
  paths: readonly string[],
  { kind: asked, output, to, range, frames, turn, channels, notes, as }: SheetCommand,
  { print, warn }: Output,
): Promise<void> {
  const kinds = (asked.length > 0 ? asked : ['contact']).map(
    (kind) =>
      SHEETS.find((one) => one.kind === kind) ??
      refuse(
        'unknownSheet',
        {},
        kind,
        SHEETS.map((one) => one.kind),
      ),
  );
  const ending = /\.(svg|pdf)$/i.exec(output)?.[1]?.toLowerCase();
  if (ending === undefined && /\.[a-z0-9]{2,4}$/i.test(output))
    refuse('sheetEnding', { file: output }, output);
  const given: readonly [keyof SheetOptions, boolean][] = [
    ['frames', frames !== undefined],
    ['turn', turn !== undefined],
    ['channels', channels.length > 0],
    ['notes', !notes],
  ];
  const unused = given.flatMap(([option, isGiven]) =>
    isGiven && !kinds.some(({ takes }) => takes.includes(option))
      ? [option === 'notes' ? '--no-notes' : `--${option}`]
      : [],
  );
  if (unused.length > 0)
    warn(
      finding(
        'sheetOptionUnused',
        {},
        unused,
        kinds.map(({ label }) => label),
      ).sentence,
    );
  const made: Made[] = [];
  for (const path of paths) {
    const { shot, findings } = await openFile(path, as);
    for (const { sentence } of findings) warn(sentence);
    const options = sheetOptions.parse({
      ...(range && { from: range.start, to: range.end }),
      ...(frames && { frames }),
      ...(turn !== undefined && { turn }),
      ...(channels.length > 0 && { channels }),
      notes,
    });
    for (const one of kinds)
      made.push({ name: nameOf(path), kind: one.kind, pages: one.pages(shot, options) });
  }
  if (ending !== undefined) {
    await keepApart(paths, [output]);
    await write(
      output,
      ending,
      made.flatMap(({ pages }) => pages),
      nameOf(output),
      warn,
    );
    return print(`${output}: ${made.length} ${made.length === 1 ? 'sheet' : 'sheets'}.`);
  }
  const outputs = made.map(({ name, kind }) => join(output, `${name}.${kind}.${to}`));
  await keepApart(paths, outputs);
  await mkdir(output, { recursive: true });
  for (const [i, { pages, name }] of made.entries()) {
    await write(outputs[i]!, to, pages, name, warn);
    print(outputs[i]!);
  }
}

async function write(
  path: string,
  kind: string,
  pages: readonly Page[],
  title: string,
  warn: Output['warn'],
): Promise<void> {
  if (kind === 'svg') return saveText(path, svgOf(pages, title));
  const { pdfOf } = await import('@kneader/core/pdf');
  const { bytes, lacking } = await pdfOf(pages, title);
  if (lacking.length > 0) warn(finding('lettersLacking', {}, lacking).sentence);
  await saveText(path, bytes);
}

/** Without folder and ending. */
function nameOf(path: string): string {
  const name = basename(path);
  const known = FORMATS.find(({ ending }) => name.toLowerCase().endsWith(ending));
  return known ? name.slice(0, -known.ending.length) : name.replace(/\.[^.]*$/, '');
}
