/** What goes out and comes in again, what is said of the rest, and how long odd files may take. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { InputError } from '../base/finding.ts';
import { LIMITS } from '../base/limits.ts';
import { FLAG, LEADS, SEGMENT } from '../curve/curve.ts';
import { evaluate } from '../curve/evaluate.ts';
import { rebuild } from '../curve/rebuild.ts';
import { placeIn, worldAt } from '../evaluation/evaluation.ts';
import { withCurves, rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { anyCurve } from '../testing/arbitrary-curves.ts';
import { nightRound } from '../demo/night-round.ts';
import { curve, puppet } from '../testing/shot-literals.ts';
import { lostInBvh } from './bvh/lost-in-bvh.ts';
import { writeBvh } from './bvh/write-bvh.ts';
import { writeCsv } from './csv/write-csv.ts';
import { writeGlb } from './gltf/write-gltf.ts';
import { rateOfFrameTime, rateOfTimes } from './rate.ts';
import { readFile } from './read-file.ts';
import { writeShotFile } from './shot-file/write-shot.ts';
import { textOf } from './text-of.ts';
import { uniqueNames } from '../base/unique-names.ts';

const utf8 = (text: string) => new TextEncoder().encode(text);
const text = (name: string, body: string) => readFile(name, utf8(body));
const refusalOf = async (name: string, body: string | Uint8Array, options = {}) => {
  try {
    await readFile(name, typeof body === 'string' ? utf8(body) : body, options);
  } catch (error) {
    if (error instanceof InputError) return error.finding;
    throw error;
  }
  throw new Error('it was read');
};

/** The greatest distance between two shots' nodes over quarter frames, cm. */
function apart(a: Shot, b: Shot, frames: readonly number[]): number {
  let most = 0;
  for (const frame of frames) {
    const [x, y] = [worldAt(a, frame), worldAt(b, frame)];
    for (const { id } of a.nodes) {
      const [p, q] = [placeIn(x, rigOf(a).indexOf(id)), placeIn(y, rigOf(b).indexOf(id))];
      most = Math.max(most, Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]));
    }
  }
  return most;
}
const quarters = Array.from({ length: 97 }, (_, i) => i / 4);

describe('rates', () => {
  test.each([
    [24, 1],
    [25, 1],
    [48, 1],
    [90, 1],
    [100, 1],
    [240, 1],
    [1000, 1],
    [30000, 1001],
    [24000, 1001],
  ])(
    '%d/%d is found from single-precision key times, and from a frame time of seven digits',
    (numerator, denominator) => {
      const rate = { numerator, denominator };
      const times = Float32Array.from({ length: 130 }, (_, frame) => (frame * denominator) / numerator);
      expect(rateOfTimes(times)).toMatchObject({ rate, fits: true });
      expect(rateOfFrameTime(Number((denominator / numerator).toFixed(7)))).toEqual(rate);
    },
  );

  test('a rate that nobody uses is found too; times on no frames, and on frames of several, are told', () => {
    const odd = Float32Array.from({ length: 80 }, (_, frame) => frame / 37);
    expect(rateOfTimes(odd)).toMatchObject({ rate: { numerator: 37, denominator: 1 }, fits: true });
    expect(rateOfTimes([0, 0.137, 0.291, 0.7003, 1.11117]).fits).toBe(false);
    expect(rateOfTimes([0, 1, 2]).rivals.length).toBeGreaterThan(0);
    expect(rateOfTimes(Float32Array.from({ length: 40 }, (_, i) => i / 24)).rivals).toEqual([]);
  });

  test('late in a long shot single precision leaves thousandths of a frame open', () => {
    const late = Float32Array.from({ length: 60 }, (_, frame) => 900 + frame / 240);
    expect(rateOfTimes(late)).toMatchObject({ rate: { numerator: 240, denominator: 1 }, fits: true });
  });

  test('a frame that lasts 3,000 seconds is a rate still', () => {
    expect(rateOfFrameTime(3000)).toEqual({ numerator: 1, denominator: 3000 });
  });
});

