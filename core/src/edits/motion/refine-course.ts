/**
 * The course of a refinement: stage after stage, each with its own objective, from where the one before stopped. What was worked out is kept for as long as the next
 * one begins alike: to go on, to step back, or to turn a weight on the way then costs nothing but what is new. The answer is the same without it.
 */
import { dequal } from 'dequal/lite';
import type { Shot } from '../../document/shot.ts';
import { minimise } from '../../motion/minimise.ts';
import type { Minimum, Objective } from '../../motion/minimise.ts';

export interface Stage {
  /** What it goes by; stages of the same name are the same. */
  readonly name: string;
  readonly steps: number;
  readonly objective: () => Objective;
}

interface Walked {
  readonly name: string;
  readonly from: Float64Array;
  readonly start: number;
  readonly states: Minimum[];
  readonly rest: Iterator<Minimum, unknown, void>;
  isDone: boolean;
}

/** Numbers that are kept at most: of longer courses the beginning is worked out anew. */
const MOST_KEPT = 4e6;
/** Steps that a stage can have. */
export const MOST_STEPS = 1000;

let known: { readonly shot: Shot; readonly asked: string; readonly stages: Walked[] } | null = null;

export interface Come {
  readonly x: Float64Array;
  /** What each step of all stages cost, as part of what the stage began with; its first is 1. */
  readonly costs: readonly number[];
  readonly steps: number;
  /** Of all the steps that were asked for. */
  readonly done: number;
}

/** @param asked what else the course depends on @yields what stands after each step */
export function* courseOf(
  shot: Shot,
  asked: string,
  start: Float64Array,
  plan: readonly Stage[],
): Generator<Come, Come, void> {
  const kept = known && known.asked === asked && dequal(known.shot, shot) ? known.stages : [];
  const stages: Walked[] = [];
  known = { shot, asked, stages };
  const all = plan.reduce((sum, { steps }) => sum + steps, 0);
  const costs: number[] = [1];
  let come: Come = { x: start, costs, steps: 0, done: 0 };
  let isSame = true;
  let before = 0;
  for (const [i, { name, steps, objective }] of plan.entries()) {
    const found = kept[i];
    isSame &&= found !== undefined && found.name === name && equal(found.from, come.x);
    const walked = isSame ? found! : begun(name, come.x, start, objective());
    stages.push(walked);
    const level = costs.at(-1)!;
    for (let step = 0; step < steps; step += 1) {
      const isKnown = step < walked.states.length;
      if (!isKnown && !further(walked)) break;
      const { x, value } = walked.states[step]!;
      costs.push(walked.start > 0 ? (level * value) / walked.start : level);
      come = { x, costs: [...costs], steps: come.steps + 1, done: (before + step + 1) / all };
      if (!isKnown) yield come;
    }
    before += steps;
  }
  if (stages.reduce((sum, { states }) => sum + states.length * start.length, 0) > MOST_KEPT) known = null;
  return come;
}

function begun(name: string, from: Float64Array, start: Float64Array, objective: Objective): Walked {
  const none = new Float64Array(from.length);
  // Shares are parts of what there was at first, wherever the stage begins.
  objective.at(start, none);
  return {
    ...{ name, from, states: [], isDone: false },
    start: objective.at(from, none),
    rest: minimise(objective, from, { steps: MOST_STEPS }),
  };
}

function further(walked: Walked): boolean {
  if (walked.isDone) return false;
  const { done, value } = walked.rest.next();
  if (done) walked.isDone = true;
  else walked.states.push(value);
  return !done;
}

const equal = (a: Float64Array, b: Float64Array) =>
  a.length === b.length && a.every((value, i) => value === b[i]);
