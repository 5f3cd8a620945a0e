/**
 * An action: a piece of motion saved for use again. Curves as they are, no resampling; frames count from the
 * start of the action.
 */
import { z } from 'zod';
import { finding, InputError } from '../base/finding.ts';
import type { FrameRange } from '../base/frame-range.ts';
import type { Curve } from '../curve/curve.ts';
import { curveFromJson, curveSchema, curveToJson } from './parts/curve-json.ts';
import type { ChannelId } from './shot.ts';
import { describeProblem } from './describe-problem.ts';
import { boneSchema } from '../rig/skeleton.ts';

export const ACTION_VERSION = 1;

export const actionSchema = z.looseObject({
  format: z.literal('kneader-action'),
  version: z.literal(ACTION_VERSION),
  name: z.string().min(1),
  tags: z.array(z.string()),
  notes: z.string(),
  /** The shot that it was taken from. */
  source: z.string(),
  rate: z.object({ numerator: z.number().positive(), denominator: z.number().positive() }),
  /** Its length in frames; its keys lie in 0 … length. */
  length: z.number().min(0),
  /** Curves by channel address. */
  curves: z.record(z.string(), curveSchema),
  /** The joints of the character that it was taken from; by them it finds its way onto another. Older actions have none. */
  skeleton: z.object({ bones: z.array(boneSchema), facing: z.number() }).optional(),
  /** Nodes without a parent: their travel may be carried on. */
  roots: z.array(z.string()),
  /** What stands in it, frames from its start; older actions do not know. */
  contacts: z
    .array(
      z.object({
        node: z.string(),
        point: z.string().min(1),
        at: z.tuple([z.number(), z.number(), z.number()]),
        start: z.number(),
        end: z.number(),
      }),
    )
    .optional(),
  /** Of limbs that goals led: what moved them, and the curves of their joints as they showed, for figures without such goals. Older actions have none. */
  limbs: z
    .array(z.object({ controls: z.array(z.string()), joints: z.record(z.string(), curveSchema) }))
    .optional(),
});
export type ActionJson = z.infer<typeof actionSchema>;
export type LimbJson = NonNullable<ActionJson['limbs']>[number];

export interface Action {
  readonly json: ActionJson;
  readonly curves: ReadonlyMap<ChannelId, Curve>;
  readonly range: FrameRange;
}

/** Parses an action; throws an `InputError` that says what is wrong. */
export function readAction(value: unknown): Action {
  const parsed = actionSchema.safeParse(value);
  if (!parsed.success) throw new InputError(finding('badAction', {}, describeProblem(parsed.error)));
  const json = parsed.data;
  const curves = new Map(
    Object.entries(json.curves).map(([id, curve]) => [id, curveFromJson(curve, `curves[“${id}”]`)]),
  );
  return { json, curves, range: { start: 0, end: json.length } };
}

/**
 * The curves as joints alone show them: of limbs that goals led, the joints' own.
 * @param stays whether a limb is left to its goals
 */
export function curvesOfJoints(
  { json, curves }: Pick<Action, 'json' | 'curves'>,
  stays: (limb: LimbJson) => boolean = () => false,
): ReadonlyMap<ChannelId, Curve> {
  const led = (json.limbs ?? []).filter((limb) => !stays(limb));
  if (led.length === 0) return curves;
  const gone = new Set(led.flatMap(({ controls }) => controls));
  return new Map([
    ...[...curves].filter(([id]) => !gone.has(id.slice(0, id.lastIndexOf('.')))),
    ...led.flatMap(({ joints }) =>
      Object.entries(joints).map(([id, curve]) => [id, curveFromJson(curve, `limbs[“${id}”]`)] as const),
    ),
  ]);
}

/** The JSON of an action's curves. */
export function curvesToJson(
  curves: ReadonlyMap<ChannelId, Curve>,
): Record<string, ReturnType<typeof curveToJson>> {
  return Object.fromEntries([...curves].map(([id, curve]) => [id, curveToJson(curve)]));
}