describe('glTF there and back', () => {
  test('the curves’ own keys: what is shown at quarter frames is what was, holds are holds', async () => {
    await fc.assert(
      fc.asyncProperty(
        anyCurve({ flowing: true }),
        anyCurve({}),
        anyCurve({ flowing: true }),
        async (x, z, turn) => {
          const held = rebuild(z, null, (columns) => columns.segments.fill(SEGMENT.stepped));
          const before = {
            ...puppet({ 'hips.tx': x, 'hips.tz': x, 'hand_l.ty': held, 'arm_l.rz': turn, 'arm_r.ry': held }),
            rate: { numerator: 100, denominator: 1 },
            range: { start: -2, end: 24 },
          };
          const { shot: after } = await readFile('a.glb', await writeGlb(before));
          expect([after.rate, after.range]).toEqual([before.rate, before.range]);
          expect(apart(before, after, quarters)).toBeLessThan(0.06);
        },
      ),
      { numRuns: 25, seed: 5 },
    );
  });

  test('repeats and slopes past the keys, locked keys, a locked channel: what is shown within the shot', async () => {
    await fc.assert(
      fc.asyncProperty(
        anyCurve({ flowing: true, whole: true }),
        fc.constantFrom(...LEADS),
        fc.constantFrom(...LEADS),
        fc.nat(2),
        async (one, leadIn, leadOut, count) => {
          const led = { ...one, leadIn, leadOut, leadInCount: count, leadOutCount: count };
          const locked = rebuild(led, null, (columns) => (columns.flags[1]! |= FLAG.locked));
          const before = {
            ...puppet({ 'hips.tx': locked, 'arm_l.rz': led, 'arm_r.ty': led }),
            locked: ['arm_r.ty'],
            range: { start: -7, end: 90 },
          };
          const { shot: after } = await readFile('a.glb', await writeGlb(before));
          // Where a repeat does not meet, it is drawn over a sixty-fourth of a frame; looked at beside that.
          const frames = Array.from({ length: 120 }, (_, i) => -7 + i * 0.8125);
          const scale = 1 + Math.max(...frames.map((frame) => Math.abs(evaluate(led, frame)))) / 100;
          expect(apart(before, after, frames)).toBeLessThan(0.1 * scale);
        },
      ),
      { numRuns: 40, seed: 8 },
    );
  });

  test('a cubic keeps its keys and tangents, a hold its steps, whatever stands beside them', async () => {
    const move = curve([0, 0, 7, 30, 19, -12, 24, 5]);
    const hold = rebuild(curve([0, 0, 9, 40, 24, 10]), null, (columns) =>
      columns.segments.fill(SEGMENT.stepped),
    );
    const { shot } = await readFile('a.glb', await writeGlb(puppet({ 'hips.tx': move, 'hand_l.tz': hold })));
    const rows = rigOf(shot);
    const tx = shot.curves[rows.indexOf('hips')]!['tx']!;
    expect([...tx.times]).toEqual([...move.times]);
    for (let row = 0; row < 4; row += 1) expect(tx.slopesOut[row]).toBeCloseTo(move.slopesOut[row]!, 4);
    const tz = shot.curves[rows.indexOf('hand_l')]!['tz']!;
    expect([...tz.times]).toEqual([0, 9, 24]);
    expect([8.99, 9].map((frame) => Math.round(evaluate(tz, frame)))).toEqual([0, 40]);
  });

  test('limbs that reach, and what turns with them: every node lies and is turned as it was, on every frame', async () => {
    const before = nightRound();
    const { shot: after } = await readFile('a.glb', await writeGlb(before));
    const rows = before.nodes.map(({ id }) => [rigOf(before).indexOf(id), rigOf(after).indexOf(id)] as const);
    for (let frame = before.range.start; frame <= before.range.end; frame += 1) {
      const [x, y] = [worldAt(before, frame), worldAt(after, frame)];
      for (const [i, j] of rows) {
        const dot = [0, 1, 2, 3].reduce((sum, k) => sum + x.turns[i * 4 + k]! * y.turns[j * 4 + k]!, 0);
        expect([before.nodes[i]!.id, frame, 1 - Math.abs(dot) < 1e-5]).toEqual([
          before.nodes[i]!.id,
          frame,
          true,
        ]);
      }
    }
    expect(apart(before, after, [0, 3, 7, 16])).toBeLessThan(0.05);
  });

  test('a hold under a pass, which must be sampled, is no ramp', async () => {
    const hold = rebuild(curve([0, 0, 9, 80, 24, 10]), null, (columns) =>
      columns.segments.fill(SEGMENT.stepped),
    );
    const mixed = rebuild(
      curve([0, 0, 9, 80, 12, 10, 24, 5]),
      null,
      (columns) => (columns.segments[0] = SEGMENT.stepped),
    );
    for (const tx of [hold, mixed]) {
      const before = puppet({ 'hips.tx': tx, 'hips.ty': curve([0, 0, 5.5, 3, 24, 1], 'linear') });
      const { shot } = await readFile('a.glb', await writeGlb(before));
      // The key between two frames is there.
      expect(apart(before, shot, [5.5])).toBeLessThan(0.01);
      expect(apart(before, shot, [1, 4.25, 8, 8.75, 8.97, 9, 9.5])).toBeLessThan(0.25);
    }
  });
});

