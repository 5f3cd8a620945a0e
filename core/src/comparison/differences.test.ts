/** How far two shots are from each other, against places and turns that are known. */
import { describe, expect, test } from '@jest/globals';
import Papa from 'papaparse';
import { Matrix4, Quaternion, Vector3 } from 'three';
import { seededRandom } from '../base/random.ts';
import { DEMO_SHOTS } from '../demo/bakery.ts';
import { rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { valuesAt, worldAt } from '../evaluation/evaluation.ts';
import { curve, puppet } from '../testing/shot-literals.ts';
import { alignedAt } from './alignment.ts';
import { contactsCompared, differencesOf, greatestOf, keysCompared, spacingOf } from './differences.ts';
import { pairedNodes, shownSize } from './paired.ts';
import { writeDifferences } from './write-differences.ts';

const demo = (id: string) => DEMO_SHOTS.find((one) => one.id === id)!.make();
const compared = (a: Shot, b: Shot, from: 'world' | 'middle' = 'world', offset = 0) => {
  const paired = pairedNodes(a, b);
  return differencesOf(a, b, paired, alignedAt(a, b, a.range.start, a.range.start + offset), a.range, from);
};

describe('differences', () => {
  test('of a shot and itself are none', () => {
    const shot = demo('oven-door');
    const { mm, degrees, names } = compared(shot, shot);
    expect(names).toEqual(shot.nodes.map(({ id }) => id));
    expect(Math.max(...mm, ...degrees)).toBe(0);
    expect(keysCompared(shot, shot)).toEqual([]);
  });

  test('are those of the world matrices, by an independent library', () => {
    const { next: random } = seededRandom(5);
    const a = demo('kneading-loop');
    const curves = a.curves.map((row) =>
      Object.fromEntries(
        Object.entries(row ?? {}).map(([name, one]) => [
          name,
          {
            ...one,
            values: one.values.map((value) => value + (name.startsWith('s') ? 0 : 4 * random() - 2)),
          },
        ]),
      ),
    );
    const b: Shot = { ...a, curves };
    const { frames, mm, degrees } = compared(a, b);
    for (const f of [0, 7, 19])
      a.nodes.forEach((_, row) => {
        const [p, q] = [a, b].map((shot) => {
          const place = new Vector3();
          const turn = new Quaternion();
          new Matrix4()
            .fromArray(worldAt(shot, frames[f]!).matrices, row * 16)
            .decompose(place, turn, new Vector3());
          return { place, turn };
        }) as [{ place: Vector3; turn: Quaternion }, { place: Vector3; turn: Quaternion }];
        expect(mm[row * frames.length + f]).toBeCloseTo(10 * p.place.distanceTo(q.place), 2);
        expect(degrees[row * frames.length + f]).toBeCloseTo((p.turn.angleTo(q.turn) * 180) / Math.PI, 2);
      });
  });

  test('name the joint and the frame where most is', () => {
    const a = puppet({ 'hips.tx': curve([0, 0, 24, 0]) });
    const b = puppet({ 'hips.tx': curve([0, 0, 12, 3, 24, 0]) });
    const found = compared(a, b);
    const { amount, joint, at } = greatestOf(found, found.mm);
    expect(amount).toBeCloseTo(30, 4);
    expect([found.names[joint], found.frames[at]]).toEqual(['hips', 12]);
  });

  test('from the middle of the joints leave out where somebody stands', () => {
    const a = puppet({ 'hips.tx': curve([0, 0, 24, 10]), 'arm_l.rz': curve([0, 0, 24, 40]) });
    const b = {
      ...a,
      nodes: a.nodes.map((node) =>
        node.parent === null ? { ...node, rest: { ...node.rest, translation: [50, 0, -20] as const } } : node,
      ),
    };
    expect(Math.max(...compared(a, b).mm)).toBeGreaterThan(500);
    expect(Math.max(...compared(a, b, 'middle').mm)).toBeLessThan(1e-3);
  });

  test('of a figure of other names and twice the size are none where it does the same', () => {
    const a = demo('night-round');
    const b: Shot = {
      ...a,
      relations: [],
      layers: [],
      nodes: a.nodes.map((node) => ({
        ...node,
        id: `other:${node.id}`,
        parent: node.parent && `other:${node.parent}`,
        pair: node.pair && `other:${node.pair}`,
        rest: {
          ...node.rest,
          translation: node.rest.translation.map((x) => 2 * x) as [number, number, number],
        },
      })),
      curves: a.curves.map((row) =>
        Object.fromEntries(
          Object.entries(row ?? {}).map(([name, one]) => [
            name,
            name.startsWith('t')
              ? {
                  ...one,
                  values: one.values.map((v) => 2 * v),
                  slopesIn: one.slopesIn.map((v) => 2 * v),
                  slopesOut: one.slopesOut.map((v) => 2 * v),
                }
              : one,
          ]),
        ),
      ),
    };
    const plain = { ...a, relations: [], layers: [] };
    const paired = pairedNodes(plain, b);
    expect(paired.isMapped).toBe(true);
    const figure = paired.pairs.filter(({ character }) => character !== null);
    expect(figure.length).toBeGreaterThan(20);
    expect(figure[0]!.scale).toBeCloseTo(0.5, 6);
    expect(shownSize(paired)).toBe(figure[0]!.scale);
    expect(shownSize({ pairs: [] })).toBe(1);
    const { mm } = differencesOf(plain, b, { ...paired, pairs: figure }, alignedAt(plain, b, 0, 0));
    expect(Math.max(...mm)).toBeLessThan(0.01);
  });

  test('axes that lie otherwise at rest are no difference', () => {
    const a = puppet({ 'hips.ry': curve([0, 0, 24, 50]) });
    const turned = (id: string, rest: (typeof a.nodes)[number]['rest']) =>
      id === 'hand_l' ? { ...rest, rotation: [0.5, 0.5, 0.5, 0.5] as const } : rest;
    const b = { ...a, nodes: a.nodes.map((node) => ({ ...node, rest: turned(node.id, node.rest) })) };
    expect(Math.max(...compared(a, b).degrees)).toBeLessThan(1e-4);
  });

  test('a character without a node changes nothing', () => {
    const a = {
      ...puppet({}),
      characters: [
        { id: 'nobody', name: 'Nobody' },
        { id: 'puppet', name: 'Puppet' },
      ],
    };
    expect(pairedNodes(a, puppet({})).isMapped).toBe(false);
    expect(pairedNodes(a, puppet({})).pairs).toHaveLength(5);
  });

  test('who has no partner is named', () => {
    const a = puppet({});
    const b = {
      ...a,
      nodes: a.nodes.filter(({ id }) => id !== 'arm_l'),
      curves: a.curves.filter((_, i) => a.nodes[i]!.id !== 'arm_l'),
    };
    const { aloneInA, aloneInB } = pairedNodes(a, b);
    expect(aloneInA).toContain('arm_l');
    expect(aloneInB).toEqual([]);
    expect(pairedNodes(b, a).aloneInB).toContain('arm_l');
  });

  test('a second that has ended stays as it ended', () => {
    const a = puppet({ 'hips.ty': curve([0, 0, 24, 24]) });
    const b = { ...a, range: { start: 0, end: 6 } };
    const { beside, mm, names, frames } = compared(a, b);
    expect(beside[24]).toBe(6);
    expect(mm[names.indexOf('hips') * frames.length + 24]).toBeCloseTo(180, 3);
  });

  test('as a table read by another reader are the numbers that were found', () => {
    const a = puppet({ 'arm_l.rz': curve([0, 0, 24, 30]) });
    const b = puppet({ 'arm_l.rz': curve([0, 0, 24, 60]) });
    const found = compared(a, b);
    const { data, errors } = Papa.parse<Record<string, string>>(writeDifferences(found), {
      header: true,
      skipEmptyLines: true,
    });
    expect(errors).toEqual([]);
    expect(data).toHaveLength(25);
    expect(Number(data[24]!['arm_l.degrees'])).toBeCloseTo(30, 3);
    expect(data[12]!['beside']).toBe('12');
  });
});

describe('keys, contacts, spacing', () => {
  test('channels whose keys are others are listed with how many', () => {
    const a = puppet({ 'hips.ty': curve([0, 0, 12, 3, 24, 1]), 'arm_l.rz': curve([0, 0, 24, 5]) });
    const b = puppet({ 'hips.ty': curve([0, 0, 24, 1]), 'arm_l.rz': curve([0, 0, 24, 5]) });
    expect(keysCompared(a, b)).toEqual([{ channel: 'hips.ty', a: 3, b: 2 }]);
  });

  test('a contact that one of them lacks has no number there', () => {
    const stands = {
      id: 'contact-1',
      node: 'hand_l',
      point: 'palm',
      at: [0, 0, 0] as const,
      start: 2,
      end: 9,
      byHand: true,
    };
    const a: Shot = { ...puppet({ 'hips.tx': curve([0, 0, 24, 24]) }), contacts: [stands] };
    const later: Shot = {
      ...a,
      contacts: [
        { ...stands, start: 8, end: 12 },
        { ...stands, id: 'contact-2', start: 18, end: 20 },
      ],
    };
    const rows = contactsCompared(a, later, alignedAt(a, later, 0, 0));
    expect(rows.map(({ start, end }) => [start, end])).toEqual([
      [2, 9],
      [18, 20],
    ]);
    expect(rows[0]!.a).toBeGreaterThan(1);
    expect(rows[0]!.b).toBeGreaterThan(1);
    expect(rows[1]!.a).toBeNull();
  });

  test('spacing is the way from frame to frame', () => {
    const shot = puppet({ 'hips.tx': curve([0, 0, 24, 48]) });
    const row = rigOf(shot).indexOf('hips');
    const few = spacingOf(shot, row, [0, 1, 2, 3], 1);
    expect(few[1]).toBeCloseTo(10 * (valuesAt(shot, 2)[0]! - valuesAt(shot, 1)[0]!), 3);
    expect(few[3]).toBe(few[2]);
    const whole = spacingOf(
      shot,
      row,
      Array.from({ length: 25 }, (_, f) => f),
      1,
    );
    expect(whole.slice(0, 24).reduce((sum, step) => sum + step, 0)).toBeCloseTo(480, 2);
  });
});
