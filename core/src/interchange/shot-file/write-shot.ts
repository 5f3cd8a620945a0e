/** A shot as the JSON of a shot file. */
import { curveToJson } from '../../shot/curve-json.ts';
import type { CurveJson } from '../../shot/curve-json.ts';
import { SHOT_VERSION } from '../../shot/schema.ts';
import type { ShotJson } from '../../shot/schema.ts';
import { curvesIn } from '../../shot/shot.ts';
import type { CurveTable, Shot } from '../../shot/shot.ts';
import type { Node } from '../../rig/node.ts';

/** The document of a shot; fields that a file brought and Kneader does not know are in it again. */
export function shotToJson(shot: Shot): ShotJson {
  const { extras, curves, passes, ...known } = shot;
  // The document's lists are readonly and Zod's inferred ones are not: the same data.
  return {
    ...extras,
    format: 'kneader-shot',
    version: SHOT_VERSION,
    ...known,
    curves: tableToJson(curves, shot.nodes),
    passes: passes.map((pass) => ({
      ...pass,
      weight: curveToJson(pass.weight),
      curves: tableToJson(pass.curves, shot.nodes),
    })),
  } as unknown as ShotJson;
}

export function writeShotFile(shot: Shot): string {
  return `${JSON.stringify(shotToJson(shot))}\n`;
}

function tableToJson(table: CurveTable, nodes: readonly Node[]): Record<string, CurveJson> {
  return Object.fromEntries([...curvesIn(table, nodes)].map(([id, curve]) => [id, curveToJson(curve)]));
}
