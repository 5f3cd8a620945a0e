/** Numbers as people read them: frames whole, cm with 2 decimals, degrees with 1; never −0 and never 14 digits. */
const DECIMALS: Readonly<Record<string, number>> = { cm: 2, mm: 1, '°': 1, '×': 3, frames: 0, frame: 0 };

/** Things that are counted: whole, and one of them has its own word. */
const SINGULAR: Readonly<Record<string, string>> = {
  frames: 'frame',
  columns: 'column',
  keys: 'key',
  channels: 'channel',
  controls: 'control',
};

/** `1 key`, `5,062 keys`. */
export const counted = (count: number, one: string, many = `${one}s`): string =>
  `${count.toLocaleString('en-US')} ${count === 1 ? one : many}`;

export function readable(value: number, unit: string): string {
  if (Number.isInteger(value) && (unit === '' || unit in SINGULAR)) return value.toLocaleString('en-US');
  const decimals = DECIMALS[unit] ?? 2;
  // Something small that is not nothing is not shown as nothing.
  if (value !== 0 && Math.abs(value) < 0.5 * 10 ** -decimals)
    return `< ${(10 ** -decimals).toFixed(decimals)}`;
  const text = value.toFixed(decimals);
  return Number(text) === 0
    ? (0).toFixed(decimals)
    : Number(text).toLocaleString('en-US', { minimumFractionDigits: decimals });
}

/** `0.80 cm`, `12.5°`, `61`. */
export function withUnit(value: number, unit: string): string {
  const gap = unit === '' || unit === '°' || unit === '×' ? '' : ' ';
  return `${readable(value, unit)}${gap}${value === 1 ? (SINGULAR[unit] ?? unit) : unit}`;
}
