import { expect, test } from '@jest/globals';
import type { Objective } from '../../motion/minimise.ts';
import { puppet } from '../../testing/shot-literals.ts';
import { courseOf } from './refine-course.ts';
import type { Come, Stage } from './refine-course.ts';

const START = Float64Array.of(5, -3);
/** A bowl about a place; what it is asked first, and how often, is noted. */
function bowl(name: string, at: readonly number[], steps: number) {
  const asked: number[][] = [];
  const objective: Objective = {
    at(x, gradient) {
      asked.push([...x]);
      x.forEach((value, i) => (gradient[i] = 2 * (i + 1) * (value - at[i]!)));
      return 1 + x.reduce((sum, value, i) => sum + (i + 1) * (value - at[i]!) ** 2, 0);
    },
  };
  const stage: Stage = { name, steps, objective: () => objective };
  return { stage, asked };
}
function walked(plan: readonly Stage[], shot = puppet(), asked = 'asked'): { last: Come; came: Come[] } {
  const way = courseOf(shot, asked, START, plan);
  const came: Come[] = [];
  for (let step = way.next(); ; step = way.next()) {
    if (step.done) return { last: step.value, came };
    came.push(step.value);
  }
}

test('every stage weighs by what there was at first, and goes on from where the one before stopped', () => {
  const shot = puppet();
  const [one, two] = [bowl('one', [0, 0], 2), bowl('two', [9, 9], 3)];
  const { last, came } = walked([one.stage, two.stage], shot);
  expect([one.asked[0], two.asked[0]]).toEqual([[...START], [...START]]);
  expect(two.asked[1]).toEqual([...came[1]!.x]);
  expect([last.steps, last.costs.length, last.done]).toEqual([came.length, came.length + 1, 1]);
});

test('what is known is not asked again: on, and back; of another shot, or asked otherwise, everything is', () => {
  const shot = puppet();
  walked([bowl('one', [0, 0], 2).stage], shot);
  const back = bowl('one', [0, 0], 1);
  const { last, came } = walked([back.stage], { ...shot });
  expect([back.asked.length, came.length, last.steps]).toEqual([0, 0, 1]);
  const other = bowl('one', [0, 0], 1);
  walked([other.stage], { ...shot, name: 'Another' });
  expect(other.asked.length).toBeGreaterThan(1);
  const otherwise = bowl('one', [0, 0], 1);
  walked([otherwise.stage], { ...shot, name: 'Another' }, 'other ends');
  expect(otherwise.asked.length).toBeGreaterThan(1);
});
