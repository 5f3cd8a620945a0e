/**
 * Curves from CSV as `write-csv.ts` writes it: the first column is `frame`, each other one a channel `node.channel`. A CSV has no rig: each
 * node is a control of its own at the origin. Columns of world transforms are no channels and are left out, which is said.
 */
import Papa from 'papaparse';
import { finding, refuse } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { LIMITS } from '../../base/limits.ts';
import { SEGMENT, TANGENT } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { buildCurve } from '../../curve/rebuild.ts';
import { AT_REST } from '../../rig/node.ts';
import type { Node } from '../../rig/node.ts';
import { pairNames, partOf } from '../../rig/sides.ts';
import { newShot, splitChannel } from '../../document/shot.ts';
import type { NodeCurves } from '../../layers/layer.ts';
import type { ReadResult } from '../bvh/read-bvh.ts';

const WORLD = /^(x|y|z|qx|qy|qz|qw)$/;
/** The rate that is taken, since a CSV says none. */
const RATE = { numerator: 24, denominator: 1 };

/** Reads a CSV; throws an `InputError` with the line of what is wrong. */
export function readCsv(text: string, name: string): ReadResult {
  const { data: rows } = Papa.parse<string[]>(text.trim(), { skipEmptyLines: 'greedy' });
  const head = (rows[0] ?? []).map((cell) => cell.trim().replace(/^'(?=[=+\-@])/, ''));
  if (head[0]?.toLowerCase() !== 'frame') refuse('csvHead', { line: 1 }, head[0] ?? '');
  const channels = head.slice(1).map((id, c) => ({ id, column: c + 1, ...splitChannel(id) }));
  const kept = channels.filter(({ name: channel }) => !WORLD.test(channel));
  for (const { id } of kept) if (!id.includes('.')) refuse('csvHead', { line: 1 }, id);
  if (kept.length === 0) refuse('csvHead', { line: 1 }, head[1] ?? '');
  if (new Set(kept.map(({ id }) => id)).size < kept.length) refuse('csvTwice', { line: 1 });
  if (rows.length < 2) refuse('bvhNoFrames', {});
  const table = rows.slice(1).map((cells, i) => {
    const line = i + 2;
    if (cells.length !== head.length) refuse('bvhRowLength', { line }, cells.length, head.length);
    return cells.map((cell) => {
      const value = cell.trim() === '' ? NaN : Number(cell);
      return Number.isFinite(value) ? value : refuse('bvhBadNumber', { line }, cell.slice(0, 24));
    });
  });
  table.forEach((row, i) => {
    if (i > 0 && !(row[0]! > table[i - 1]![0]!)) refuse('csvOrder', { line: i + 2 }, row[0]!);
  });
  const ids = [...new Set(kept.map(({ node }) => node))];
  if (ids.length > LIMITS.nodes) refuse('tooManyNodes', {}, ids.length, LIMITS.nodes);
  const pairs = pairNames(ids);
  const owned = new Map(ids.map((id): [string, typeof kept] => [id, []]));
  for (const one of kept) owned.get(one.node)!.push(one);
  const nodes = ids.map((id): Node => ({
    id,
    parent: null,
    kind: 'control',
    rest: AT_REST,
    order: 'xyz',
    channels: owned.get(id)!.map((one) => one.name),
    ...pairs.get(id)!,
    part: partOf(id),
    character: 'figure',
    solids: [],
  }));
  const curves = ids.map((id): NodeCurves =>
    Object.fromEntries(owned.get(id)!.map((one) => [one.name, curveOf(table, one.column)])),
  );
  const findings: Finding[] = [finding('csvRate', {}, RATE.numerator)];
  if (kept.length < channels.length) findings.push(finding('csvWorld', {}, channels.length - kept.length));
  const range = { start: Math.floor(table[0]![0]!), end: Math.ceil(table.at(-1)![0]!) };
  const shot = {
    ...newShot(name, nodes, [], RATE, range),
    characters: [{ id: 'figure', name: 'Figure' }],
    curves,
  };
  return { shot, findings };
}

/** A key for each row, straight between them. */
function curveOf(table: readonly (readonly number[])[], column: number): Curve {
  return buildCurve(table.length, (columns) => {
    table.forEach((row, i) => {
      columns.times[i] = row[0]!;
      columns.values[i] = row[column]!;
    });
    columns.segments.fill(SEGMENT.linear);
    columns.tangentsIn.fill(TANGENT.linear);
    columns.tangentsOut.fill(TANGENT.linear);
  });
}
