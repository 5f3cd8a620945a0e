/** Actions and placements as tests write them. */
import { assert } from '../base/assert.ts';
import type { Curve } from '../curve/curve.ts';
import { ACTION_VERSION, curvesToJson } from '../document/action.ts';
import type { ActionJson } from '../document/action.ts';
import type { ChannelId, Shot } from '../document/shot.ts';
import type { Outcome } from '../edits/edit.ts';
import { runEdit } from '../edits/run-edit.ts';
import type { Layer, LayerRange } from '../layers/layer.ts';
import type { PlacementSettings } from '../layers/placements/placement-settings.ts';
import { choose, curve } from './shot-literals.ts';

/** An action of curves that is called One, 24 frames a second. */
export const actionOf = (
  curves: Readonly<Record<ChannelId, Curve>>,
  length: number,
  more: Partial<ActionJson> = {},
): ActionJson => ({
  ...{ format: 'kneader-action', version: ACTION_VERSION, name: 'One', tags: [], notes: '' },
  ...{ source: 'a test', rate: { numerator: 24, denominator: 1 }, length, roots: ['hips'] },
  curves: curvesToJson(new Map(Object.entries(curves))),
  ...more,
});

/** Ten frames in which the puppet goes half a metre ahead and turns by so many degrees. */
export const walkOf = (turn: number, name: string): ActionJson =>
  actionOf(
    {
      'hips.tx': curve([0, 0, 10, 4]),
      'hips.tz': curve([0, 0, 10, 50]),
      'hips.ry': curve([0, 0, 10, turn]),
    },
    10,
    { name },
  );

/** Runs an edit whose options must be understood. */
export function run(shot: Shot, edit: string, options: object, selection = choose({})): Outcome {
  const result = runEdit(edit, shot, selection, options);
  const [wrong] = result.report.findings.filter(({ code }) => code === 'badOption');
  assert(wrong === undefined, `${edit}: ${wrong?.sentence}`);
  return result;
}

/** A shot with an action placed without ramps. */
export const placed = (shot: Shot, action: object, frame: number, more: object = {}): Shot =>
  run(shot, 'actions.place', { action, frame, rampIn: 0, rampOut: 0, ...more }).shot;

/** A placement by its place in the stack; the last when left out. */
export const block = (shot: Shot, i = -1) =>
  shot.layers.at(i)! as Layer & { range: LayerRange; settings: PlacementSettings };

export const codes = ({ report }: Outcome): string[] => report.findings.map(({ code }) => code);