test('a glTF without motion has no rate to be unsure of', async () => {
  expect((await text('a.gltf', gltf({}))).findings).toEqual([]);
});

describe('BVH and CSV there and back', () => {
  test('BVH: every node is where it was, on every frame', async () => {
    const before = puppet({
      'hips.tx': curve([0, 0, 12, 30, 24, 0]),
      'hips.ry': curve([0, 0, 24, 200]),
      'arm_l.rz': curve([0, 0, 24, 90]),
      'hand_r.tx': curve([0, 0, 24, 7]),
    });
    const { shot } = await text('a.bvh', writeBvh(before));
    expect(apart(before, shot, [0, 1, 7, 13, 24])).toBeLessThan(1e-6);
    expect(shot.rate).toEqual(before.rate);
  });

  test('BVH: keys between frames are counted and said, whatever frame the shot begins on', () => {
    const keys = { 'hips.tx': curve([0.5, 0, 7, 30, 20.25, 0]), 'arm_l.rz': curve([0, 5, 24, 90]) };
    const sentences = (shot: Shot) =>
      lostInBvh(shot).flatMap(({ code, sentence }) => (code === 'bvhOnFrames' ? [sentence] : []));
    expect(sentences(puppet(keys))).toEqual([expect.stringContaining('2 keys between frames')]);
    expect(sentences({ ...puppet(keys), range: { start: 0.5, end: 24.5 } })).toEqual([
      expect.stringContaining('4 keys between frames'),
    ]);
    expect(sentences(puppet({ 'arm_l.rz': curve([0, 5, 24, 90]) }))).toEqual([]);
  });

  test('BVH: what rests larger, or mirrored, does so still', async () => {
    const plain = puppet({ 'hips.ry': curve([0, 0, 24, 200]), 'arm_l.sy': curve([0, 1, 24, 2]) });
    const before = {
      ...plain,
      nodes: plain.nodes.map((node) =>
        node.id === 'arm_l'
          ? {
              ...node,
              channels: [...node.channels, 'sy'],
              rest: { ...node.rest, scale: [2, 0.5, -1] as const },
            }
          : node,
      ),
    };
    const { shot } = await text('a.bvh', writeBvh(before));
    expect(apart(before, shot, [0, 7, 24])).toBeLessThan(1e-6);
    expect(evaluate(shot.curves[1]!['sz']!, 3)).toBe(-1);
  });

  test('CSV: every channel has its values again', async () => {
    const before = puppet({ 'hips.tx': curve([0, 0, 12, 30, 24, 0]), 'arm_l.rz': curve([0, 5, 24, 90]) });
    const frames = [0, 1.5, 3, 24];
    const out = writeCsv(before, { frames, channels: ['hips.tx', 'arm_l.rz'], world: ['hand_l'] });
    const { shot, findings } = await text('a.csv', out);
    const rig = rigOf(shot);
    for (const [node, channel, curveBefore] of [
      ['hips', 'tx', before.curves[0]!['tx']!],
      ['arm_l', 'rz', before.curves[1]!['rz']!],
    ] as const)
      for (const frame of frames)
        expect(evaluate(shot.curves[rig.indexOf(node)]![channel]!, frame)).toBe(evaluate(curveBefore, frame));
    expect(findings.map(({ code }) => code).sort()).toEqual(['csvRate', 'csvWorld']);
  });

  test('CSV: nothing is written as 0, from whichever side it came; a name that begins with a minus is no sum', () => {
    const [first, ...others] = puppet({ 'hips.tx': curve([0, -0]) }).nodes;
    const shot = {
      ...puppet({ 'hips.tx': curve([0, -0]) }),
      nodes: [
        { ...first!, id: '-1' },
        ...others.map((one) => ({ ...one, parent: one.parent === 'hips' ? '-1' : one.parent })),
      ],
    };
    expect(writeCsv(shot, { frames: [-0], channels: ['-1.tx'], world: [] })).toBe("frame,'-1.tx\n0,0\n");
  });

  test('glTF: a size and how it changes are those of the file’s own unit, whatever a joint’s rest is', async () => {
    const sized = puppet();
    const before = withCurves(
      {
        ...sized,
        nodes: sized.nodes.map((node) =>
          node.id === 'arm_l'
            ? {
                ...node,
                channels: [...node.channels, 'sx', 'sy', 'sz'],
                rest: { ...node.rest, scale: [2, 0.5, 3] as const },
              }
            : node,
        ),
      },
      null,
      new Map([
        ['arm_l.sx', curve([0, 1, 12, 1.6, 24, 0.7])],
        ['arm_l.sy', curve([0, 1, 12, 0.5, 24, 2])],
        ['arm_l.sz', curve([0, 1, 12, 1.2, 24, 1.1])],
      ]),
    );
    const { shot } = await readFile('a.glb', await writeGlb(before));
    expect(apart(before, shot, quarters)).toBeLessThan(1e-3);
  });

  test('a name that a spreadsheet would run is written as text', () => {
    const [first, ...others] = puppet().nodes;
    const shot = {
      ...puppet(),
      nodes: [
        { ...first!, id: '=1+2' },
        ...others.map((one) => ({ ...one, parent: one.parent === 'hips' ? '=1+2' : one.parent })),
      ],
    };
    expect(writeCsv(shot, { frames: [0], channels: ['=1+2.tx'], world: [] }).split('\n')[0]).toBe(
      "frame,'=1+2.tx",
    );
  });

  test.each([
    ['no frame', 'time,hips.tx\n0,1', /must name “frame”/, 1],
    ['no channel', 'frame,hips\n0,1', /says “hips”/, 1],
    ['a word', 'frame,hips.tx\n0,1\n1,one', /“one” is not a number/, 3],
    ['a short row', 'frame,hips.tx\n0', /has 1 values/, 2],
    ['frames that fall', 'frame,hips.tx\n4,1\n3,1', /does not come after/, 3],
    ['a channel twice', 'frame,hips.tx,hips.tx\n4,1,2', /names a channel twice/, 1],
  ])('a CSV with %s is refused with the line', async (_, body, words, line) => {
    const { sentence, where } = await refusalOf('a.csv', body);
    expect(sentence).toMatch(words);
    expect(where.line).toBe(line);
  });
});

