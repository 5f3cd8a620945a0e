/** The kinds of shot and of selection on which every edit of the catalogue is tried. */
import { FLAG, SEGMENT } from '../curve/curve.ts';
import { rebuild } from '../curve/rebuild.ts';
import { AT_REST } from '../rig/node.ts';
import type { Layer } from '../layers/layer.ts';
import type { Node } from '../rig/node.ts';
import { reachOf } from '../rig/relations/reach.ts';
import { NO_OFFSET } from '../rig/relations/relation.ts';
import type { Selection } from '../document/selection.ts';
import { constantCurve, WEIGHT, withCurves } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { stateOf } from '../document/variants.ts';
import { choose, curve, filter, pass, puppet } from './shot-literals.ts';

const swing = curve([0, 10, 4, 12, 8, -6, 12, 3, 16, 8, 20, 10, 24, 10]);
const jitter = curve(
  Array.from({ length: 25 }, (_, i) => [i, 10 * Math.sin(i / 4) + ((i * 7) % 5) / 9]).flat(),
  'linear',
);
const weighted = rebuild(swing, null, (columns) => {
  columns.flags.fill(FLAG.weightedIn | FLAG.weightedOut);
  columns.lengthsIn.fill(0.4);
  columns.lengthsOut.fill(3.1);
});
const partLocked = rebuild(swing, null, (columns) => (columns.flags[2] = FLAG.locked));
const held = (keys: readonly number[]) =>
  rebuild(curve(keys), null, (columns) => columns.segments.fill(SEGMENT.stepped));
const offset = pass('lift', {
  members: ['arm_l'],
  curves: [undefined, { rz: curve([6, 0, 12, 20, 18, 0]) }],
});
export const PLAIN = puppet({
  'hips.ty': jitter,
  'arm_l.rz': swing,
  'hand_l.rx': curve([0, 1, 12, 5], 'flat'),
  'arm_r.rz': weighted,
  'arm_l.ry': curve([0, 170, 8, -175, 16, 20, 24, 380]),
  'arm_l.rx': curve([0, 0, 6, 3, 12, 6, 24, 9], 'linear'),
});

export const SHOTS: Readonly<Record<string, Shot>> = {
  'a plain shot': PLAIN,
  'a shot without keys': puppet(),
  'one key on each curve': puppet({ 'hips.ty': constantCurve(4, 12), 'arm_l.rz': constantCurve(-20, 3) }),
  'keys between frames and a hair apart': puppet({
    'hips.ty': curve([0.25, 1, 3.5, 2, 3.50001, 2, 9.75, 8]),
    'arm_l.rz': rebuild(
      curve([0, 1, 0.00001, 1, 7, 4, 30, -2]),
      null,
      (columns) => (columns.flags[2] = FLAG.locked),
    ),
  }),
  'huge and tiny values': puppet({
    'hips.ty': { ...curve([0, 1e9, 8, -1e9, 20, 1e9]), leadOut: 'swing' },
    'arm_l.rz': curve([0, 1e-9, 8, -1e-9, 24, 1e-9]),
  }),
  'a character that came in a file, with morphs': skinned(),
  'stepped blocking': {
    ...puppet({
      'hips.ty': held([0, 3, 8, 5, 16, -2, 24, 6]),
      'arm_l.rz': { ...held([0, 10, 8, 40, 16, 10]), leadOut: 'loop' },
      'arm_r.rz': held([0, -10, 8, -40, 16, 0, 24, 20]),
    }),
    poseColumns: { share: 0.5, added: [12], removed: [] },
  },
  'curves that repeat': puppet({
    'hips.ty': { ...swing, leadOut: 'loop', leadIn: 'swing' },
    'arm_l.rz': { ...swing, leadOut: 'loopCarry', leadOutCount: 2, leadIn: 'slope' },
  }),
  'a locked channel': { ...PLAIN, locked: ['arm_l.rz'] },
  'a locked key': puppet({ 'hips.ty': jitter, 'arm_l.rz': partLocked }),
  'a pass': { ...PLAIN, layers: [offset] },
  'two passes': {
    ...PLAIN,
    layers: [
      {
        ...offset,
        members: ['arm_l', 'hips'],
        curves: [{ ty: curve([2, 0, 9, 7, 20, 0]) }, { rz: curve([6, 0, 12, 20, 18, 0]) }],
      },
      pass('bare', { members: ['arm_r'] }),
    ],
  },
  'passes, filters and a variant': stacked(),
  'relations and a limb': related(),
  'contacts, a height and a mass': {
    ...puppet({
      'hips.ty': { ...swing, leadOut: 'loop' },
      'arm_l.rz': { ...swing, leadOut: 'loopCarry', leadIn: 'slope' },
      'arm_r.rz': partLocked,
    }),
    characters: [{ ...PLAIN.characters[0]!, height: 168 }],
    masses: [{ node: 'hips', share: 0.6 }],
    contacts: [
      { id: 'contact-1', node: 'hand_l', point: 'palm', at: [2, -1, 0], start: 3, end: 9, byHand: true },
      { id: 'contact-2', node: 'hand_r', point: 'joint', at: [0, 0, 0], start: 8, end: 20.5, byHand: false },
    ],
  },
  'a set, markers, notes and a tag': {
    ...puppet({ 'hips.ty': swing, 'arm_l.rz': swing }),
    selectionSets: [
      { id: 'set-1', name: 'Arms', nodes: ['arm_l', 'arm_r', 'gone'], digit: 4 },
      { id: 'set-2', name: 'Hips', nodes: ['hips'] },
    ],
    markers: [
      { id: 'marker-1', name: 'Up', frame: 3, colour: 0 },
      { id: 'marker-2', name: 'Between', frame: 11.5, colour: 7 },
    ],
    notes: [
      { id: 'note-1', text: 'Later on the left', start: 3, end: 3, by: 'Ada', done: true },
      { id: 'note-2', text: 'Too even', start: 8.5, end: 17, by: '', done: false },
    ],
    tags: ['loops'],
  },
  'a held contact that its limb does not reach': outOfReach(),
  'a locked pass': { ...PLAIN, layers: [{ ...offset, locked: true }] },
};

