/** An edit on one channel must cost the same however many channels the shot has. */
import { AT_REST, buildCurve, newShot, NOTHING, runEdit, withCurves } from '@kneader/core';
import type { Node, Shot } from '@kneader/core';
import { median, timeOf } from './measure.ts';
import type { Row } from './measure.ts';

const CHANNELS = ['tx', 'ty', 'tz', 'rx', 'ry', 'rz', 'sx', 'sy', 'sz', 'a'];

function shotOf(nodes: number): Shot {
  const list = Array.from({ length: nodes }, (_, i): Node => ({
    id: `node ${i}`,
    parent: i === 0 ? null : `node ${(i - 1) >> 1}`,
    kind: 'control',
    rest: AT_REST,
    order: 'xyz',
    channels: CHANNELS,
    side: 'centre',
    pair: null,
    part: 'extra',
    character: null,
    solids: [],
  }));
  const curves = list.flatMap(({ id }) =>
    CHANNELS.map(
      (name, c) =>
        [
          `${id}.${name}`,
          buildCurve(200, (columns) =>
            columns.times.forEach(
              (_, i) => ((columns.times[i] = i), (columns.values[i] = Math.sin(i / 9 + c))),
            ),
          ),
        ] as const,
    ),
  );
  return withCurves(
    newShot('x', list, [], { numerator: 24, denominator: 1 }, { start: 0, end: 199 }),
    null,
    new Map(curves),
  );
}

export function oneEditRows(): Row[] {
  const [small, large] = [shotOf(5), shotOf(500)];
  const selection = { ...NOTHING, channels: ['node 3.ry'] };
  const edits: [string, object][] = [
    ['clean.thin', { measureSpace: false }],
    ['keys.move', { value: 1 }],
    ['keys.add', { frame: 7.5 }],
    ['tangents.set', { kind: 'flat' }],
  ];
  const ratios = edits.map(([id, options]) => {
    const run = (shot: Shot) => () => {
      for (let i = 0; i < 50; i += 1) runEdit(id, shot, selection, options);
    };
    run(small)();
    run(large)();
    return median(Array.from({ length: 9 }, () => timeOf(run(large)) / timeOf(run(small))));
  });
  const worst = Math.max(...ratios);
  return [
    {
      work: `one edit on one channel of 5,000 (${edits.map(([id]) => id).join(', ')})`,
      against: 'the same edit in a shot of 50 channels',
      measured: `${worst.toFixed(2)}× at worst`,
      toReach: '≤ 1.5×',
      reached: worst <= 1.5,
    },
  ];
}