const SMALL = `HIERARCHY
ROOT Hüfte
{
  OFFSET 0 0 0
  CHANNELS 4 Xposition Yposition Zposition Xscale
  End Site
  {
  }
}
MOTION
Frames: 2
Frame Time: 0.04
1 2 3 4
5 6 7 8
`;

describe('BVH of other makes', () => {
  test.each<[string, Uint8Array]>([
    ['UTF-8', utf8(SMALL)],
    ['lines ended by CR alone', utf8(SMALL.replaceAll('\n', '\r'))],
    [
      'UTF-16',
      Uint8Array.from([
        0xff,
        0xfe,
        ...new Uint8Array(Uint16Array.from(SMALL, (l) => l.charCodeAt(0)).buffer),
      ]),
    ],
    ['Latin-1', Uint8Array.from(SMALL, (letter) => letter.charCodeAt(0))],
    [
      'remarks',
      utf8(SMALL.replace('MOTION', '# a remark\nMOTION // another').replace('5 6', '# third\n5 6')),
    ],
    ['rows that go on on the next line', utf8(SMALL.replace('1 2 3 4', '1 2\n3\n4'))],
  ])('%s', async (_, bytes) => {
    const { shot } = await readFile('a.bvh', bytes);
    expect(shot.nodes[0]!.id).toBe('Hüfte');
    expect(shot.nodes[0]!.channels).toEqual(['tx', 'ty', 'tz', 'sx']);
    expect(['tx', 'ty', 'tz', 'sx'].map((name) => [...shot.curves[0]![name]!.values])).toEqual([
      [1, 5],
      [2, 6],
      [3, 7],
      [4, 8],
    ]);
  });

  test('a channel that stands twice in other letters is refused with its line', async () => {
    const { sentence, where } = await refusalOf('a.bvh', SMALL.replace('Yposition', 'XPosition'));
    expect([sentence, where.line]).toEqual(['The joint lists the channel “XPosition” twice.', 5]);
  });

  test('a frame of 3,000 seconds can be stored and opened again; an offset of 1e308 is refused', async () => {
    const { shot } = await text('a.bvh', SMALL.replace('0.04', '3000'));
    expect((await text('a.kneader.json', writeShotFile(shot))).shot.rate).toEqual({
      numerator: 1,
      denominator: 3000,
    });
    expect((await refusalOf('a.bvh', SMALL.replace('OFFSET 0', 'OFFSET 1e308'))).sentence).toMatch(
      /nodes\[0\]\.rest/,
    );
  });
});

