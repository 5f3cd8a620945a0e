/** What of a character stands at a frame, and how far its centre of mass leans out of that. */
import { contactsOf } from '../document/contacts.ts';
import { rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { worldAt } from '../evaluation/evaluation.ts';
import type { Triple } from '../math/euler.ts';
import { pointIn } from '../rig/body-point.ts';
import { hullOf, leanOut } from '../motion/support.ts';
import type { GroundPoint } from '../motion/support.ts';
import { bodyOf } from './body-of.ts';
import { centreIn } from './centre-of-mass.ts';

export interface Support {
  readonly centre: Triple;
  /** On the ground, by the contacts that the shot knows. */
  readonly hull: readonly GroundPoint[];
  /** How far the centre leans out of the hull, cm in the size that the character is said to have; null where nothing stands. */
  readonly lean: number | null;
}

/** @returns null for a character without a node */
export function supportAt(shot: Shot, character: string | null, frame: number): Support | null {
  const { segments, unit } = bodyOf(shot, character);
  if (segments.length === 0) return null;
  const rig = rigOf(shot);
  const pose = worldAt(shot, frame);
  const standing = contactsOf(shot).flatMap(({ node, at, start, end }): Triple[] => {
    const row = rig.indexOf(node);
    if (row < 0 || rig.nodes[row]!.character !== character || frame < start || frame > end) return [];
    return [pointIn(pose, { node: row, at: [...at] })];
  });
  const centre = centreIn(pose, segments);
  const hull = hullOf(standing);
  const lean = leanOut(centre, hull);
  return { centre, hull, lean: lean === null ? null : lean * unit };
}