/** A left arm of three joints that reaches, a crate that follows a hand and then the world, a camera that moves. */
function related(): Shot {
  const base = puppet({
    'hips.ty': jitter,
    'arm_l.rz': swing,
    'arm_r.rz': curve([0, 0, 12, 30, 24, -10]),
    'hand_l.rx': curve([0, 1, 12, 5], 'flat'),
  });
  const [hips] = base.nodes;
  const extra = (id: string, more: Partial<Node>): Node => ({
    ...hips!,
    id,
    pair: id,
    part: 'prop',
    character: null,
    kind: 'control',
    ...more,
  });
  const nodes = [
    ...base.nodes.map((node) => (node.id === 'hand_l' ? { ...node, channels: [...node.channels] } : node)),
    extra('tip_l', {
      parent: 'hand_l',
      part: 'hand',
      character: 'puppet',
      kind: 'joint',
      rest: { ...AT_REST, translation: [22, 3, 0] },
    }),
    extra('goal', {
      kind: 'goal',
      rest: { ...AT_REST, translation: [60, 150, 20] },
      channels: [...hips!.channels, 'ik'],
    }),
    extra('pole', { rest: { ...AT_REST, translation: [40, 100, -40] } }),
    extra('stand', { rest: { ...AT_REST, translation: [5, 0, 5] } }),
    extra('crate', {
      parent: 'stand',
      rest: { ...AT_REST, translation: [-30, 80, 10] },
      channels: [...hips!.channels, 'follow', 'space'],
    }),
    extra('camera', { kind: 'camera', rest: { ...AT_REST, translation: [0, 100, 300] } }),
  ];
  const shot: Shot = {
    ...base,
    nodes,
    relations: [
      reachOf({
        id: 'arm',
        root: 'arm_l',
        middle: 'hand_l',
        end: 'tip_l',
        target: 'goal',
        pole: 'pole',
        blend: 'goal.ik',
        tip: null,
      }),
      {
        id: 'held',
        kind: 'parent',
        node: 'crate',
        targets: [
          { node: 'hand_r', offset: NO_OFFSET, share: null },
          { node: null, offset: NO_OFFSET, share: null },
        ],
        weight: 'crate.follow',
        switch: 'crate.space',
        settings: { moves: true, turns: true },
      },
    ],
  };
  return withCurves(
    shot,
    null,
    new Map([
      ['goal.ik', held([0, 0, 6, 1, 20, 0])],
      ['goal.tx', curve([0, 0, 12, 14, 24, 3])],
      ['crate.space', held([0, 0, 8, 1])],
      ['crate.tx', curve([0, 4, 7, 4, 10, 30, 24, 10])],
      ['stand.ry', curve([0, 0, 24, 30])],
      ['camera.ry', curve([0, 0, 24, 20])],
    ]),
  );
}

/** The tip of that arm is held where it lies, and its goal goes away from it. */
function outOfReach(): Shot {
  const shot = withCurves(
    related(),
    null,
    new Map([
      ['hips.ty', { ...jitter, leadOut: 'swing' }],
      ['arm_l.rz', { ...swing, leadOut: 'loop', leadIn: 'loop' }],
      ['arm_r.rz', partLocked],
      ['goal.ik', constantCurve(1, 0)],
      ['goal.tx', curve([0, 0, 12, 60, 24, 3])],
    ]),
  );
  const contact = {
    id: 'contact-1',
    node: 'tip_l',
    point: 'palm',
    at: [1, 0, 0],
    start: 9,
    end: 14,
  } as const;
  return {
    ...shot,
    contacts: [
      { ...contact, byHand: true, hold: { lies: 'middle', ramp: 3, turn: 'heading' } },
      { ...contact, id: 'contact-2', start: 18, end: 21, byHand: true },
    ],
    relations: [
      ...shot.relations,
      {
        id: 'stands',
        kind: 'stand',
        node: 'goal',
        targets: [{ node: null, offset: NO_OFFSET, share: null }],
        weight: null,
        switch: null,
        settings: {
          spans: [{ node: 'tip_l', at: [1, 0, 0], start: 9, end: 14, lies: 12, turn: 'heading' }],
          ramp: 3,
        },
      },
    ],
  };
}

