/**
 * A shot from the JSON of a shot file: parsed with Zod, then checked for what a schema cannot say (names that
 * point nowhere, circles, curves whose columns do not fit).
 */
import { refuse } from '../../base/finding.ts';
import { problemOf } from '../../shot/describe-problem.ts';
import { curveFromJson } from '../../shot/curve-json.ts';
import type { CurveJson } from '../../shot/curve-json.ts';
import { SHOT_VERSION, shotSchema } from '../../shot/schema.ts';
import type { ShotJson } from '../../shot/schema.ts';
import { rigOf, splitChannel } from '../../shot/shot.ts';
import type { CurveTable, NodeCurves, Shot } from '../../shot/shot.ts';
import { readJson } from '../read-json.ts';

const KNOWN = new Set(Object.keys(shotSchema.shape));

export function readShotFile(text: string): Shot {
  return shotFromJson(readJson(text));
}

/** The shot of a parsed document; throws an `InputError` that names the place. */
export function shotFromJson(document: unknown): Shot {
  const head = document as { format?: unknown; version?: unknown } | null;
  if (typeof head !== 'object' || head === null || head.format !== 'kneader-shot')
    return refuse('notAShotFile', {});
  if (typeof head.version === 'number' && head.version > SHOT_VERSION) {
    return refuse('newerVersion', { path: 'version' }, head.version, SHOT_VERSION);
  }
  const parsed = shotSchema.safeParse(document);
  if (!parsed.success) {
    const { path, words } = problemOf(parsed.error);
    return refuse('badDocument', { path }, path || 'the top', words);
  }
  return build(parsed.data);
}

function build(json: ShotJson): Shot {
  checkNames(json);
  const { name, rate, range, characters, nodes, chains, locked, poseColumns } = json;
  const rows = new Map(nodes.map((node, row) => [node.id, row]));
  const shot: Shot = {
    name,
    rate,
    range,
    characters,
    nodes,
    chains,
    locked,
    ...(poseColumns && { poseColumns }),
    curves: readTable(json.curves, json, rows, 'curves'),
    passes: json.passes.map((pass, i) => ({
      ...pass,
      weight: curveFromJson(pass.weight, `passes[${i}].weight`),
      curves: readTable(pass.curves, json, rows, `passes[${i}].curves`),
    })),
    extras: Object.fromEntries(Object.entries(json).filter(([field]) => !KNOWN.has(field))),
  };
  // Compiling finds circles.
  rigOf(shot);
  return shot;
}

function readTable(
  curves: Record<string, CurveJson>,
  json: ShotJson,
  rows: ReadonlyMap<string, number>,
  at: string,
): CurveTable {
  const table: (Record<string, NodeCurves[string]> | undefined)[] = [];
  for (const [id, curve] of Object.entries(curves)) {
    const path = `${at}["${id}"]`;
    const { node, name } = splitChannel(id);
    const row = rows.get(node);
    if (row === undefined || !json.nodes[row]!.channels.includes(name)) {
      return refuse('badDocument', { path, channel: id }, path, 'there is no such channel');
    }
    (table[row] ??= {})[name] = curveFromJson(curve, path);
  }
  return table;
}

/** Every name must point at something, and no two nodes may share one. */
function checkNames(json: ShotJson): void {
  const wrong = (path: string, problem: string): never => refuse('badDocument', { path }, path, problem);
  if (json.range.end < json.range.start) wrong('range', 'it ends before it starts');
  const ids = new Set<string>();
  json.nodes.forEach((node, i) => {
    if (ids.has(node.id)) wrong(`nodes[${i}].id`, `“${node.id}” stands twice`);
    ids.add(node.id);
    if (Math.abs(Math.hypot(...node.rest.rotation) - 1) > 1e-3)
      wrong(`nodes[${i}].rest.rotation`, 'its length is not 1');
    if (new Set(node.channels).size < node.channels.length)
      wrong(`nodes[${i}].channels`, 'a name stands twice');
  });
  const known = (path: string, id: string | null) => {
    if (id !== null && !ids.has(id)) wrong(path, `there is no node “${id}”`);
  };
  json.nodes.forEach((node, i) => {
    known(`nodes[${i}].parent`, node.parent);
    known(`nodes[${i}].pair`, node.pair);
  });
  json.chains.forEach((chain, i) => {
    for (const part of ['root', 'middle', 'end', 'target', 'pole'] as const)
      known(`chains[${i}].${part}`, chain[part]);
    known(`chains[${i}].tip.joint`, chain.tip?.joint ?? null);
    known(`chains[${i}].tip.follows`, chain.tip?.follows ?? null);
  });
  json.passes.forEach((pass, i) =>
    pass.members.forEach((member, m) => known(`passes[${i}].members[${m}]`, member)),
  );
  const passIds = json.passes.map((pass) => pass.id);
  if (new Set(passIds).size < passIds.length) wrong('passes', 'two passes share an id');
  json.passes.forEach((pass, i) => {
    if (pass.weight.times.length === 0) wrong(`passes[${i}].weight`, 'it has no key');
  });
}
