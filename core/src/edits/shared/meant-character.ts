/** Which character an edit means. */
import { z } from 'zod';
import { selectedChannels } from '../../document/selection.ts';
import type { Selection } from '../../document/selection.ts';
import { splitChannel } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';

export const characterOption = () =>
  z.string().optional().meta({
    title: 'Character',
    description: 'Its id; left out, the character of the selected controls, or the only one.',
  });

/** The one that is named, else that of the selected controls, else the only one; null where that is none, or several. */
export function meantCharacter(shot: Shot, selection: Selection, named?: string): string | null {
  if (named !== undefined) return shot.nodes.some(({ character }) => character === named) ? named : null;
  const channels = selectedChannels(shot, selection);
  // Where keys of a weight are chosen the controls still say whom it is about.
  const chosen = new Set(channels.length > 0 ? channels.map((id) => splitChannel(id).node) : selection.nodes);
  const found = new Set(
    shot.nodes
      .filter(({ id, character }) => character !== null && (chosen.size === 0 || chosen.has(id)))
      .map(({ character }) => character),
  );
  return found.size === 1 ? [...found][0]! : null;
}

export const nameOfCharacter = ({ characters }: Shot, id: string | null): string =>
  characters.find((one) => one.id === id)?.name ?? 'it';
