import { describe, expect, test } from '@jest/globals';
import type { Node } from '../rig/node.ts';
import { curve, puppet, puppetNodes } from '../testing/shot-literals.ts';
import { valuesAt } from '../evaluation/evaluation.ts';
import { facingOf, mirrorsOf } from './mirror-plane.ts';
import type { Shot } from '../document/shot.ts';

type Triple = [number, number, number];
/** The puppet with places turned by `turn` and legs that end in toes there. */
function standing(turn: (place: Triple) => Triple, toe: Triple | null = null): Shot {
  const moved = puppetNodes().map((node): Node => ({
    ...node,
    rest: { ...node.rest, translation: turn([...node.rest.translation] as Triple) },
  }));
  const leg = (id: string, translation: Triple): Node => ({
    ...moved[0]!,
    id,
    parent: 'hips',
    part: 'leg',
    rest: { ...moved[0]!.rest, translation },
  });
  const toes = toe === null ? [] : [leg('toe_mid', turn(toe))];
  return { ...puppet(), nodes: [...moved, ...toes] };
}
const about =
  (degrees: number) =>
  ([x, y, z]: Triple): Triple => {
    const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
    return [c * x + s * z, y, -s * x + c * z];
  };

describe('where a character faces', () => {
  test.each([0, 90, 180, -90, 37, -120])('%d degrees, as its sides lie', (degrees) => {
    const { degrees: found, how } = facingOf(standing(about(degrees)), 'puppet');
    expect(how).toBe('sides');
    expect(found).toBeCloseTo(degrees, 9);
  });

  test('a rig that is not quite even faces the quarter, one that is turned more does not', () => {
    expect(facingOf(standing(about(88)), 'puppet').degrees).toBe(90);
    expect(facingOf(standing(about(-179)), 'puppet').degrees).toBe(180);
    expect(facingOf(standing(about(86)), 'puppet').degrees).toBeCloseTo(86, 9);
  });

  test('toes that point the other way are said; toes ahead, or none, are not', () => {
    expect(facingOf(standing(about(90), [0, -80, 12]), 'puppet').feetDisagree).toBe(false);
    expect(facingOf(standing(about(90), [0, -80, -12]), 'puppet').feetDisagree).toBe(true);
    expect(facingOf(standing(about(90)), 'puppet').feetDisagree).toBe(false);
    const set = {
      ...standing(about(90), [0, -80, 12]),
      characters: [{ id: 'puppet', name: '', facing: -90 }],
    };
    expect(facingOf(set, 'puppet')).toEqual({ degrees: -90, how: 'set', feetDisagree: true });
  });

  test('only pairs that name each other count, and only of this character', () => {
    const odd = puppetNodes().map((node) =>
      node.id === 'arm_r' || node.id === 'hand_r' ? { ...node, pair: null } : node,
    );
    expect(facingOf({ ...puppet(), nodes: odd }, 'puppet').how).toBe('assumed');
    expect(facingOf(puppet(), 'nobody').how).toBe('assumed');
  });
});

describe('the plane of a flip', () => {
  const walking = puppet({
    'hips.tx': curve([0, 50, 24, 50]),
    'hips.tz': curve([0, 0, 24, 120]),
    'hips.ry': curve([0, 90, 24, 90]),
    'hips.rx': curve([0, 20, 24, 20]),
  });
  const planeAt = (shot: Shot, frames: readonly number[], kind: 'own' | 'world') =>
    mirrorsOf(
      shot,
      frames.map((frame) => valuesAt(shot, frame)),
      { kind },
    )(shot.nodes[1]!).plane;

  test('goes with place and heading of the root, and stays upright', () => {
    const { normal, through } = planeAt(walking, [12], 'own');
    expect(through[0]).toBeCloseTo(50, 9);
    expect(through[2]).toBeCloseTo(60, 0);
    [0, 0, -1].forEach((part, k) => expect(normal[k]).toBeCloseTo(part, 9));
  });

  test('over a range lies midway between the first and the last heading, the short way round', () => {
    const turning = puppet({ 'hips.ry': curve([0, 150, 24, 210]), 'hips.tx': curve([0, 0, 24, 40]) });
    const { normal, through } = planeAt(turning, [0, 24], 'own');
    [-1, 0, 0].forEach((part, k) => expect(normal[k]).toBeCloseTo(part, 9));
    expect(through[0]).toBeCloseTo(20, 9);
  });

  test('of the world is about x = 0 whatever the character does', () => {
    expect(planeAt(walking, [12], 'world')).toMatchObject({ normal: [1, 0, 0], through: [0, 0, 0] });
  });

  test('of a node lies along it, tilted as it is', () => {
    const tilted = puppet({ 'hips.rz': curve([0, 30]) });
    const { plane } = mirrorsOf(tilted, [valuesAt(tilted, 0)], { kind: 'node', node: 'hips' })(
      tilted.nodes[1]!,
    );
    const [c, s] = [Math.cos(Math.PI / 6), Math.sin(Math.PI / 6)];
    [c, s, 0].forEach((part, k) => expect(plane.normal[k]).toBeCloseTo(part, 9));
  });

  test('a body that lies on its back heads where its crown points', () => {
    const lying = puppet({ 'hips.rx': curve([0, -90]) });
    const { normal } = planeAt(lying, [0], 'own');
    [1, 0, 0].forEach((part, k) => expect(Math.abs(normal[k]!)).toBeCloseTo(Math.abs(part), 9));
  });

  test('what stands still above the one that travels carries it, and is not flipped', () => {
    const nodes = [
      { ...puppetNodes()[0]!, id: 'world', rest: { ...puppetNodes()[0]!.rest } },
      ...puppetNodes().map((node) => (node.id === 'hips' ? { ...node, parent: 'world' } : node)),
    ];
    const base = { ...puppet(), nodes };
    const shot = { ...base, curves: [undefined, { tx: curve([0, 30, 24, 90]) }] };
    const { carriers, plane } = mirrorsOf(shot, [valuesAt(shot, 0)], { kind: 'own' })(nodes[2]!);
    expect([...carriers]).toEqual([0]);
    expect(plane.through[0]).toBeCloseTo(30, 9);
  });

  test('what belongs to nobody goes with the first character', () => {
    const prop = { ...puppetNodes()[0]!, id: 'tray', character: null };
    const shot = { ...walking, nodes: [...walking.nodes, prop] };
    const mirrors = mirrorsOf(shot, [valuesAt(shot, 12)], { kind: 'own' });
    expect(mirrors(prop)).toBe(mirrors(shot.nodes[0]!));
  });
});
