import { measureShot, measureTable, refuse } from '@kneader/core';
import { STREAM, keepApart, openFile, saveText } from '../files.ts';
import type { Output } from './output.ts';

export interface MeasureOptions {
  readonly json?: boolean;
  readonly output?: string;
  readonly as?: string;
}

/** `kneader measure FILE [-o OUT.csv|.json] [--json]` */
export async function measure(
  path: string,
  { json, output, as }: MeasureOptions,
  { print, warn }: Output,
): Promise<void> {
  if (output !== undefined) await keepApart([path], [output]);
  if (output !== undefined && output !== STREAM && !/\.(csv|json)$/i.test(output))
    refuse('measuresEnding', { file: output }, output);
  const { shot, findings } = await openFile(path, as);
  for (const { sentence } of findings) warn(sentence);
  const measured = measureShot(shot);
  const text = `${JSON.stringify(measured, null, 2)}\n`;
  const asTable = output === STREAM || (output !== undefined && /\.csv$/i.test(output));
  if (output !== undefined) await saveText(output, asTable ? measureTable(shot) : text);
  const say = output === STREAM ? warn : print;
  if (json) say(text.trimEnd());
  else for (const line of linesOf(measured)) say(line);
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
