/** The meshes of a figure: one for each solid, grouped by node, so that a pose only sets matrices. */
import { BufferAttribute, BufferGeometry } from 'three';
import { solidMesh } from '@kneader/core';
import type { Node } from '@kneader/core';

export interface FigurePart {
  readonly node: number;
  readonly id: string;
  readonly colour: string;
  readonly geometry: BufferGeometry;
}

const kept = new WeakMap<readonly Node[], readonly FigurePart[]>();

/** The parts of a rig, kept by its identity. */
export function figureParts(nodes: readonly Node[]): readonly FigurePart[] {
  let parts = kept.get(nodes);
  if (!parts) {
    parts = nodes.flatMap((node, i) =>
      node.solids.map((solid): FigurePart => {
        const { positions, normals, indices } = solidMesh(solid);
        const geometry = new BufferGeometry();
        geometry.setAttribute('position', new BufferAttribute(positions, 3));
        geometry.setAttribute('normal', new BufferAttribute(normals, 3));
        geometry.setIndex(new BufferAttribute(indices, 1));
        return { node: i, id: node.id, colour: solid.colour, geometry };
      }),
    );
    kept.set(nodes, parts);
  }
  return parts;
}

const moving = new WeakMap<readonly Node[], readonly FigurePart[]>();

/** The parts without those of things that never move, kept by the rig's identity. */
export function movingParts(nodes: readonly Node[]): readonly FigurePart[] {
  let parts = moving.get(nodes);
  if (!parts) {
    parts = figureParts(nodes).filter(({ node }) => {
      const { part, channels } = nodes[node]!;
      return part !== 'prop' || channels.length > 0;
    });
    moving.set(nodes, parts);
  }
  return parts;
}

/** The same solid grown along its normals by `by` cm: what an outline is made from. */
export function grown(geometry: BufferGeometry, by: number): BufferGeometry {
  const result = geometry.clone();
  const position = result.getAttribute('position');
  const normal = result.getAttribute('normal');
  for (let i = 0; i < position.count; i += 1) {
    position.setXYZ(
      i,
      position.getX(i) + normal.getX(i) * by,
      position.getY(i) + normal.getY(i) * by,
      position.getZ(i) + normal.getZ(i) * by,
    );
  }
  return result;
}
