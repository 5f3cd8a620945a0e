/** The controls that a selection names, through whatever it names them. */
import { selectedChannels } from '../../document/selection.ts';
import type { Selection } from '../../document/selection.ts';
import { splitChannel } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';

export const chosenNodes = (shot: Shot, selection: Selection): string[] => [
  ...new Set(selectedChannels(shot, selection).map((id) => splitChannel(id).node)),
];