test('text that says its form is read in it', () => {
  expect(textOf(Uint8Array.of(0xfe, 0xff, 0, 65, 0, 66))).toBe('AB');
  expect(textOf(Uint8Array.of(0xef, 0xbb, 0xbf, 65))).toBe('A');
});

/** A glTF document of these nodes. */
const gltf = (more: object) => JSON.stringify({ asset: { version: '2.0' }, nodes: [{ name: 'a' }], ...more });

describe('glTF that asks for more', () => {
  test.each([
    ['../../secret.bin', 'gltfFarResource'],
    ['/dev/zero', 'gltfFarResource'],
    ['file:///etc/passwd', 'gltfFarResource'],
    ['..%2f..%2fsecret.bin', 'gltfFarResource'],
    ['%E0%A4%A', 'gltfBroken'],
  ])('a buffer called %s is not looked for', async (uri, code) => {
    let asked = false;
    const neighbour = () => {
      asked = true;
      return Promise.resolve(null);
    };
    const found = await refusalOf('a.gltf', gltf({ buffers: [{ uri, byteLength: 4 }] }), { neighbour });
    expect([found.code, asked]).toEqual([code, false]);
  });

  test('what is not known is refused where it is needed; what is kept in the file is counted kind by kind', async () => {
    expect((await refusalOf('a.gltf', gltf({ extensionsRequired: ['EXT_lights_ies'] }))).sentence).toMatch(
      /needs EXT_lights_ies/,
    );
    const { findings, holds } = await text(
      'a.gltf',
      gltf({
        extensionsRequired: ['KHR_materials_unlit'],
        extensionsUsed: ['KHR_materials_unlit'],
        nodes: [
          { name: 'a', extras: { x: 1 } },
          { name: 'a', scale: [1, 0, 1] },
          { matrix: [1, 0, 0, 0, 0.5, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1] },
        ],
        cameras: [{ type: 'perspective', perspective: { yfov: 1, znear: 1 } }],
        materials: [{}],
        meshes: [{ primitives: [] }],
      }),
    );
    const said = findings.map(({ sentence }) => sentence).join('\n');
    for (const words of [/sheared.*node 3/, /scale of 0.*a 2/, /names of their own.*a 2/])
      expect(said).toMatch(words);
    expect(holds).toEqual([
      ['meshes', 1],
      ['materials', 1],
      ['cameras', 1],
    ]);
  });
});

const deepNotes = async () => {
  const deep = `${'{"a":'.repeat(5000)}1${'}'.repeat(5000)}`;
  const found = await refusalOf('a.kneader.json', writeShotFile(puppet()).replace('{', `{"notes":${deep},`));
  expect(found.code).toBe('tooDeep');
  return found;
};

describe('size', () => {
  const COUNT = LIMITS.nodes;

  test.each<[string, () => Promise<unknown>]>([
    [
      'twenty thousand nodes with children first, one below the other',
      () =>
        text(
          'a.gltf',
          gltf({
            nodes: Array.from({ length: COUNT }, (_, i) => ({
              name: `n${i}`,
              ...(i > 0 && { children: [i - 1] }),
            })),
          }),
        ),
    ],
    [
      'twenty thousand equal names',
      () => text('a.gltf', gltf({ nodes: Array.from({ length: COUNT }, () => ({ name: 'joint' })) })),
    ],
    [
      'a hundred thousand nodes',
      () => refusalOf('a.gltf', gltf({ nodes: Array.from({ length: 100_000 }, () => ({})) })),
    ],
    ['objects five thousand deep', deepNotes],
    [
      'a range that ends at a thousand million',
      () => refusalOf('a.kneader.json', writeShotFile(puppet()).replace('"end":24', '"end":1000000000')),
    ],
    [
      'a channel called __proto__',
      () =>
        refusalOf(
          'a.kneader.json',
          writeShotFile(puppet()).replace('"channels":["tx"', '"channels":["__proto__"'),
        ),
    ],
  ])('%s: read, or refused, and come to an end', async (_, run) => {
    // What took from 46 seconds to for ever: no clock is held against it but the one with which Jest gives a test up.
    await expect(run()).resolves.toBeDefined();
  });

  test('names that stand twice are numbered, each once', () => {
    const names = uniqueNames(['a', 'a', 'a 2', 'a', ' ', 'b']);
    expect(names).toEqual(['a', 'a 2', 'a 2 2', 'a 3', 'node 5', 'b']);
    expect(new Set(names).size).toBe(6);
  });
});
