/** Which stroke does what: the table, and what was changed of it in Help. Kept in the browser. */
import { create } from 'zustand';
import { persist } from 'zustand/middleware';
import { SHORTCUTS } from './shortcuts.ts';
import type { Shortcut } from './shortcuts.ts';

interface KeyMapState {
  /** Strokes by what they do, where they are others than the table says. */
  readonly changed: Readonly<Record<string, string>>;
}

export const useKeyMap = create<KeyMapState>()(
  persist((): KeyMapState => ({ changed: {} }), { name: 'kneader-strokes' }),
);

/** The stroke of a line of the table. */
export const strokeOf = ({ id, press }: Shortcut, changed: KeyMapState['changed']): string =>
  changed[id] ?? press;

/** The lines of the table by their strokes; of two with one stroke the first, as Help says. */
export function strokeTable(changed: KeyMapState['changed']): ReadonlyMap<string, Shortcut> {
  const table = new Map<string, Shortcut>();
  for (const shortcut of SHORTCUTS) {
    const stroke = strokeOf(shortcut, changed);
    if (!table.has(stroke)) table.set(stroke, shortcut);
  }
  return table;
}

/** The lines that have another one's stroke, and whose. */
export function clashes(changed: KeyMapState['changed']): ReadonlyMap<string, Shortcut> {
  const table = strokeTable(changed);
  const found = new Map<string, Shortcut>();
  for (const shortcut of SHORTCUTS) {
    const owner = table.get(strokeOf(shortcut, changed))!;
    if (owner !== shortcut) found.set(shortcut.id, owner);
  }
  return found;
}

export const keyMap = {
  change(id: string, stroke: string): void {
    useKeyMap.setState(({ changed }) => {
      const next = { ...changed, [id]: stroke };
      if (SHORTCUTS.some((one) => one.id === id && one.press === stroke)) delete next[id];
      return { changed: next };
    });
  },
  reset(): void {
    useKeyMap.setState({ changed: {} });
  },
};

const ARROWS: Readonly<Record<string, string>> = {
  ArrowLeft: '←',
  ArrowRight: '→',
  ArrowUp: '↑',
  ArrowDown: '↓',
};

/** `Shift+ArrowLeft` is “Shift ←”. */
export const strokeInWords = (press: string): string =>
  press
    .replace(/Arrow\w+/, (name) => ARROWS[name] ?? name)
    .replace(/Page(Up|Down)/, 'Page $1')
    .replace(/\+(?=.)/g, ' ')
    .trim();

/** How the stroke of a line is written now: for buttons that name it. */
export function useStrokes(): (id: string) => string {
  const changed = useKeyMap((state) => state.changed);
  return (id) => {
    const shortcut = SHORTCUTS.find((one) => one.id === id);
    return shortcut ? strokeInWords(strokeOf(shortcut, changed)) : '';
  };
}
