/** Steady in the camera: places in the picture, in pixels, under a moving camera whose lens changes; as its own steps say, and as step filters do. */
import { expect, test } from '@jest/globals';
import { AT_REST } from '../../rig/node.ts';
import { placeIn, worldAt } from '../../evaluation/evaluation.ts';
import { newShot, rigOf, withCurves, withLayer } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { bareNode as node, choose, curve, filter, RATE } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';

test('steady: between two steps every joint keeps its place in the picture, under a moving camera whose lens changes', () => {
  const nodes = [
    node('root', null, { rest: { ...AT_REST, translation: [10, 0, -20] } }),
    node('hand', 'root', { rest: { ...AT_REST, translation: [20, 90, 5] } }),
    node('camera', null, {
      kind: 'camera',
      rest: { ...AT_REST, translation: [0, 100, 300] },
      channels: ['tx', 'ty', 'tz', 'rx', 'ry', 'rz', 'fov'],
    }),
  ];
  const bare = newShot('Pan', nodes, [], RATE, { start: 0, end: 30 });
  const still = withCurves(
    bare,
    null,
    new Map([
      ['root.tx', curve([0, 0, 30, 80])],
      ['camera.tx', curve([0, -40, 30, 60])],
      ['camera.ry', curve([0, -9, 30, 12])],
      ['camera.fov', curve([0, 0, 30, 9])],
    ]),
  );
  const held = runEdit('spaces.steady', still, choose({ nodes: ['root'], range: { start: 8, end: 21 } }), {
    from: 'pattern',
    pattern: [2, 3],
    first: 1,
  }).shot;
  const pixels = (shot: Shot, frame: number, row: number): [number, number] => {
    const pose = worldAt(shot, frame);
    const [x, y, z] = inCamera(pose.matrices.subarray(32, 48), placeIn(pose, row));
    const fov = 35 + (9 * frame) / 30;
    const scale = 540 / (Math.tan((fov * Math.PI) / 360) * -z);
    return [x * scale, y * scale];
  };
  const steps = [6, 8, 11, 13, 16, 18, 21];
  for (let frame = 8; frame <= 21; frame += 1) {
    const step = steps.findLast((one) => one <= frame)!;
    for (const row of [0, 1]) {
      const [a, b] = [pixels(held, frame, row), pixels(held, step, row)];
      if (step >= 8) expect(Math.hypot(a[0] - b[0], a[1] - b[1])).toBeLessThan(0.01);
      if (frame === step)
        expect(placeIn(worldAt(held, frame), row)).toEqual(placeIn(worldAt(still, frame), row));
    }
  }
  for (const frame of [3, 7, 24, 25])
    expect(placeIn(worldAt(held, frame), 1)).toEqual(placeIn(worldAt(still, frame), 1));
  const gone = runEdit('spaces.remove', held, choose({}), {
    relation: held.relations[0]!.id,
    keep: false,
  }).shot;
  expect(gone.curves[0]).toEqual(still.curves[0]);
  expect(gone.nodes).toEqual(still.nodes);
});

/** A place in the world seen by a camera: its matrix is a turn and a place. */
function inCamera(m: Float64Array, [x, y, z]: readonly number[]): [number, number, number] {
  const [a, b, c] = [x! - m[12]!, y! - m[13]!, z! - m[14]!];
  return [0, 1, 2].map((axis) => m[axis * 4]! * a + m[axis * 4 + 1]! * b + m[axis * 4 + 2]! * c) as [
    number,
    number,
    number,
  ];
}

/** The shot of the test above, without relations. @param rows the root, the hand, the camera */
function pan(): Shot {
  const nodes = [
    node('root', null, { rest: { ...AT_REST, translation: [10, 0, -20] } }),
    node('hand', 'root', { rest: { ...AT_REST, translation: [20, 90, 5] } }),
    node('camera', null, {
      kind: 'camera',
      rest: { ...AT_REST, translation: [0, 100, 300] },
      channels: ['tx', 'ty', 'tz', 'rx', 'ry', 'rz', 'fov'],
    }),
    node('second', null, { kind: 'camera', rest: { ...AT_REST, translation: [0, 100, 300] } }),
  ];
  return withCurves(
    newShot('Pan', nodes, [], RATE, { start: 0, end: 30 }),
    null,
    new Map([
      ['root.tx', curve([0, 0, 30, 80])],
      ['hand.ry', curve([0, 0, 30, 200], 'linear')],
      ['camera.tx', curve([0, -40, 30, 60])],
      ['camera.ry', curve([0, -9, 30, 12])],
      ['camera.fov', curve([0, 0, 30, 9])],
      ['second.ty', curve([0, 0, 30, 70])],
    ]),
  );
}

function pixelsOf(shot: Shot, frame: number, row: number, camera: number): [number, number] {
  const pose = worldAt(shot, frame);
  const [x, y, z] = inCamera(pose.matrices.subarray(camera * 16, camera * 16 + 16), placeIn(pose, row));
  const fov = 35 + (camera === 2 ? pose.values![channelOf(shot, 'camera.fov')]! : 0);
  const scale = 540 / (Math.tan((fov * Math.PI) / 360) * -z);
  return [x * scale, y * scale];
}

