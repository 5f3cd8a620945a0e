/** Words that fit: measured with the metrics of the fonts that every reader of PDF has (ISO 32000-1, 9.6.2.2). */
import { Encodings, Font, FontNames } from '@pdf-lib/standard-fonts';

const font = (isBold: boolean) => Font.load(isBold ? FontNames.HelveticaBold : FontNames.Helvetica);
/** What is wider than most letters, in place of letters that the font lacks. */
const UNKNOWN_WIDTH = 1000;

/** Points. */
export function widthOf(text: string, size: number, isBold = false): number {
  const metrics = font(isBold);
  let width = 0;
  for (const letter of text) {
    const code = letter.codePointAt(0)!;
    const known = Encodings.WinAnsi.canEncodeUnicodeCodePoint(code);
    const name = known && Encodings.WinAnsi.encodeUnicodeCodePoint(code).name;
    width += (name ? metrics.getWidthOfGlyph(name) : UNKNOWN_WIDTH) ?? UNKNOWN_WIDTH;
  }
  return (width * size) / 1000;
}

/** As much of a text as fits, with an ellipsis where it is cut. */
export function fitted(text: string, width: number, size: number, isBold = false): string {
  if (widthOf(text, size, isBold) <= width) return text;
  const letters = [...text];
  while (letters.length > 0 && widthOf(`${letters.join('')}…`, size, isBold) > width) letters.pop();
  return `${letters.join('').trimEnd()}…`;
}

/** Lines that fit; what is longer than `most` lines is cut. */
export function wrapped(text: string, width: number, size: number, most: number): string[] {
  const lines: string[] = [];
  for (const word of text.split(/\s+/)) {
    const longer = lines.length > 0 ? `${lines.at(-1)!} ${word}` : word;
    if (lines.length > 0 && widthOf(longer, size) <= width) lines[lines.length - 1] = longer;
    else lines.push(word);
  }
  const shown = lines.slice(0, most);
  if (lines.length > most) shown[most - 1] = `${shown[most - 1]!} …`;
  return shown.map((line) => fitted(line, width, size));
}
