/**
 * The crowded shot: everything meets in it. Which things is drawn by fast-check, so that it shrinks to the few that a failure needs; what they are like in detail
 * comes from a seed. A new kind of layer, relation or document part joins here on the day it lands, and so does every case that somebody found.
 */
import fc from 'fast-check';
import { seededRandom } from '../base/random.ts';
import { FLAG, SEGMENT } from '../curve/curve.ts';
import type { Curve, Lead } from '../curve/curve.ts';
import { buildCurve, rebuild } from '../curve/rebuild.ts';
import { isFilter, LAYER_KINDS } from '../layers/kinds.ts';
import type { Layer } from '../layers/layer.ts';
import { readShotFile } from '../interchange/shot-file/read-shot.ts';
import { writeShotFile } from '../interchange/shot-file/write-shot.ts';
import { unit } from '../math/quaternion.ts';
import { AT_REST } from '../rig/node.ts';
import type { Node } from '../rig/node.ts';
import { withCarriesAnew } from '../edits/placements/carried-on.ts';
import { reachOf } from '../rig/relations/reach.ts';
import { RELATION_KINDS } from '../rig/relations/kinds.ts';
import { NO_OFFSET } from '../rig/relations/relation.ts';
import type { Relation } from '../rig/relations/relation.ts';
import { pairNames } from '../rig/sides.ts';
import { constantCurve, newShot, rigOf, withCurves } from '../document/shot.ts';
import type { ChannelId, Shot } from '../document/shot.ts';
import { stateOf } from '../document/variants.ts';
import { bareNode, curve, filter, pass } from './shot-literals.ts';

const FILTERS = LAYER_KINDS.filter(isFilter).map(({ kind }) => kind);
const RELATIONS = RELATION_KINDS.map(({ kind }) => kind);
/** What is in the way of what follows through. */
const BELLY: Node['solids'] = [
  { kind: 'ellipsoid', centre: [0, 10, 0], radii: [14, 26, 12], colour: 'body' },
];
const LEADS: readonly Lead[] = ['hold', 'slope', 'loop', 'loopCarry', 'swing'];

export interface Crowd {
  readonly seed: number;
  /** What leads in and out of curves, beside holds. */
  readonly leads: boolean;
  /** Stepped, linear and weighted segments beside smooth ones. */
  readonly segments: boolean;
  /** Keys between frames, and outside the shot. */
  readonly between: boolean;
  readonly locks: boolean;
  /** A figure that is mirrored, one that is scaled unevenly. */
  readonly scales: boolean;
  readonly passes: boolean;
  readonly filters: readonly string[];
  readonly blocks: boolean;
  readonly variants: boolean;
  /** Contacts of hands, heights and a mass set by hand. */
  readonly contacts: boolean;
  /** A selection set, markers on and between frames, notes, a tag. */
  readonly marks: boolean;
  readonly relations: readonly string[];
  /** 23.976 frames a second. */
  readonly broadcast: boolean;
}

export const anyCrowd: fc.Arbitrary<Crowd> = fc.record({
  seed: fc.integer({ min: 1, max: 1e6 }),
  leads: fc.boolean(),
  segments: fc.boolean(),
  between: fc.boolean(),
  locks: fc.boolean(),
  scales: fc.boolean(),
  passes: fc.boolean(),
  filters: fc.subarray(FILTERS, { maxLength: 3 }),
  blocks: fc.boolean(),
  variants: fc.boolean(),
  contacts: fc.boolean(),
  relations: fc.subarray(RELATIONS),
  broadcast: fc.boolean(),
  // What joins later stands last: the draws before it stay as they were.
  marks: fc.boolean(),
});

/** The last frame of every crowded shot. */
export const LAST = 20;
/** The two figures' names are these before the names of their joints. */
const FIGURES = ['a_', 'b_'] as const;

