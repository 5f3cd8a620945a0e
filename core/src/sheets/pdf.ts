/** Pages as PDF (ISO 32000-1), in the fonts that every reader has. */
import { Encodings } from '@pdf-lib/standard-fonts';
import { PDFDocument, rgb, StandardFonts } from 'pdf-lib';
import type { Page } from './page.ts';
import { widthOf } from './words-on-page.ts';

/** What such a font writes in place of a letter that it lacks. */
const LACKING = '?';

export interface WrittenPdf {
  readonly bytes: Uint8Array;
  /** Letters that the fonts lack, each once. */
  readonly lacking: readonly string[];
}

/** @param made when, as it stands in the file: the same pages give the same bytes */
export async function pdfOf(pages: readonly Page[], title: string, made = new Date(0)): Promise<WrittenPdf> {
  const pdf = await PDFDocument.create({ updateMetadata: false });
  pdf.setTitle(title);
  pdf.setProducer('Kneader');
  pdf.setCreationDate(made);
  const [plain, bold] = [
    await pdf.embedFont(StandardFonts.Helvetica),
    await pdf.embedFont(StandardFonts.HelveticaBold),
  ];
  const lacking = new Set<string>();
  const known = (text: string) =>
    Array.from(text, (letter) => {
      if (Encodings.WinAnsi.canEncodeUnicodeCodePoint(letter.codePointAt(0)!)) return letter;
      lacking.add(letter);
      return LACKING;
    }).join('');
  for (const { width, height, marks } of pages) {
    const page = pdf.addPage([width, height]);
    for (const mark of marks) {
      if (mark.kind === 'path') {
        page.drawSvgPath(mark.d, {
          x: 0,
          y: height,
          ...(mark.fill !== null && { color: colourOf(mark.fill) }),
          ...(mark.line !== null && { borderColor: colourOf(mark.line), borderWidth: mark.lineWidth }),
        });
        continue;
      }
      const text = known(mark.text);
      const part = { start: 0, middle: 0.5, end: 1 }[mark.anchor];
      page.drawText(text, {
        x: mark.x - part * widthOf(text, mark.size, mark.isBold),
        y: height - mark.y,
        size: mark.size,
        font: mark.isBold ? bold : plain,
        color: colourOf(mark.colour),
      });
    }
  }
  return { bytes: await pdf.save(), lacking: [...lacking] };
}

/** `#rrggbb`, or `rgb(r g b)` with 0 to 255. */
function colourOf(css: string) {
  const [r, g, b] = css.startsWith('#')
    ? [1, 3, 5].map((at) => parseInt(css.slice(at, at + 2), 16))
    : (css.match(/\d+/g) ?? []).map(Number);
  return rgb((r ?? 0) / 255, (g ?? 0) / 255, (b ?? 0) / 255);
}
