/** The colours of the two themes. CSS variables and Ant Design's tokens are both made from this table. */
export interface Palette {
  readonly paper: string;
  /** Fields and cards on the paper. */
  readonly sheet: string;
  /** Sunken areas: lanes, gutters. */
  readonly trough: string;
  readonly ink: string;
  readonly soft: string;
  readonly rule: string;
  readonly accent: string;
  readonly accentInk: string;
  readonly left: string;
  readonly right: string;
  readonly centre: string;
  readonly warning: string;
  readonly floor: string;
  readonly wall: string;
}

export const PALETTES = {
  flour: {
    paper: '#f7f1e5',
    sheet: '#fffbf3',
    trough: '#efe6d5',
    ink: '#2d231b',
    soft: '#6d5d4e',
    rule: '#dccdb6',
    accent: '#a9531f',
    accentInk: '#fffaf0',
    left: '#0072b2',
    right: '#c2500a',
    centre: '#5d5146',
    warning: '#9b2c1d',
    floor: '#e6dac3',
    wall: '#f1e8d8',
  },
  rye: {
    paper: '#241d18',
    sheet: '#2f2721',
    trough: '#1c1713',
    ink: '#f3e8d6',
    soft: '#b5a48f',
    rule: '#463b32',
    accent: '#e08a4a',
    accentInk: '#241a12',
    left: '#56b4e9',
    right: '#f0903a',
    centre: '#cdbfae',
    warning: '#f08a73',
    floor: '#332a23',
    wall: '#29221c',
  },
} as const satisfies Record<string, Palette>;

export type ThemeName = keyof typeof PALETTES;

/** Okabe & Ito's palette for axes, told apart by colour-blind people too; x, y, z in each theme. */
export const AXIS_HUES: Record<ThemeName, readonly [string, string, string]> = {
  flour: ['#d55e00', '#009e73', '#0072b2'],
  rye: ['#e69f00', '#2fcf9f', '#56b4e9'],
};

/** For channels that are no axis. */
export const OTHER_HUE: Record<ThemeName, string> = { flour: '#b0548b', rye: '#dd92bd' };

/** The eight pass colours (Okabe & Ito, with a brown for black). */
export const PASS_HUES = [
  '#cc79a7',
  '#009e73',
  '#e69f00',
  '#56b4e9',
  '#d55e00',
  '#0072b2',
  '#b7a800',
  '#8c5a3c',
] as const;
