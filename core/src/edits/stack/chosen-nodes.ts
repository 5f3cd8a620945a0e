/** The controls that a selection names, through whatever it names them. */
import { selectedChannels } from '../../shot/selection.ts';
import type { Selection } from '../../shot/selection.ts';
import { splitChannel } from '../../shot/shot.ts';
import type { Shot } from '../../shot/shot.ts';

export const chosenNodes = (shot: Shot, selection: Selection): string[] => [
  ...new Set(selectedChannels(shot, selection).map((id) => splitChannel(id).node)),
];
