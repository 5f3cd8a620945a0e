/**
 * A shot as BVH: joints as they hang, one row for each frame, relations and layers resolved. Lengths are cm. A node that is moved gets three
 * position channels, which count from its OFFSET as `read-bvh.ts` reads them; one that is sized gets scale channels. BVH knows no rest
 * orientation: what a node rests turned by is part of its angles. Names lose their blanks.
 */
import { refuse } from '../../base/finding.ts';
import { LIMITS } from '../../base/limits.ts';
import { framesOf } from '../../base/frame-range.ts';
import { eulerFromQuat } from '../../math/euler.ts';
import type { Triple } from '../../math/euler.ts';
import { framesPerSecond, rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { LocalTransforms } from '../local-transforms.ts';
import { uniqueNames } from '../../base/unique-names.ts';

const INDENT = '\t';

export function writeBvh(shot: Shot): string {
  const rig = rigOf(shot);
  const frames = framesOf(shot.range);
  const count = rig.nodes.length;
  if (frames.length * count > LIMITS.samples) refuse('notSampleable', {}, frames.length * count);
  const children: number[][] = rig.nodes.map(() => []);
  const roots: number[] = [];
  rig.parents.forEach((parent, node) => (parent < 0 ? roots : children[parent]!).push(node));
  const keyed = (node: number, names: readonly string[]) =>
    names.some((name) => rig.nodes[node]!.channels.includes(name) && moves(shot, node, name));
  const locals = new LocalTransforms(shot);
  const placed = placedElsewhere(shot, frames, locals);
  const moved = rig.nodes.map(
    (_, node) => rig.parents[node]! < 0 || placed.moved[node] === 1 || keyed(node, ['tx', 'ty', 'tz']),
  );
  const sized = rig.nodes.map(
    ({ rest }, node) =>
      placed.sized[node] === 1 || rest.scale.some((size) => size !== 1) || keyed(node, ['sx', 'sy', 'sz']),
  );
  const names = uniqueNames(rig.nodes.map(({ id }) => id.trim().replaceAll(/\s+/g, '_')));
  const lines: string[] = ['HIERARCHY'];
  /** Nodes in the order in which their channels stand in a row. */
  const order: number[] = [];
  // Its own stack: chains may be as long as the file.
  const open: { node: number; next: number; depth: number }[] = [];
  const begin = (node: number, depth: number) => {
    const pad = INDENT.repeat(depth);
    const { rest, order: axes } = rig.nodes[node]!;
    order.push(node);
    lines.push(`${pad}${depth === 0 ? 'ROOT' : 'JOINT'} ${names[node]!.replaceAll(' ', '_')}`, `${pad}{`);
    lines.push(`${pad}${INDENT}OFFSET ${rest.translation.map(written).join(' ')}`);
    const channels = [
      ...(moved[node] ? ['Xposition', 'Yposition', 'Zposition'] : []),
      ...[...axes].map((axis) => `${axis.toUpperCase()}rotation`),
      ...(sized[node] ? ['Xscale', 'Yscale', 'Zscale'] : []),
    ];
    lines.push(`${pad}${INDENT}CHANNELS ${channels.length} ${channels.join(' ')}`);
    open.push({ node, next: 0, depth });
  };
  for (const root of roots) {
    begin(root, 0);
    while (open.length > 0) {
      const top = open[open.length - 1]!;
      const pad = INDENT.repeat(top.depth);
      const child = children[top.node]![top.next];
      top.next += 1;
      if (child !== undefined) begin(child, top.depth + 1);
      else {
        if (children[top.node]!.length === 0)
          lines.push(
            `${pad}${INDENT}End Site`,
            `${pad}${INDENT}{`,
            `${pad}${INDENT}${INDENT}OFFSET 0 0 0`,
            `${pad}${INDENT}}`,
          );
        lines.push(`${pad}}`);
        open.pop();
      }
    }
  }
  lines.push('MOTION', `Frames: ${frames.length}`, `Frame Time: ${1 / framesPerSecond(shot.rate)}`);
  const angles: Triple[] = rig.nodes.map(() => [0, 0, 0]);
  for (const frame of frames) {
    locals.at(frame);
    const row: string[] = [];
    for (const node of order) {
      const { order: axes, rest } = rig.nodes[node]!;
      if (moved[node])
        row.push(
          ...[0, 1, 2].map((axis) =>
            written(locals.translations[node * 3 + axis]! - rest.translation[axis]!),
          ),
        );
      const own = eulerFromQuat(locals.turns.subarray(node * 4, node * 4 + 4), axes, angles[node]);
      angles[node] = own;
      row.push(...[...axes].map((axis) => written(own['xyz'.indexOf(axis)]!)));
      if (sized[node]) row.push(...[0, 1, 2].map((axis) => written(locals.scales[node * 3 + axis]!)));
    }
    lines.push(row.join(' '));
  }
  return `${lines.join('\n')}\n`;
}

/** Nodes that relations move or size though no channel of theirs does: they need channels for it. */
function placedElsewhere(shot: Shot, frames: Float64Array, locals: LocalTransforms) {
  const { nodes } = rigOf(shot);
  const [moved, sized] = [new Uint8Array(nodes.length), new Uint8Array(nodes.length)];
  if (shot.relations.length === 0) return { moved, sized };
  for (const frame of frames) {
    locals.at(frame);
    nodes.forEach(({ rest }, node) => {
      for (let axis = 0; axis < 3; axis += 1) {
        if (Math.abs(locals.translations[node * 3 + axis]! - rest.translation[axis]!) > SEEN) moved[node] = 1;
        if (Math.abs(locals.scales[node * 3 + axis]! - rest.scale[axis]!) > SEEN) sized[node] = 1;
      }
    });
  }
  return { moved, sized };
}

/** cm, and parts of a size: less than this is no move. */
const SEEN = 1e-7;

/** Nine places: a millionth of a hair, and no exponents, which some readers do not know. */
const written = (value: number) => {
  const text = value.toFixed(9).replace(/\.?0+$/, '');
  return text === '-0' ? '0' : text;
};

/** Whether a channel is keyed anywhere. */
function moves(shot: Shot, node: number, name: string): boolean {
  return [shot.curves, ...shot.layers.map(({ curves }) => curves)].some(
    (table) => (table[node]?.[name]?.times.length ?? 0) > 0,
  );
}
