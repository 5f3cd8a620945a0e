/** Captured motion as another program might have written it. */

/** The text of a BVH file, the same motion with z up: (x, y, z) lies at (x, −z, y). */
export function withZUp(text: string): string {
  const [head, motion] = text.split(/^(?=MOTION)/m) as [string, string];
  const flips: boolean[] = [];
  const turned = head
    .replace(
      /OFFSET\s+(\S+)\s+(\S+)\s+(\S+)/g,
      (_, x: string, y: string, z: string) => `OFFSET ${x} ${-Number(z)} ${y}`,
    )
    .replace(/[XYZ](position|rotation)/g, (word) => {
      flips.push(word.startsWith('Z'));
      return word.replace(/^[YZ]/, (axis) => (axis === 'Y' ? 'Z' : 'Y'));
    });
  const rows = motion.split('\n').map((line) => {
    const values = line.trim().split(/\s+/);
    return values.length === flips.length
      ? values.map((v, i) => (flips[i] ? -Number(v) : v)).join(' ')
      : line;
  });
  return turned + rows.join('\n');
}
