/** What of a character stands at a frame, and how far its centre of mass leans out of that. */
import { contactsOf } from '../document/contacts.ts';
import { rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { worldAt, worldsOver } from '../evaluation/evaluation.ts';
import { partFor } from '../rig/influence.ts';
import type { WorldPose } from '../rig/pose.ts';
import { framesOf } from '../base/frame-range.ts';
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
  return supportReader(shot, character)?.at(worldAt(shot, frame), frame) ?? null;
}

/** What carries a character in a pose of a frame, and the rows that this asks for. */
function supportReader(shot: Shot, character: string | null) {
  const { segments, unit } = bodyOf(shot, character);
  if (segments.length === 0) return null;
  const rig = rigOf(shot);
  const contacts = contactsOf(shot).filter(
    ({ node }) => rig.nodes[rig.indexOf(node)]?.character === character,
  );
  const rows = [
    ...segments.flatMap(({ points }) => points.map(({ row }) => row)),
    ...contacts.map(({ node }) => rig.indexOf(node)),
  ];
  const at = (pose: WorldPose, frame: number): Support => {
    const standing = contacts.flatMap(({ node, at: point, start, end }) =>
      frame < start || frame > end ? [] : [pointIn(pose, { node: rig.indexOf(node), at: [...point] })],
    );
    const centre = centreIn(pose, segments);
    const hull = hullOf(standing);
    const lean = leanOut(centre, hull);
    return { centre, hull, lean: lean === null ? null : lean * unit };
  };
  return { rows: [...new Set(rows)], at };
}

export interface Leans {
  readonly frames: Float64Array;
  /** By frame, mm: of whoever leans out most. */
  readonly profile: Float64Array;
  readonly most: { readonly mm: number; readonly frame: number; readonly name: string };
}

/** How far the characters of a shot lean out of what they stand on, on all its frames; null where nothing is known to stand. */
export function leansOver(shot: Shot): Leans | null {
  if (contactsOf(shot).length === 0) return null;
  const frames = framesOf(shot.range);
  const profile = new Float64Array(frames.length);
  let most = { mm: 0, frame: shot.range.start, name: '' };
  for (const { id, name } of shot.characters) {
    const rest = supportReader(shot, id);
    if (!rest) continue;
    let f = 0;
    for (const { pose } of worldsOver(shot, frames, partFor(rigOf(shot), rest.rows))) {
      const mm = 10 * (rest.at(pose, frames[f]!).lean ?? 0);
      if (mm > most.mm) most = { mm, frame: frames[f]!, name };
      profile[f] = Math.max(profile[f]!, mm);
      f += 1;
    }
  }
  return { frames, profile, most };
}
