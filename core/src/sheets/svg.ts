/** Pages as SVG (W3C, SVG 2): one below the other. */
import type { Mark, Page } from './page.ts';

const escaped = (text: string) =>
  // Control characters are no XML (W3C, XML 1.0, 2.2).

  text
    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f]/g, '')
    .replace(/[&<>"]/g, (letter) => `&#${letter.charCodeAt(0)};`);

export function svgOf(pages: readonly Page[], title: string): string {
  const width = Math.max(...pages.map((page) => page.width));
  const height = pages.reduce((sum, page) => sum + page.height, 0);
  let top = 0;
  const groups = pages.map((page) => {
    const marks = page.marks.map(markOf).join('\n');
    const group = `<g transform="translate(0 ${top})">\n<rect width="${page.width}" height="${page.height}" fill="#ffffff"/>\n${marks}\n</g>`;
    top += page.height;
    return group;
  });
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}pt" height="${height}pt" viewBox="0 0 ${width} ${height}" font-family="Helvetica, Arial, sans-serif">
<title>${escaped(title)}</title>
${groups.join('\n')}
</svg>
`;
}

function markOf(mark: Mark): string {
  if (mark.kind === 'text') {
    const { x, y, size, anchor, isBold, colour, text } = mark;
    const bold = isBold ? ' font-weight="bold"' : '';
    return `<text x="${x}" y="${y}" font-size="${size}" text-anchor="${anchor}" fill="${colour}"${bold}>${escaped(text)}</text>`;
  }
  const line = mark.line
    ? ` stroke="${mark.line}" stroke-width="${mark.lineWidth}" stroke-linejoin="round"`
    : '';
  return `<path d="${mark.d}" fill="${mark.fill ?? 'none'}"${line}/>`;
}
