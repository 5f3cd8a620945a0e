/** A shot's characters as bodies: what of them weighs how much, and how tall they stand. */
import { rigOf } from '../document/shot.ts';
import type { NodeMass, Shot } from '../document/shot.ts';
import { skeletonOf } from '../mapping/skeletons.ts';
import { limbsOfBody, segmentsOf } from '../motion/body.ts';
import type { Body, Segment } from '../motion/body.ts';
import { measured } from '../rig/skeleton.ts';

export interface ShotBody {
  /** Rows are the shot's; shares sum to 1, unless the character has no node. */
  readonly segments: readonly Segment[];
  /** Where it is a body with limbs that we know; rows are the shot's. */
  readonly limbs: Body | null;
  /** How high its solids and joints reach above the lowest at rest, in the units of its numbers. */
  readonly stands: number;
  /** cm that a unit of its numbers is: 1 where it is as tall as they say. */
  readonly unit: number;
}

interface Known {
  readonly masses: Shot['masses'];
  readonly characters: Shot['characters'];
  readonly relations: Shot['relations'];
  readonly body: ShotBody;
}
const known = new WeakMap<Shot['nodes'], Map<string | null, Known>>();

/** @param character null is what belongs to none: props */
export function bodyOf(shot: Shot, character: string | null): ShotBody {
  let ofNodes = known.get(shot.nodes);
  if (!ofNodes) known.set(shot.nodes, (ofNodes = new Map<string | null, Known>()));
  const found = ofNodes.get(character);
  const { masses, characters, relations } = shot;
  if (found && found.masses === masses && found.characters === characters && found.relations === relations)
    return found.body;
  const body = makeBody(shot, character);
  ofNodes.set(character, { masses, characters, relations, body });
  return body;
}

function makeBody(shot: Shot, character: string | null): ShotBody {
  const rig = rigOf(shot);
  const skeleton = skeletonOf(shot, character);
  const figure = measured(skeleton);
  const rows = skeleton.bones.map(({ id }) => rig.indexOf(id));
  const nodeOf = (row: number) => shot.nodes[rows[row]!]!;
  const counts = (row: number) => nodeOf(row).character === character && nodeOf(row).kind !== 'camera';
  const here = (row: number) => rows[row]!;
  const segments = segmentsOf(figure, (row) => nodeOf(row).solids, counts).map((segment): Segment => ({
    ...segment,
    row: here(segment.row),
    points: segment.points.map((point) => ({ ...point, row: here(point.row) })),
  }));
  const limbs = limbsOfBody(figure);
  const extents = skeleton.bones.map((_, row) => (counts(row) ? extentOf(rig, shot, rows[row]!) : []));
  const all = extents.flat();
  // A cap makes nobody taller: a body ends where its skull does, if that is drawn.
  const skull = limbs ? extents[limbs.head]! : [];
  const top = Math.max(...(skull.length > 1 ? skull : all));
  const stands = all.length > 0 ? top - Math.min(...all) : 0;
  const height = shot.characters.find(({ id }) => id === character)?.height;
  return {
    segments: withMasses(segments, shot.masses ?? [], shot, character),
    limbs: limbs && {
      hips: here(limbs.hips),
      neck: here(limbs.neck),
      head: here(limbs.head),
      arms: limbs.arms.map(({ side, shoulder, elbow, wrist }) => ({
        side,
        shoulder: here(shoulder),
        elbow: here(elbow),
        wrist: here(wrist),
      })),
      legs: limbs.legs.map(({ hip, knee, ankle, toe }) => ({
        hip: here(hip),
        knee: here(knee),
        ankle: here(ankle),
        toe: here(toe),
      })),
    },
    stands,
    unit: height !== undefined && stands > 0 ? height / stands : 1,
  };
}

/** Heights of a node's joint and of what it is drawn from, as far as they do not stand askew at rest. */
function extentOf(rig: ReturnType<typeof rigOf>, shot: Shot, row: number): number[] {
  const y = rig.restPlaces[row]![1];
  return [
    y,
    ...shot.nodes[row]!.solids.flatMap((solid) => {
      if (solid.kind === 'capsule')
        return [
          y + solid.from[1] + solid.radiusFrom,
          y + solid.from[1] - solid.radiusFrom,
          y + solid.to[1] + solid.radiusTo,
          y + solid.to[1] - solid.radiusTo,
        ];
      const half = solid.kind === 'ellipsoid' ? solid.radii[1] : solid.size[1] / 2;
      return [y + solid.centre[1] + half, y + solid.centre[1] - half];
    }),
  ];
}

/** What was set by hand weighs that much; the others share what is left as they did. */
function withMasses(
  segments: readonly Segment[],
  masses: readonly NodeMass[],
  shot: Shot,
  character: string | null,
): Segment[] {
  const rig = rigOf(shot);
  const byHand = new Map(
    masses.flatMap(({ node, share }) => {
      const row = rig.indexOf(node);
      return row >= 0 && rig.nodes[row]!.character === character ? [[row, share] as const] : [];
    }),
  );
  if (byHand.size === 0) return [...segments];
  const setShare = [...byHand.values()].reduce((sum, share) => sum + share, 0);
  const others = segments.filter(({ row }) => !byHand.has(row)).reduce((sum, { share }) => sum + share, 0);
  // More than all of it is all of it.
  const scale = Math.max(1, setShare);
  const rest = others > 0 ? Math.max(0, 1 - setShare) / others : 0;
  const times = (segment: Segment, factor: number): Segment => ({
    ...segment,
    share: segment.share * factor,
    points: segment.points.map((point) => ({ ...point, share: point.share * factor })),
  });
  const kept = segments.map((segment) => {
    const share = byHand.get(segment.row);
    if (share === undefined) return times(segment, rest);
    const own = segments.filter(({ row }) => row === segment.row).reduce((sum, one) => sum + one.share, 0);
    return times(segment, share / scale / own);
  });
  const bare = [...byHand].filter(([row]) => segments.every((segment) => segment.row !== row));
  return [
    ...kept,
    ...bare.map(([row, share]): Segment => ({
      name: 'other',
      row,
      share: share / scale,
      points: [{ row, at: [0, 0, 0], share: share / scale }],
    })),
  ].filter(({ share }) => share > 0);
}
