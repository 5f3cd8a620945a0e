/** Rotation orders and keys through glTF and back: as they were, unless somebody has changed what the tracks say. */
import { describe, expect, test } from '@jest/globals';
import { NodeIO } from '@gltf-transform/core';
import { seededRandom } from '../../base/random.ts';
import { FLAG, LEADS, SEGMENT, TANGENT } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { buildCurve } from '../../curve/rebuild.ts';
import { placeIn, worldAt } from '../../evaluation/evaluation.ts';
import { keyCount, newShot, withCurves } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { EULER_ORDERS } from '../../math/euler.ts';
import type { Quaternion } from '../../math/euler.ts';
import { angleBetween, unit } from '../../math/quaternion.ts';
import { AT_REST } from '../../rig/node.ts';
import { openData } from '../../testing/open-data.ts';
import { bareNode, curve, RATE } from '../../testing/shot-literals.ts';
import { readBvh } from '../bvh/read-bvh.ts';
import { readGltf } from './read-gltf.ts';
import { writeGlb, writeGltfText } from './write-gltf.ts';

/** A chain of four in all orders, with keys of all kinds, between frames and outside the range. */
function seededShot(seed: number): Shot {
  const { next } = seededRandom(seed);
  const pick = <One>(list: readonly One[]): One => list[Math.floor(next() * list.length)]!;
  const names = ['tx', 'ty', 'tz', 'rx', 'ry', 'rz', 'sx', 'sy', 'sz'];
  const nodes = ['a', 'b', 'c', 'd'].map((id, i, all) =>
    bareNode(id, i === 0 ? null : all[i - 1]!, {
      order: pick(EULER_ORDERS),
      channels: names,
      rest: {
        ...AT_REST,
        translation: [0, 20, 3],
        rotation: unit([next() - 0.5, next() - 0.5, next() - 0.5, 1]),
      },
    }),
  );
  const made = new Map<string, Curve>();
  for (const { id } of nodes)
    for (const name of names) {
      // A part of a turn may have no keys.
      if (next() < 0.4) continue;
      const size = name.startsWith('r') ? 150 : name.startsWith('t') ? 40 : 0.4;
      const base = name.startsWith('s') ? 1 : 0;
      let at = -6 + 8 * next();
      const columns = buildCurve(3 + Math.floor(next() * 4), (given) => {
        for (let k = 0; k < given.times.length; k += 1) {
          // JSON knows no nought below nought.
          given.times[k] = at = 0 + Math.round((at + 2 + next() * 9) * pick([1, 1, 3])) / pick([1, 1, 3]);
          at = given.times[k]!;
          given.values[k] = base + (next() - 0.5) * size;
          given.segments[k] = pick([SEGMENT.cubic, SEGMENT.cubic, SEGMENT.linear, SEGMENT.stepped]);
          given.tangentsIn[k] = given.tangentsOut[k] = pick([
            TANGENT.smooth,
            TANGENT.steady,
            TANGENT.flat,
            TANGENT.free,
          ]);
          given.slopesIn[k] = given.slopesOut[k] = (next() - 0.5) * size * 0.1;
          if (next() < 0.2) {
            given.flags[k] = FLAG.weightedOut;
            given.lengthsOut[k] = 1.5;
          }
        }
      });
      made.set(`${id}.${name}`, { ...columns, leadIn: pick(LEADS), leadOut: pick(LEADS) });
    }
  return withCurves(newShot('Keys', nodes, [], RATE, { start: 0, end: 24 }), null, made);
}

