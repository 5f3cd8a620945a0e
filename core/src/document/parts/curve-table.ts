/** Curves by channel: in a file by address, in memory in a table beside the nodes. */
import { z } from 'zod';
import { refuse } from '../../base/finding.ts';
import { curvesIn, splitChannel } from '../shot.ts';
import type { CurveTable, NodeCurves } from '../../layers/layer.ts';
import { curveFromJson, curveSchema, curveToJson } from './curve-json.ts';
import type { CurveJson } from './curve-json.ts';
import { heldCurve } from './part.ts';
import type { Around } from './part.ts';

export const curvesByAddress = z.record(z.string(), curveSchema).describe('By channel address, node.channel');

export const heldTable = z.array(z.record(z.string(), heldCurve).optional());

/** @param at where it stands in the file, for refusals */
export function readTable(
  curves: Readonly<Record<string, CurveJson>>,
  { nodes, indexOf }: Around,
  at: string,
): CurveTable {
  const table: (Record<string, NodeCurves[string]> | undefined)[] = [];
  for (const [id, curve] of Object.entries(curves)) {
    const path = `${at}["${id}"]`;
    const { node, name } = splitChannel(id);
    const row = indexOf(node);
    if (row < 0 || !nodes[row]!.channels.includes(name)) {
      return refuse('badDocument', { path, channel: id }, path, 'there is no such channel');
    }
    (table[row] ??= {})[name] = curveFromJson(curve, path);
  }
  return table;
}

export function writeTable(table: CurveTable, { nodes }: Pick<Around, 'nodes'>): Record<string, CurveJson> {
  return Object.fromEntries([...curvesIn(table, nodes)].map(([id, curve]) => [id, curveToJson(curve)]));
}