export function crowdedShot(crowd: Crowd): Shot {
  const { next } = seededRandom(crowd.seed);
  const spread = (size: number) => (next() - 0.5) * 2 * size;
  const chance = (share: number) => next() < share;
  const oneOf = <One>(list: readonly One[]): One => list[Math.floor(next() * list.length)]!;

  const anyKeys = (size: number): Curve => {
    const count = 2 + Math.floor(next() * 5);
    let time = crowd.between && chance(0.3) ? -3.5 : 0;
    const made = buildCurve(count, (columns) => {
      for (let i = 0; i < count; i += 1) {
        columns.times[i] = time;
        columns.values[i] = spread(size);
        columns.slopesIn[i] = spread(size / 4);
        columns.slopesOut[i] = spread(size / 4);
        columns.tangentsIn[i] = columns.tangentsOut[i] = Math.floor(next() * 5);
        if (crowd.segments) columns.segments[i] = oneOf([SEGMENT.stepped, SEGMENT.linear, SEGMENT.cubic]);
        if (crowd.segments && chance(0.2)) {
          columns.flags[i] = FLAG.weightedIn | FLAG.weightedOut;
          columns.lengthsIn[i] = 3 * next();
          columns.lengthsOut[i] = 3 * next();
        }
        if (crowd.locks && chance(0.05)) columns.flags[i]! |= FLAG.locked;
        time += crowd.between && chance(0.4) ? 0.6 + 5 * next() : 1 + Math.floor(next() * 6);
      }
    });
    if (!crowd.leads || chance(0.5)) return made;
    return { ...made, leadIn: oneOf(LEADS), leadOut: oneOf(LEADS) };
  };
  const stepping = (values: readonly number[]): Curve => {
    const count = 1 + Math.floor(next() * 3);
    const keys = Array.from({ length: count }, (_, i) => [i * 7, oneOf(values)]).flat();
    return rebuild(curve(keys), null, (columns) => columns.segments.fill(SEGMENT.stepped));
  };

  const nodes: Node[] = [];
  const plans: [string, string | null, [number, number, number]][] = FIGURES.flatMap((of, k) => [
    [`${of}mover`, null, [k * 120, 0, k * -60]],
    [`${of}hips`, `${of}mover`, [0, 90, 0]],
    [`${of}arm_l`, `${of}hips`, [20, 50, 0]],
    [`${of}fore_l`, `${of}arm_l`, [28, 0, 2]],
    [`${of}hand_l`, `${of}fore_l`, [25, 0, 0]],
    [`${of}arm_r`, `${of}hips`, [-20, 50, 0]],
    [`${of}fore_r`, `${of}arm_r`, [-28, 0, 2]],
    [`${of}hand_r`, `${of}fore_r`, [-25, 0, 0]],
  ]);
  const pairs = pairNames(plans.map(([id]) => id));
  const turned = () => unit([spread(0.4), spread(1), spread(0.4), 1]);
  for (const [id, parent, translation] of plans) {
    const stands = parent === null;
    const scale: [number, number, number] =
      !crowd.scales || !stands ? [1, 1, 1] : id.startsWith('a_') ? [-1, 1, 1] : [2, 1, 0.5];
    nodes.push(
      bareNode(id, parent, {
        rest: { translation, rotation: stands ? turned() : AT_REST.rotation, scale },
        order: oneOf(['xyz', 'zyx', 'yzx'] as const),
        character: id[0]!,
        solids: id.endsWith('hips') ? BELLY : [],
        ...pairs.get(id)!,
      }),
    );
  }
  const loose = (id: string, at: [number, number, number], more: Partial<Node> = {}) =>
    nodes.push(
      bareNode(id, null, {
        part: 'prop',
        kind: 'control',
        pair: id,
        rest: { ...AT_REST, translation: at },
        ...more,
      }),
    );
  const own = ['tx', 'ty', 'tz', 'rx', 'ry', 'rz'];
  loose('crate', [30, 80, 20], { channels: [...own, 'follow', 'space'] });
  loose('stand', [-40, 0, 50], { channels: [...own, 'follow'] });
  loose('goal', [60, 130, 20], { channels: [...own, 'ik'] });
  loose('pole', [40, 100, -50]);
  loose('camera', [0, 110, 320], { kind: 'camera', channels: [...own, 'fov'] });

  const rate = crowd.broadcast ? { numerator: 24000, denominator: 1001 } : { numerator: 24, denominator: 1 };
  const bare = newShot('Crowd', nodes, [], rate, { start: 0, end: LAST });
  const relations = crowd.relations.map((kind) => relationOf(kind));
  let shot: Shot = {
    ...bare,
    characters: [
      { id: 'a', name: 'A' },
      { id: 'b', name: 'B' },
    ],
    relations,
  };
  const keyed = new Map<ChannelId, Curve>();
  for (const { id } of rigOf(shot).channels) {
    const name = id.slice(id.lastIndexOf('.') + 1);
    if (/^[trf]/.test(name) && name !== 'follow' && chance(0.45))
      keyed.set(id, anyKeys(name.startsWith('t') ? 25 : name === 'fov' ? 8 : 60));
  }
  keyed.set('goal.ik', stepping([0, 1]));
  keyed.set('crate.space', stepping([0, 1, 2]));
  for (const follow of ['crate.follow', 'stand.follow']) keyed.set(follow, stepping([0, 1, 1]));
  shot = withCurves(shot, null, keyed);

  const members = () =>
    FIGURES.flatMap((of) =>
      ['arm_l', 'fore_l', 'hand_r', 'hips'].filter(() => chance(0.4)).map((id) => of + id),
    );
  const someMembers = () => [...new Set([...members(), 'a_arm_l'])];
  const anyRange = () => {
    if (chance(0.4)) return null;
    const start = Math.floor(next() * 8);
    const end = start + 6 + Math.floor(next() * 6);
    return { start, end, rampIn: chance(0.5) ? 3 : 0, rampOut: chance(0.5) ? 2 : 0 };
  };
  const weight = () =>
    chance(0.5) ? constantCurve(chance(0.5) ? 1 : 0.6) : curve([0, next(), LAST / 2, 1, LAST, next()]);
  const layers: Layer[] = [];
  const passCurves: [string, Map<ChannelId, Curve>][] = [];
  if (crowd.passes)
    for (const kind of ['offset', 'replace'] as const) {
      const over = someMembers();
      const id = `${kind}-pass`;
      layers.push(
        pass(id, {
          kind,
          members: over,
          weight: weight(),
          range: anyRange(),
          rotations: chance(0.5) ? 'orientations' : 'channels',
        }),
      );
      passCurves.push([id, new Map(over.map((node) => [`${node}.rz`, anyKeys(30)]))]);
    }
  const settingsOf = (kind: string) =>
    kind === 'retime'
      ? { at: [0, 6, LAST], shows: [0, 9, LAST], between: chance(0.5) ? 'smooth' : 'straight' }
      : {
          ...(chance(0.3) && { loop: true }),
          ...(kind === 'follow' && { collides: true, untimely: 0.05 }),
        };
  for (const kind of crowd.filters)
    layers.push(
      filter(kind, someMembers(), settingsOf(kind), {
        id: `${kind}-filter`,
        range: anyRange(),
        weight: weight(),
      }),
    );
  if (crowd.blocks) {
    const table = withCurves(
      { ...shot, curves: [], layers: [] },
      null,
      new Map(
        ['a_arm_l.rz', 'a_fore_l.ry', 'b_hips.ty', 'b_hips.tx', 'b_hips.ry'].map((id) => [
          id,
          curve([0, spread(20), 4, spread(40), 8, spread(20)]),
        ]),
      ),
    ).curves;
    const at = [0, 1, 2] as const;
    const contacts = [
      { node: 'a_hand_l', point: 'palm', at, start: 1, end: 5 },
      { node: 'b_hips', point: 'joint', at, start: 0.5, end: 8 },
    ];
    shot = { ...shot, actions: [{ id: 'action-1', name: 'Wave', length: 8, curves: table, contacts }] };
    const block = (id: string, first: number, more: object) =>
      filter(
        'placement',
        ['a_arm_l', 'a_fore_l', 'b_hips'],
        { action: 'action-1', first, from: 0, to: 8, ...more },
        {
          id,
          range: { start: first, end: first + 8, rampIn: 2, rampOut: 2 },
        },
      );
    layers.push(
      block('block-1', 2, { crosses: 'block-2' }),
      block('block-2', 8, { rotations: 'orientations', roots: ['b_hips'], carriesOn: true }),
    );
  }
  if (crowd.locks && layers.length > 1) layers[0] = { ...layers[0]!, locked: true };
  shot = { ...shot, layers };
  for (const [id, curves] of passCurves) shot = withCurves(shot, id, curves);
  if (crowd.locks) shot = { ...shot, locked: ['b_arm_r.rz'] };
  if (crowd.contacts)
    shot = {
      ...shot,
      characters: shot.characters.map((one) => ({ ...one, height: 100 + Math.floor(next() * 90) })),
      masses: [{ node: 'a_hand_l', share: 0.25 }],
      contacts: [
        ...['a_hand_l', 'b_hand_r'].map((node, k) => {
          const start = Math.floor(next() * 6);
          const end = start + 2 + Math.floor(next() * 6);
          return {
            ...{ id: `contact-${k + 1}`, node, point: 'palm', at: [spread(4), spread(4), 0] as const },
            ...{ start, end, byHand: k === 0 },
          };
        }),
      ],
    };
  if (crowd.variants)
    shot = {
      ...shot,
      variants: [
        {
          id: 'variant-1',
          name: 'A',
          states: stateOf({ layers: layers.map((one) => ({ ...one, muted: chance(0.3) })) }),
        },
      ],
    };
  if (crowd.marks)
    shot = {
      ...shot,
      selectionSets: [{ id: 'set-1', name: 'Arms', nodes: ['a_arm_l', 'b_arm_l'], digit: 1 }],
      markers: [0, 7, 12.5, LAST].map((frame, i) => ({
        id: `marker-${i + 1}`,
        name: `${frame}`,
        frame,
        colour: i,
      })),
      notes: [
        { id: 'note-1', text: 'Between', start: 2.25, end: 9, by: 'Ada', done: false },
        { id: 'note-2', text: 'At the end', start: LAST, end: LAST, by: '', done: true },
      ],
      tags: ['crowd'],
    };
  // As it comes from a file.
  const read = readShotFile(writeShotFile(shot));
  return withCarriesAnew(read, read, false).shot;

  function relationOf(kind: string): Relation {
    const target = (node: string | null) => ({ node, offset: NO_OFFSET, share: null });
    const settings =
      kind === 'reach' ? {} : RELATION_KINDS.find((one) => one.kind === kind)!.settings.parse({});
    const made = { id: kind, kind, weight: null, switch: null, settings };
    switch (kind) {
      case 'reach':
        return reachOf({
          ...{ id: 'reach', root: 'a_arm_l', middle: 'a_fore_l', end: 'a_hand_l' },
          ...{ target: 'goal', pole: 'pole', blend: 'goal.ik', tip: null },
        });
      case 'parent':
        return {
          ...made,
          node: 'crate',
          targets: [target('a_hand_r'), target(null), target('b_hand_l')],
          weight: 'crate.follow',
          switch: 'crate.space',
        };
      case 'steady':
        return { ...made, node: 'b_mover', targets: [target('camera')] };
      case 'stand':
        return {
          ...made,
          node: 'goal',
          targets: [target(null)],
          settings: {
            spans: [
              { node: 'a_hand_l', at: [2, 1, 0], start: 3, end: 9, lies: 5 },
              { node: 'a_hand_l', at: [-3, 0, 1], start: 7, end: 14, lies: 10, turn: 'heading', ramp: 2 },
            ],
            ramp: 3,
          },
        };
      case 'aim':
        return { ...made, node: 'pole', targets: [target('b_hips')] };
      // Position and orientation, and what there will be beside them.
      default:
        return {
          ...made,
          node: 'stand',
          targets: [target(kind === 'position' ? 'a_hips' : 'b_hand_r')],
          weight: 'stand.follow',
        };
    }
  }
}
