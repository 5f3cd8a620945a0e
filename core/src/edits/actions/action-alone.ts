/** A character with nothing but an action, for whoever keeps it as an animation of its own. */
import type { Finding } from '../../base/finding.ts';
import type { ActionJson } from '../../document/action.ts';
import { NOTHING } from '../../document/selection.ts';
import { newShot, rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { runEdit } from '../run-edit.ts';

/**
 * @param shot whose characters it is mapped onto, as *Apply action* maps it
 * @returns the one reason why it does not fit him, where it does not
 */
export function actionAlone(
  shot: Shot,
  action: ActionJson,
): { readonly shot: Shot } | { readonly refusal: Finding } {
  const rates =
    (shot.rate.numerator * action.rate.denominator) / (shot.rate.denominator * action.rate.numerator);
  const end = Math.max(1, Math.round(action.length * rates));
  const bare: Shot = {
    ...newShot(action.name, shot.nodes, shot.relations, shot.rate, { start: 0, end }),
    characters: shot.characters,
  };
  const channels = rigOf(bare).channels.map(({ id }) => id);
  const how = { action, frame: 0, wholeFrames: false };
  const { shot: made, report } = runEdit('actions.apply', bare, { ...NOTHING, channels }, how);
  return report.status === 'refused'
    ? { refusal: report.findings[0]! }
    : { shot: { ...made, range: bare.range } };
}
