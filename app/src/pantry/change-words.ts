/** What changed from one version of an action to the next, in few words. */
import { compareActions, readAction } from '@kneader/core';
import type { ActionJson } from '@kneader/core';

export function changeWords(before: ActionJson, after: ActionJson): string {
  const { longer, channels } = compareActions(readAction(before), readAction(after));
  const [added, gone, other] = (['second', 'first', null] as const).map(
    (only) => channels.filter((one) => one.only === only).length,
  ) as [number, number, number];
  const frames = Math.round(Math.abs(longer) * 100) / 100;
  const said = [
    frames > 0 ? `${frames} frames ${longer > 0 ? 'longer' : 'shorter'}` : '',
    other > 0 ? `${other} ${other === 1 ? 'channel' : 'channels'} changed` : '',
    added > 0 ? `${added} added` : '',
    gone > 0 ? `${gone} gone` : '',
  ].filter(Boolean);
  return said.length > 0 ? `then ${said.join(', ')}` : 'then only its words changed';
}
