/** What the joints of limbs show that goals lead: an action keeps it beside its curves, for figures that have no such goals. */
import { InputError } from '../../base/finding.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { framesOf } from '../../base/frame-range.ts';
import type { Work } from '../../base/work.ts';
import { EMPTY_CURVE } from '../../curve/curve.ts';
import { CurveReader } from '../../curve/evaluate.ts';
import { partOf } from '../../curve/part.ts';
import { curvesToJson } from '../../document/action.ts';
import type { LimbJson } from '../../document/action.ts';
import { curveOf, rigOf, withCurves } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import type { Relation } from '../../rig/relations/relation.ts';
import type { CompiledChain } from '../../rig/relations/reach.ts';
import { channelsOfNodes, denselyKeyed } from '../shared/densely-keyed.ts';
import { keepMotion } from '../spaces/keep-motion.ts';
import { moverOf } from '../spaces/limb-goals.ts';
import { placedBy } from '../spaces/remove-relation.ts';

/** How near the joints are kept, cm and degrees. */
const WISHES = { distance: 0.1, angle: 0.2 };

/** @param nodes what is saved: limbs of which neither a joint nor the goal is among it are left out */
export function* limbsShown(
  shot: Shot,
  nodes: ReadonlySet<string>,
  range: FrameRange,
): Work<LimbJson[], Shot> {
  const rig = rigOf(shot);
  const found: LimbJson[] = [];
  for (const relation of shot.relations) {
    const chain = rig.chains.find(({ end }) => rig.nodes[end]!.id === relation.node);
    if (relation.kind !== 'reach' || !chain || !leads(shot, relation, range)) continue;
    const controls = controlsOf(shot, chain);
    const joints = placedBy(shot, relation);
    if (![...controls, ...joints].some((id) => nodes.has(id))) continue;
    // The joints as they would be with nothing over them: locks and layers of theirs do not count for what is saved.
    const bare = withCurves(
      {
        ...shot,
        ...{ layers: [], locked: [], relations: shot.relations.filter((one) => one !== relation) },
      },
      null,
      new Map(channelsOfNodes(shot, joints).map((id) => [id, EMPTY_CURVE])),
    );
    const keys = denselyKeyed(shot, channelsOfNodes(shot, controls), range)
      ? ('frames' as const)
      : ('needed' as const);
    const rewrites = joints.map((node) => ({ node, range, keys }));
    try {
      const kept = yield* keepMotion(shot, bare, rewrites, WISHES);
      const curves = kept.touched.map((id) => [id, partOf(curveOf(kept.shot, null, id), range)] as const);
      found.push({ controls, joints: curvesToJson(new Map(curves)) });
    } catch (error) {
      // Under a carrier that is flat joints lie nowhere.
      if (!(error instanceof InputError)) throw error;
    }
  }
  return found;
}

function leads(shot: Shot, { weight }: Relation, range: FrameRange): boolean {
  if (weight === null) return true;
  const curve = new CurveReader(curveOf(shot, null, weight));
  return framesOf(range).some((frame) => curve.at(frame) > 0);
}

/** What moves the goal, the pole, and what the tip keeps to. */
function controlsOf(shot: Shot, { target, pole, tip }: CompiledChain): string[] {
  const rig = rigOf(shot);
  const rows = [target, pole, ...(tip ? [tip.follows] : [])].map((row) => moverOf(rig, row));
  return [...new Set(rows.filter((row) => row >= 0).map((row) => rig.nodes[row]!.id))];
}
