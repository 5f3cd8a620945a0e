/** A few poses of a shot as world matrices: what the moving pictures on cards are drawn from. */
import { z } from 'zod';
import { computeWorld, newWorldPose, rigOf, worldInto } from '@kneader/core';
import type { Node, Shot } from '@kneader/core';

/** What of a node is drawn; the rest stays with its shot. */
type Drawn = Pick<Node, 'id' | 'kind' | 'part' | 'solids'> & { readonly character?: string | null };

const drawn = z.array(
  z.looseObject({ id: z.string(), solids: z.array(z.looseObject({ kind: z.string() })) }),
);

/** World matrices, 16 numbers for each node, float32; nodes as they were checked with their shot. */
export const filmSchema = z
  .object({
    nodes: z.custom<readonly Drawn[]>((value) => drawn.safeParse(value).success),
    poses: z.array(z.instanceof(Float32Array)).readonly(),
    /** Left out in films of versions before. */
    characters: z.array(z.object({ id: z.string(), name: z.string() })).optional(),
    /** How all of it stands where nothing is keyed: what faces are drawn from. */
    rest: z.instanceof(Float32Array).optional(),
  })
  .refine(({ nodes, poses, rest }) =>
    [...poses, ...(rest ? [rest] : [])].every((pose) => pose.length === nodes.length * 16),
  );
export type Film = z.infer<typeof filmSchema>;

/** Where there is nothing to draw. */
export const NO_FILM: Film = { nodes: [], poses: [] };

const POSES = 24;

/** Evenly spaced poses over the range. */
export function filmOf(shot: Shot): Film {
  const rig = rigOf(shot);
  const values = new Float64Array(rig.channels.length);
  const pose = newWorldPose(rig);
  const length = shot.range.end - shot.range.start;
  const count = Math.max(1, Math.min(POSES, Math.floor(length) + 1));
  const poses = Array.from({ length: count }, (_, i) => {
    worldInto(shot, shot.range.start + (length * i) / Math.max(1, count - 1), values, pose);
    return Float32Array.from(pose.matrices);
  });
  // Nobody looks at anything.
  const alone = rigOf({ ...shot, relations: [] });
  computeWorld(
    alone,
    alone.channels.map((channel) => channel.rest),
    pose,
  );
  return {
    nodes: shot.nodes.map(({ id, kind, part, solids, character }) => ({ id, kind, part, solids, character })),
    poses,
    characters: shot.characters.map(({ id, name }) => ({ id, name })),
    rest: Float32Array.from(pose.matrices),
  };
}