/** A placement of the one action, from frame 3 to 11 or so. */
function block(id: string, first: number, factor: number, more: object): Layer {
  const settings = { ...{ action: 'action-1', first, factor, from: 0, to: 8 }, ...more };
  return filter('placement', ['hips', 'arm_l'], settings, {
    id,
    range: { start: first, end: first + 8 * factor, rampIn: 2, rampOut: 2 },
  });
}

function stacked(): Shot {
  const shot: Shot = {
    ...PLAIN,
    layers: [
      offset,
      pass('pose', {
        kind: 'replace',
        members: ['hand_l', 'arm_l'],
        weight: curve([0, 0.25, 24, 1]),
        curves: [undefined, { ry: curve([3, 12, 15, -20]) }, { rx: curve([4, 8, 14, 2]) }],
      }),
      filter(
        'step',
        ['arm_l', 'hand_l'],
        {},
        {
          id: 'twos',
          range: { start: 2, end: 21 },
          weight: curve([2, 0, 9, 1, 20, 0.5]),
        },
      ),
      block('reach', 3, 0.75, { crosses: 'again' }),
      block('again', 7, 1, { repeats: 2 }),
      filter('shift', ['hips'], { frames: 1.5 }),
      filter('spring', ['hips'], {}, { muted: true }),
    ],
    actions: [
      {
        id: 'action-1',
        name: 'Reach',
        length: 8,
        curves: [{ tx: curve([0, 0, 8, 12]) }, { rz: curve([0, 5, 3, 40, 8, 5]), rx: curve([0, 1]) }],
      },
    ],
  };
  const variants = [
    { id: 'variant-1', name: 'As it was', states: stateOf({ layers: [...shot.layers].reverse() }) },
  ];
  return { ...shot, variants };
}

/** Morphs of both sides and of none, weighed by curves of every kind, and the file in which the character came. */
function skinned(): Shot {
  const face = (id: string, side: Node['side'], pair: string, channels: readonly string[]): Node => ({
    ...{ id, parent: id === 'face' ? 'hips' : 'face', kind: 'control', rest: AT_REST, order: 'xyz' },
    ...{ channels, side, pair, part: 'head', character: 'puppet', solids: [] },
  });
  const nodes = [
    ...PLAIN.nodes,
    face('face', 'centre', 'face', ['smile', 'frown']),
    face('face left', 'left', 'face right', ['blink']),
    face('face right', 'right', 'face left', ['blink']),
  ];
  const shot: Shot = {
    ...PLAIN,
    nodes,
    sources: [
      {
        id: 'ab'.repeat(32),
        ...{ name: 'puppet.glb', bytes: 1234, character: 'puppet' },
        nodes: [...PLAIN.nodes.map(({ id }) => id), 'face', null, 'gone'],
        morphs: [{ node: 5, channels: ['face.smile', 'face.frown', 'face left.blink', 'face right.blink'] }],
        animation: { index: 2, name: 'Walk' },
      },
    ],
  };
  return withCurves(
    shot,
    null,
    new Map([
      ['face.smile', { ...curve([0, 0.1, 7.5, 1.2, 20, 0], 'linear'), leadOut: 'swing' }],
      ['face left.blink', held([0, 0, 5, 1, 8, 0])],
      ['face right.blink', weighted],
    ]),
  );
}

export const SELECTIONS: Readonly<Record<string, Selection>> = {
  'keys of the pass in a range': choose({
    channels: ['arm_l.rz'],
    range: { start: 5, end: 19 },
    layer: 'lift',
  }),
  nothing: choose({}),
  'two controls': choose({ nodes: ['hips', 'arm_l'] }),
  'a channel in a range': choose({ channels: ['arm_l.rz'], range: { start: 3, end: 17 } }),
  'single keys': choose({ keys: { 'arm_l.rz': [1, 3] } }),
  'what is not there': choose({ nodes: ['tail'], channels: ['tail.tx'], keys: { 'tail.tx': [4] } }),
  'a control on the pass': choose({ nodes: ['arm_l'], layer: 'lift' }),
  'a range turned round': choose({ nodes: ['arm_l'], range: { start: 9, end: 2 } }),
};

/** Chosen curves that are no channels: only a shot with layers has them. */
export const WEIGHTS: Readonly<Record<string, Selection>> = {
  'the weight of a pass': choose({ nodes: ['arm_l'], channels: [WEIGHT], layer: 'pose' }),
  'a key of a weight in a range': choose({
    channels: [WEIGHT],
    keys: { [WEIGHT]: [2] },
    range: { start: 3, end: 24 },
    layer: 'pose',
  }),
  'the strength of a filter': choose({ channels: [WEIGHT], keys: { [WEIGHT]: [1] }, layer: 'twos' }),
};