describe('keys and rotation orders', () => {
  test('of 24 seeded shots come back as they were, by both kinds of glTF', async () => {
    let keys = 0;
    for (let seed = 1; seed <= 24; seed += 1) {
      const shot = seededShot(seed);
      const bytes =
        seed % 2 === 0 ? await writeGlb(shot) : new TextEncoder().encode(await writeGltfText(shot));
      const { shot: back, findings } = await readGltf(bytes, 'Keys');
      expect([seed, findings]).toEqual([seed, []]);
      expect(back.nodes.map(({ order }) => order)).toEqual(shot.nodes.map(({ order }) => order));
      expect([seed, back.curves]).toEqual([seed, shot.curves]);
      keys += keyCount(shot);
    }
    expect(keys).toBeGreaterThan(1000);
  });

  test('what somebody has changed is what the tracks say, and is said; the other nodes keep theirs', async () => {
    const shot = withCurves(
      newShot('Two', [bareNode('a', null, { order: 'zxy' }), bareNode('b', 'a')], [], RATE, {
        start: 0,
        end: 24,
      }),
      null,
      new Map([
        ['a.rx', curve([0, 0, 10, 50, 24, 10])],
        ['b.tx', curve([0, 0, 24, 9])],
      ]),
    );
    const document = await new NodeIO().readBinary(await writeGlb(shot));
    const channel = document
      .getRoot()
      .listAnimations()[0]!
      .listChannels()
      .find((one) => one.getTargetNode()!.getName() === 'a')!;
    const output = channel.getSampler()!.getOutput()!;
    // A tenth of a degree at one key, in a tangent alone.
    const numbers = Float32Array.from(output.getArray() as Float32Array);
    numbers[4] = numbers[4]! + 0.05;
    output.setArray(numbers);
    const { shot: back, findings } = await readGltf(await new NodeIO().writeBinary(document), 'Two');
    expect(findings.map(({ code }) => code)).toContain('gltfKeysChanged');
    expect(back.curves[0]).not.toEqual(shot.curves[0]);
    expect(back.curves[1]).toEqual(shot.curves[1]);
    expect(back.nodes[0]!.order).toBe('zxy');
    // At another rate, which was asked for, there is nothing to say.
    const bytes = await writeGlb(shot);
    const slower = await readGltf(bytes, 'Two', { rate: { numerator: 12, denominator: 1 } });
    expect(slower.findings.map(({ code }) => code)).not.toContain('gltfKeysChanged');
    expect(slower.shot.nodes[0]!.order).toBe('zxy');
    // Who is called otherwise now has no keys beside itself.
    const renamed = await new NodeIO().readBinary(bytes);
    renamed.getRoot().listNodes()[1]!.setName('c');
    const other = await readGltf(await new NodeIO().writeBinary(renamed), 'Two');
    expect(other.findings.map(({ sentence }) => sentence)).toEqual([
      expect.stringMatching(/^The motion of b was changed, or its name,/),
    ]);
    expect(other.shot.curves[0]).toEqual(shot.curves[0]);
  });

  test('a loop whose ends differ, a swing of holds, keys a hair apart: the file shows what the shot shows, between frames too', async () => {
    const keyed = {
      loop: { ...curve([2, 0, 9, 30]), leadOut: 'loop' as const },
      swing: {
        ...curve([1, 5, 6, 25, 11, -8]),
        segments: new Uint8Array(3).fill(SEGMENT.stepped),
        leadOut: 'swing' as const,
      },
      near: { ...curve([0, 0, 12, 20, 12.00001, 24, 24, 2], 'linear'), segments: new Uint8Array(4).fill(1) },
    };
    for (const [name, own] of Object.entries(keyed)) {
      for (const channel of ['tx', 'ry']) {
        const shot = withCurves(
          newShot('One', [bareNode('a', null)], [], RATE, { start: 0, end: 24 }),
          null,
          new Map([[`a.${channel}`, own]]),
        );
        const bytes = await writeGlb(shot);
        const { findings } = await readGltf(bytes, 'x');
        expect([name, channel, findings]).toEqual([name, channel, []]);
        // As a reader has it that knows nothing of what stands beside.
        const document = await new NodeIO().readBinary(bytes);
        document.getRoot().setExtras({});
        const bare = await readGltf(await new NodeIO().writeBinary(document), 'x', { rate: RATE });
        for (let frame = 0.13; frame < 24; frame += 0.61) {
          const [was, now] = [shot, bare.shot].map((one) => worldAt(one, frame));
          expect([name, frame, Math.abs(placeIn(was!, 0)[0] - placeIn(now!, 0)[0]) < 0.02]).toEqual([
            name,
            frame,
            true,
          ]);
          const turned = angleBetween(
            [...was!.turns.subarray(0, 4)] as Quaternion,
            [...now!.turns.subarray(0, 4)] as Quaternion,
          );
          expect([name, frame, turned < 0.1]).toEqual([name, frame, true]);
        }
      }
    }
  });

  test('a key that was moved in a sampled track is what the track says', async () => {
    const wobbly = { ...curve([0, 0, 6, 40, 11, -20, 24, 0]), leadOut: 'hold' as const };
    const mixed = {
      ...wobbly,
      segments: Uint8Array.from([SEGMENT.cubic, SEGMENT.linear, SEGMENT.cubic, SEGMENT.cubic]),
    };
    const shot = withCurves(
      newShot('One', [bareNode('a', null)], [], RATE, { start: 0, end: 24 }),
      null,
      new Map([['a.tx', mixed]]),
    );
    const document = await new NodeIO().readBinary(await writeGlb(shot));
    const output = document.getRoot().listAnimations()[0]!.listSamplers()[0]!.getOutput()!;
    const numbers = Float32Array.from(output.getArray() as Float32Array);
    // Two tenths of a millimetre at one sample.
    numbers[9] = numbers[9]! + 0.0002;
    output.setArray(numbers);
    const { findings } = await readGltf(await new NodeIO().writeBinary(document), 'x');
    expect(findings.map(({ code }) => code)).toEqual(['gltfKeysChanged']);
  });

  test('what stands there and is no curve of ours is said, and the tracks are read', async () => {
    const shot = seededShot(3);
    const json = JSON.parse(await writeGltfText(shot)) as {
      extras: { kneader: { nodes: { curves: Record<string, { times: number[] }> }[] } };
    };
    const { curves } = json.extras.kneader.nodes[0]!;
    curves[Object.keys(curves)[0]!]!.times.push(3);
    const bytes = new TextEncoder().encode(JSON.stringify(json));
    const { shot: back, findings } = await readGltf(bytes, 'x');
    expect(findings.map(({ code }) => code)).toContain('gltfKeysChanged');
    for (const frame of [0, 7.25, 13, 24]) {
      const [was, now] = [worldAt(shot, frame), worldAt(back, frame)];
      for (const [row] of shot.nodes.entries())
        placeIn(was, row).forEach((cm, axis) => expect(placeIn(now, row)[axis]).toBeCloseTo(cm, 0));
    }
  });

  test('captured motion takes no more room for it', async () => {
    const shot = readBvh(new TextDecoder().decode(openData('BVH/01_01.bvh')), '01_01').shot;
    const bytes = await writeGlb(shot);
    expect(new TextDecoder().decode(bytes)).not.toContain('"curves"');
    const { shot: back } = await readGltf(bytes, '01_01');
    expect(back.nodes.map(({ order }) => order)).toEqual(shot.nodes.map(({ order }) => order));
  });
});
