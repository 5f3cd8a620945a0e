/** An action by itself, on the skeleton that it keeps: what it is drawn from where the shot that it came from is not at hand. */
import { skeletonSolids } from './skeleton-solids.ts';
import { pairNames, partOf } from '../rig/sides.ts';
import { curvesOfJoints } from '../document/action.ts';
import type { Action } from '../document/action.ts';
import { newShot, rigOf, withCurves } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';

/** Null where the action keeps no skeleton. */
export function shotOfAction(action: Action): Shot | null {
  const { json, range } = action;
  const { skeleton } = json;
  if (!skeleton) return null;
  const pairs = pairNames(skeleton.bones.map(({ id }) => id));
  const bare = skeleton.bones.map((bone) => ({
    ...bone,
    pair: pairs.get(bone.id)?.pair ?? null,
    kind: 'joint' as const,
    part: partOf(bone.id),
    character: 'one',
    solids: [],
  }));
  const nodes = skeletonSolids(
    bare,
    bare.map(() => null),
  );
  const shot = {
    ...newShot(json.name, nodes, [], json.rate, range),
    characters: [{ id: 'one', name: json.name, facing: skeleton.facing }],
  };
  const rig = rigOf(shot);
  return withCurves(
    shot,
    null,
    new Map([...curvesOfJoints(action)].filter(([id]) => rig.channelIndex(id) >= 0)),
  );
}
