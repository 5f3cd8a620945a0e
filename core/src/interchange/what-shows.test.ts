/**
 * Root: what goes out is what shows. A reader that knows nothing of Kneader (three's loaders and mixer, from the npm registry) sees each node where the
 * shot shows it, at fifths of frames, or the loss is named with its size.
 */
import { describe, expect, test } from '@jest/globals';
import { AnimationMixer, LoopOnce } from 'three';
import type { Object3D } from 'three';
import { GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { seededRandom } from '../base/random.ts';
import { decomposed } from '../math/decompose.ts';
import { SEGMENT } from '../curve/curve.ts';
import { rebuild } from '../curve/rebuild.ts';
import { worldAt } from '../evaluation/evaluation.ts';
import { worldDifference } from '../evaluation/measure.ts';
import { framesPerSecond, rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { DEMO_SHOTS } from '../demo/bakery.ts';
import { randomRig } from '../testing/random-rigs.ts';
import { choose, curve, filter, pass } from '../testing/shot-literals.ts';
import { done, follower, last, targetsFor } from '../testing/spaces.ts';
import { FORMATS, formatOf } from './formats.ts';
import { readFile } from './read-file.ts';
import { lostToShear } from './lost.ts';

/** World matrices of a `.glb` at a frame, cm. */
async function inThree(shot: Shot, bytes: Uint8Array) {
  const { scene, animations } = await new GLTFLoader().parseAsync(bytes.slice().buffer, '');
  const mixer = new AnimationMixer(scene);
  if (animations[0]) {
    const action = mixer.clipAction(animations[0]).setLoop(LoopOnce, 1);
    action.clampWhenFinished = true;
    action.play();
    action.paused = false;
  }
  const byName = new Map<string, Object3D>();
  scene.traverse((object) => byName.set((object.userData as { name?: string }).name ?? object.name, object));
  const matrices = new Float64Array(shot.nodes.length * 16);
  return (frame: number) => {
    for (const clip of animations) mixer.existingAction(clip)!.paused = false;
    mixer.setTime((frame - shot.range.start) / framesPerSecond(shot.rate));
    scene.updateMatrixWorld(true);
    shot.nodes.forEach(({ id }, row) => {
      matrices.set(byName.get(id)!.matrixWorld.elements, row * 16);
      for (let k = 12; k < 15; k += 1) matrices[row * 16 + k]! *= 100;
    });
    return matrices;
  };
}

/** Fifths of the shot's frames, but for those within a sixteenth of a jump, and every nth. */
const looks = ({ range: { start, end } }: Shot, every = 1) =>
  Array.from({ length: Math.floor(((end - start) * 5) / every) + 1 }, (_, i) => start + (i * every) / 5);

async function seenIn(shot: Shot, every = 1) {
  const other = await inThree(shot, (await formatOf('x.glb')!.write(shot)) as Uint8Array);
  return worldDifference(rigOf(shot), (frame) => worldAt(shot, frame).matrices, other, looks(shot, every));
}

describe('the polar part', () => {
  test('orientation and sizes come back from what they make, mirrored ones too', () => {
    const { next: random } = seededRandom(5);
    for (let i = 0; i < 200; i += 1) {
      const q = [random() - 0.5, random() - 0.5, random() - 0.5, random() - 0.5];
      const length = Math.hypot(...q);
      const [x, y, z, w] = q.map((part) => part / length) as [number, number, number, number];
      const scale = [0.2 + 2 * random(), 0.2 + 2 * random(), (0.2 + 2 * random()) * (i % 2 === 0 ? 1 : -1)];
      const axes = [
        ...[1 - 2 * (y * y + z * z), 2 * (x * y + z * w), 2 * (x * z - y * w)],
        ...[2 * (x * y - z * w), 1 - 2 * (x * x + z * z), 2 * (y * z + x * w)],
        ...[2 * (x * z + y * w), 2 * (y * z - x * w), 1 - 2 * (x * x + y * y)],
      ].map((part, k) => part * scale[Math.floor(k / 3)]!);
      const [a, b, c, d, e, f, g, h, j] = axes;
      const found = decomposed(
        [a!, b!, c!, 0, d!, e!, f!, 0, g!, h!, j!, 0, 0, 0, 0, 1],
        [1, 1, i % 2 === 0 ? 1 : -1],
      )!;
      found.scale.forEach((size, axis) => expect(size).toBeCloseTo(scale[axis]!, 9));
      const dot = found.turn.reduce((sum, part, k) => sum + part * [x, y, z, w][k]!, 0);
      expect(Math.abs(dot)).toBeCloseTo(1, 12);
      expect(found.shear).toBeLessThan(1e-9);
    }
  });

  test('what is flat has none', () => {
    expect(decomposed([1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1])).toBeNull();
  });
});

describe('a .glb in a second reader', () => {
  test.each([1, 2, 3, 4, 5, 6])(
    'a control that follows others and the world in turns, rig %i',
    async (seed) => {
      const { shot, relation } = follower(seed);
      const keyed = done(shot, 'spaces.switch', { relation: relation.id, to: 2, frame: 12 });
      const { place, turn } = await seenIn(keyed);
      expect([place.amount < 0.05, turn.amount < 0.2]).toEqual([true, true]);
      expect(lostToShear(keyed)).toEqual([]);
    },
  );

  test.each(['position', 'orientation', 'aim'])('relation %s', async (kind) => {
    const rig = randomRig(4);
    const [a] = targetsFor(rig);
    const shot = done(rig, 'spaces.add', { kind, targets: [a], frame: 5 }, choose({ nodes: [last(rig)] }));
    const { place, turn } = await seenIn(shot);
    expect([place.amount < 0.05, turn.amount < 0.2]).toEqual([true, true]);
  });

  test.each([7, 8, 9])(
    'under uneven sizes: as near as can be said, and the rest is, rig %i',
    async (seed) => {
      const { shot } = follower(seed, {}, true);
      const { place } = await seenIn(shot);
      const [said] = lostToShear(shot);
      // What is said is what the reader sees, but for the export's own tolerance.
      const mm = Number(/up to ([\d.]+) mm/.exec(said?.sentence ?? '0 up to 0 mm')![1]);
      expect(Math.abs(place.amount * 10 - mm)).toBeLessThan(1);
    },
  );

  test('a limb that stretches beyond its reach', async () => {
    const night = DEMO_SHOTS.find(({ id }) => id === 'night-round')!.make();
    const relations = night.relations.map((one) => ({
      ...one,
      settings: { ...one.settings, stretch: true },
    }));
    const far = pass('far', { members: ['hips'], curves: [] });
    const row = rigOf(night).indexOf('hips');
    const curves: (typeof far.curves)[number][] = [];
    curves[row] = { ty: curve([0, 0, 8, 60]) };
    const shot: Shot = { ...night, relations, layers: [{ ...far, curves: Array.from(curves) }] };
    const { place, turn } = await seenIn(shot, 3);
    expect([place.amount < 0.1, turn.amount < 0.3]).toEqual([true, true]);
  });

  test('the tray handed over in Oven door, and the same steady in the camera', async () => {
    const oven = DEMO_SHOTS.find(({ id }) => id === 'oven-door')!.make();
    const { place, turn } = await seenIn(oven, 7);
    expect([place.amount < 0.1, turn.amount < 0.3]).toEqual([true, true]);
  });

  test('steps, twos and a spring over moving nodes; a pass that begins at once', async () => {
    const rig = randomRig(11, 3);
    const stepped = rebuild(curve([0, 0, 9, 30, 17, -20]), null, (c) => c.segments.fill(SEGMENT.stepped));
    const shot: Shot = {
      ...rig,
      layers: [
        filter('step', ['n0'], { pattern: [2, 3] }),
        filter('spring', ['n1'], { frequency: 3 }),
        pass('late', {
          members: ['n2'],
          range: { start: 6, end: 15 },
          curves: [undefined, undefined, { tx: stepped }],
        }),
      ],
    };
    const { place, turn } = await seenIn(shot);
    expect([place.amount < 0.05, turn.amount < 0.2]).toEqual([true, true]);
  });
});

test('BVH: rows are what shows on frames, relations and all', async () => {
  const { shot } = follower(3);
  const { shot: back } = await readFile(
    'x.bvh',
    new TextEncoder().encode((await formatOf('x.bvh')!.write(shot)) as string),
  );
  const rows = shot.nodes.map(({ id }) => rigOf(back).indexOf(id));
  const matrices = new Float64Array(shot.nodes.length * 16);
  const { place, turn } = worldDifference(
    rigOf(shot),
    (frame) => worldAt(shot, frame).matrices,
    (frame) => {
      const there = worldAt(back, frame).matrices;
      rows.forEach((row, i) => matrices.set(there.subarray(row * 16, row * 16 + 16), i * 16));
      return matrices;
    },
    looks(shot, 5),
  );
  expect([place.amount < 1e-6, turn.amount < 1e-6]).toEqual([true, true]);
});

test('BVH: what lies between frames is measured before', () => {
  const rig = randomRig(2);
  const codes = formatOf('x.bvh')!
    .lost(rig)
    .map(({ code }) => code);
  expect(codes).toContain('exportOnFrames');
});

test('a shot that loses nothing has nothing to say but in tables', () => {
  const still = { ...randomRig(2), curves: [] };
  const said = FORMATS.map(({ ending, lost }) => [ending, lost(still).length]);
  expect(said).toEqual([
    ['.kneader.zip', 0],
    ['.kneader.json', 0],
    ['.bvh', 0],
    ['.glb', 0],
    ['.vrm', 0],
    ['.gltf', 0],
    ['.csv', 1],
    ['.zip', 0],
  ]);
});
