import { expect, test } from '@jest/globals';
import { minimise } from './minimise.ts';
import type { Minimum, Objective } from './minimise.ts';

function run(objective: Objective, from: number[], steps: number): { values: number[]; last: Minimum } {
  const work = minimise(objective, Float64Array.from(from), { steps, least: 0 });
  const values: number[] = [];
  for (let step = work.next(); ; step = work.next()) {
    if (step.done) return { values, last: step.value };
    values.push(step.value.value);
  }
}

// Rosenbrock 1960: the least is 0 at (1, 1), from (−1.2, 1).
test('finds the least in Rosenbrock’s valley, and never goes up', () => {
  const { values, last } = run(
    {
      at: ([x, y], gradient) => {
        gradient[0] = -2 * (1 - x!) - 400 * x! * (y! - x! * x!);
        gradient[1] = 200 * (y! - x! * x!);
        return (1 - x!) ** 2 + 100 * (y! - x! * x!) ** 2;
      },
    },
    [-1.2, 1],
    200,
  );
  expect(last.x[0]).toBeCloseTo(1, 6);
  expect(last.x[1]).toBeCloseTo(1, 6);
  for (let k = 1; k < values.length; k += 1) expect(values[k]).toBeLessThanOrEqual(values[k - 1]!);
});

test('where there is nothing to gain it stays to the bit', () => {
  const { last } = run({ at: ([x], gradient) => ((gradient[0] = 0), 5 + 0 * x!) }, [0.3], 10);
  expect([last.x[0], last.steps]).toEqual([0.3, 10]);
});

test('a kink, and a slope that lies, end it without going up', () => {
  const { values, last } = run(
    { at: ([x], gradient) => ((gradient[0] = x! > 0 ? 1 : -1), Math.abs(x!)) },
    [0.7],
    50,
  );
  expect(last.value).toBeLessThanOrEqual(0.7);
  for (let k = 1; k < values.length; k += 1) expect(values[k]).toBeLessThanOrEqual(values[k - 1]!);
  const liar = run({ at: ([x], gradient) => ((gradient[0] = -1), x! * x!) }, [2], 20);
  expect(liar.last.value).toBeLessThanOrEqual(4);
});