/** How far the hand and the root stray in the picture from where they were on the step that `drawn` names. */
function strayed(
  shot: Shot,
  drawn: (frame: number) => number,
  frames: readonly number[],
  camera = 2,
): number {
  return Math.max(
    ...frames.flatMap((frame) =>
      [0, 1].map((row) => {
        const [a, b] = [pixelsOf(shot, frame, row, camera), pixelsOf(shot, drawn(frame), row, camera)];
        return Math.hypot(a[0] - b[0], a[1] - b[1]);
      }),
    ),
  );
}
const from = (start: number, end: number) => Array.from({ length: end - start + 1 }, (_, i) => start + i);

test('as step filters say, from the first frame of the range to its last, and as they say later when they are changed, muted or taken through time', () => {
  const twos = filter('step', ['root', 'hand'], { pattern: [2], first: 1 }, { id: 'twos' });
  const shot = { ...pan(), layers: [twos] };
  const range = { start: 8, end: 21 };
  const { shot: held, report } = runEdit('spaces.steady', shot, choose({ nodes: ['root'], range }), {});
  expect(report.findings.map(({ sentence }) => sentence)).toContain(
    'Held in the picture of camera, one of 2 cameras, between steps: root.',
  );
  const within = from(8, 21);
  const onTwos = (frame: number) => frame - ((((frame - 1) % 2) + 2) % 2);
  expect(strayed(shot, onTwos, within)).toBeGreaterThan(3);
  // The drawing of frame 8 began on 7, which is outside and is seen as it was.
  expect(strayed(held, onTwos, within)).toBeLessThan(0.01);
  for (const frame of [6, 7, 22, 23])
    expect(placeIn(worldAt(held, frame), 1)).toEqual(placeIn(worldAt(shot, frame), 1));
  // The channel that says whether it is held is stepped by nobody.
  const follow = held.relations[0]!.weight!;
  expect(worldAt(held, 22).values![channelOf(held, follow)]).toBe(0);
  expect(worldAt(held, 8).values![channelOf(held, follow)]).toBe(1);

  const threes = withLayer(held, 'twos', (was) => ({
    ...was,
    settings: { ...twos.settings, pattern: [3], first: 2 },
  }));
  expect(strayed(threes, (frame) => frame - ((frame - 2) % 3), within)).toBeLessThan(0.01);
  const last = withLayer(held, 'twos', (was) => ({
    ...was,
    settings: { ...twos.settings, pattern: [3], shows: 'last' },
  }));
  const base = withLayer(shot, 'twos', () => last.layers[0]!);
  for (const frame of within) expect(Number.isFinite(strayed(last, () => frame, [frame]))).toBe(true);
  expect(strayed(last, (frame) => frame - ((frame - 1) % 3) + 2, [13, 14, 15])).toBeLessThan(0.01);
  expect(strayed(base, (frame) => frame - ((frame - 1) % 3) + 2, [13, 14])).toBeGreaterThan(1);
  const muted = withLayer(held, 'twos', () => ({ ...held.layers[0]!, muted: true }));
  for (const frame of within)
    expect(placeIn(worldAt(muted, frame), 1)).toEqual(placeIn(worldAt(pan(), frame), 1));
  const like = withLayer(held, 'twos', () => ({
    ...held.layers[0]!,
    settings: { ...twos.settings, like: 'camera' },
  }));
  expect(strayed(like, () => 0, within)).toBeGreaterThan(0);
  const stretched = runEdit('timing.stretch', held, choose({}), { factor: 2, wholeFrames: false }).shot;
  const later = stretched.range.end > held.range.end ? 2 : 1;
  expect(
    strayed(
      stretched,
      (frame) => onTwos(frame / later) * later,
      [20, 22, 24, 26, 40].map((f) => (f * later) / 2),
    ),
  ).toBeLessThan(0.01);
});

test('in the picture of the camera that is named; a name that is none is refused with those that there are', () => {
  const twos = filter('step', ['root', 'hand'], { pattern: [2], first: 1 }, { id: 'twos' });
  const shot = { ...pan(), layers: [twos] };
  const held = runEdit('spaces.steady', shot, choose({ nodes: ['root'] }), { camera: 'second' }).shot;
  const onTwos = (frame: number) => (frame < 1 ? frame : frame - ((frame - 1) % 2));
  expect(strayed(held, onTwos, from(1, 30), 3)).toBeLessThan(0.01);
  const wrong = runEdit('spaces.steady', shot, choose({ nodes: ['root'] }), { camera: 'hand' });
  expect(wrong.report.findings[0]!.sentence).toBe(
    '“hand” is no camera of the shot; there are: camera, second.',
  );
});

const channelOf = (shot: Shot, id: string) => rigOf(shot).channels.findIndex((channel) => channel.id === id);

test('frames ahead of the first step belong to drawings too', () => {
  const held = runEdit('spaces.steady', pan(), choose({ nodes: ['root'] }), {
    ...{ from: 'pattern', pattern: [3, 2], first: 22 },
  }).shot;
  // Back from 22: 20, 17, 15, 12, 10, 7, 5, 2, 0.
  const begins = [0, 2, 5, 7, 10, 12, 15, 17, 20, 22, 25, 27, 30];
  const drawn = (frame: number) => begins.findLast((one) => one <= frame)!;
  expect(strayed(held, drawn, from(0, 30))).toBeLessThan(0.01);
});
