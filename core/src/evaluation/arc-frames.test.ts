import { expect, test } from '@jest/globals';
import { firstTray } from '../demo/first-tray.ts';
import { curve } from '../testing/shot-literals.ts';
import { withCurves } from '../document/shot.ts';
import { rigOf } from '../document/shot.ts';
import { arcFrames } from './arc-frames.ts';

const bare = { ...firstTray(), curves: [], layers: [] };

test('an arc has a bead on every frame that is keyed of its limb, however its blend stands, and none for what carries it', () => {
  const chain = rigOf(bare).chains.find(({ end }) => rigOf(bare).nodes[end]!.id === 'hand_l')!;
  const id = (i: number) => rigOf(bare).nodes[i]!.id;
  const keyed: [string, number][] = [
    ['hand_l.rx', 3],
    [`${id(chain.middle)}.rz`, 7],
    [`${id(chain.root)}.ry`, 11],
    [`${id(chain.target)}.ty`, 19],
    [`${id(chain.pole)}.tz`, 23],
    ['hips.ty', 29],
    ['hand_r.rx', 31],
  ];
  const curves = new Map(keyed.map(([channel, frame]) => [channel, curve([frame, 1, 40, 2])]));
  for (const ik of [0, 1]) {
    const shot = withCurves(bare, null, new Map([...curves, [`${id(chain.target)}.ik`, curve([37.4, ik])]]));
    expect(arcFrames(shot, null, 'hand_l')).toEqual([3, 7, 11, 19, 23, 37, 40]);
  }
  // A layer has beads of its own, and what is not there has none.
  const shot = withCurves(bare, null, curves);
  expect(arcFrames(shot, null, 'hips')).toEqual([29, 40]);
  expect(arcFrames(shot, 'no pass', 'hand_l')).toEqual([]);
  expect(arcFrames(shot, null, 'nobody')).toEqual([]);
});
