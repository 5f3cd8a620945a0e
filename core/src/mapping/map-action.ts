/** An action on a shot: which of its joints stands for which of a character, and its curves as that character moves. */
import { finish } from '../base/work.ts';
import type { Work } from '../base/work.ts';
import type { Curve } from '../curve/curve.ts';
import { curvesOfJoints } from '../document/action.ts';
import type { Action, ActionJson } from '../document/action.ts';
import { splitChannel } from '../document/shot.ts';
import type { ChannelId, Shot } from '../document/shot.ts';
import { transferMotion } from './transfer.ts';
import type { TransferredPair } from './transfer.ts';
import { matchSkeletons } from './match.ts';
import type { MatchBy } from './match.ts';
import { characterOf, ownSkeletonOf, withCarriersOf } from './skeletons.ts';
import type { Skeleton } from '../rig/skeleton.ts';

export interface MappingWishes {
  readonly by: MatchBy;
  /** Whose joints the action goes to; null is the shot's first. */
  readonly character: string | null;
  /** Whether places go by the proportion of the two; or the number that they are multiplied by. */
  readonly scaled: boolean | number;
  /** The shot's joint, or null for none, by the action's; said by hand. */
  readonly byHand: Readonly<Record<string, string | null>>;
}

export interface Mapping {
  readonly pairs: readonly TransferredPair[];
  /** Joints of the action that stand for nothing here. */
  readonly missing: readonly string[];
  /** Joints here that nothing of the action stands for. */
  readonly spare: readonly string[];
  /** Names that were said by hand and that are not there. */
  readonly unknown: readonly string[];
  /** Joints of the action that could as well change places. */
  readonly doubtful: readonly (readonly [string, string])[];
}

/** Of `missing` only those whose motion is left out. */
export interface Mapped extends Mapping {
  readonly curves: ReadonlyMap<ChannelId, Curve>;
  /** Joints of the action without a partner, whose motion goes along in what hangs on them. */
  readonly along: readonly string[];
  /** What is of no figure and stays, since the action goes onto another one than its own. */
  readonly left: readonly string[];
  /** Channels that have motion and that the joints here lack. */
  readonly lacking: readonly ChannelId[];
  /** What places were multiplied by. */
  readonly size: number;
  /** Joints of the two backs, where they are of different numbers. */
  readonly shared: { readonly ours: readonly string[]; readonly theirs: readonly string[] } | null;
}

/** Which joint of the action stands for which here, and how they differ; null for an action that knows no skeleton. */
export function mappingOf(
  shot: Shot,
  { json }: Pick<Action, 'json'>,
  wishes: MappingWishes,
): (Mapping & Pick<Mapped, 'size'>) | null {
  const found = matched(shot, json, wishes);
  if (!found) return null;
  const { skeleton, here, matching } = found;
  const { pairs, size } = finish(transferMotion(skeleton, here, matching.pairs, new Map(), wishes.scaled));
  return { ...matching, pairs, size };
}

/** The action's curves by the shot's channels. What belongs to no joint of its skeleton goes by name, as it is. */
export function* mapAction(shot: Shot, action: Action, wishes: MappingWishes): Work<Mapped> {
  const found = matched(shot, action.json, wishes);
  if (!found)
    return {
      curves: action.curves,
      pairs: [],
      lacking: [],
      along: [],
      left: [],
      missing: [],
      spare: [],
      unknown: [],
      doubtful: [],
      size: 1,
      shared: null,
    };
  const { skeleton, here, matching } = found;
  // Goals go onto goals; where there are none the joints go that they led.
  const bones = new Set(skeleton.bones.map(({ id }) => id));
  const goals = new Set([
    ...matching.pairs.map(({ source }) => source),
    // What belongs to nobody goes by name.
    ...shot.nodes.flatMap(({ id }) => (bones.has(id) ? [] : [id])),
  ]);
  const own = curvesOfJoints(action, ({ controls }) => controls.some((id) => goals.has(id)));
  const { curves, pairs, lacking, along, size, shared } = yield* transferMotion(
    skeleton,
    here,
    matching.pairs,
    own,
    wishes.scaled,
  );
  const moving = new Set([...own.keys()].map((id) => splitChannel(id).node));
  // Onto another figure than its own it takes nothing along that is nobody's: a tray stays with who carries it, a camera with who looks.
  const others = [...own.keys()].map((id) => splitChannel(id).node).filter((id) => !bones.has(id));
  const isOther = wishes.character !== null && wishes.character !== characterOf(shot, bones);
  const left = isOther ? [...new Set(others)] : [];
  const rest = [...own].filter(([id]) => !bones.has(splitChannel(id).node) && !isOther);
  return {
    ...matching,
    curves: new Map([...rest, ...curves]),
    pairs,
    lacking,
    along,
    left,
    size,
    shared,
    missing: matching.missing.filter(
      (id) => moving.has(id) && !along.includes(id) && !shared?.ours.includes(id),
    ),
  };
}

function matched(shot: Shot, { skeleton }: ActionJson, { by, character, byHand }: MappingWishes) {
  if (!skeleton) return null;
  const ids = skeleton.bones.map(({ id }) => id);
  const isFigure = standsForFigure(skeleton);
  // What is no figure, or belongs to nobody here, goes to what belongs to nobody: a tray is no hips, whatever its structure.
  const isNobodys = shot.nodes.some(({ id, character: owner }) => owner === null && ids.includes(id));
  const first = isFigure && !isNobodys ? (shot.characters[0]?.id ?? null) : null;
  const here = ownSkeletonOf(shot, character ?? characterOf(shot, ids) ?? first);
  const there = withCarriersOf(skeleton, here);
  return { skeleton: there, here, matching: matchSkeletons(there, here, isFigure ? by : 'names', byHand) };
}

/** Where no joint hangs on another it is things: a tray, a camera, a door. */
const standsForFigure = ({ bones }: Skeleton): boolean => bones.some(({ parent }) => parent !== null);
