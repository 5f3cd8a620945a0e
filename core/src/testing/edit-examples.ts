/** Options to try each edit of the catalogue with, on the puppet. Every edit has at least one set that changes something. */
import { runEdit } from '../edits/run-edit.ts';
import { copyKeys } from '../shot/clip.ts';
import { choose, curve, puppet } from './shot-literals.ts';

const action = runEdit(
  'actions.save',
  puppet({ 'arm_l.rz': curve([0, 5, 6, 40, 12, 5]), 'hips.tx': curve([0, 0, 12, 30]) }),
  choose({ nodes: ['arm_l', 'hips'] }),
  { name: 'Reach' },
).made;
const clip = copyKeys(
  puppet({ 'arm_l.rz': curve([0, 5, 6, 40, 12, 9]), 'hips.ty': curve([2, 1, 8, 30]) }),
  choose({ nodes: ['arm_l', 'hips'], range: { start: 2, end: 10 } }),
);
const pose = { name: 'Reach', values: { 'arm_l.rz': 33, 'arm_l.rx': -4, 'hips.ty': 7 } };

export const EXAMPLES: Readonly<Record<string, readonly Readonly<Record<string, unknown>>[]>> = {
  'timing.setShot': [
    { start: 2, end: 30 },
    { rate: 30 },
    { rate: 29.97, keep: 'frames', end: 9 },
    { rate: 12, wholeFrames: false, start: -4 },
  ],
  'clean.thin': [
    {},
    { position: 5, rotation: 5, joined: false },
    { weighted: true, keepPeaks: false, wholeFrames: false },
    { measure: 'space', space: 5, keepColumns: true, keepFrames: [7] },
  ],
  'clean.smooth': [{}, { method: 'lowPass', cutoff: 3, keepEnds: false }, { method: 'spikes', threshold: 2 }],
  'clean.unwrap': [{}],
  'clean.rotationOrder': [{ order: 'yzx' }, { order: 'xyz', everyFrame: false }],
  'clean.dropRedundant': [{}],
  'clean.resample': [{}, { every: 3 }],
  'clean.snap': [{}],
  'clean.rescale': [{ factor: 5 }, { factor: 0.5, character: 'nobody' }, {}],
  'tangents.set': [
    { kind: 'flat' },
    { kind: 'stepped' },
    { slope: 2.5, length: 1.5, side: 'out' },
    { weighted: true, broken: true },
    { broken: false },
    {
      like: {
        segment: 2,
        tangentIn: 0,
        tangentOut: 0,
        slopeIn: 1,
        slopeOut: -2,
        lengthIn: 0.5,
        lengthOut: 1,
        flags: 13,
      },
    },
    {},
  ],
  'tangents.retangent': [
    { method: 'fit' },
    { method: 'steady' },
    { method: 'smoothest' },
    { method: 'ease', ease: 1 },
  ],
  'keys.add': [{ frame: 7 }, { frame: -30.5 }, { frame: 8 }],
  'keys.move': [
    { frames: 4 },
    { valueByChannel: { 'arm_l.rz': 5 } },
    { frames: -2.5, value: 3, wholeFrames: false },
    { value: -1e-3 },
    {},
  ],
  'keys.delete': [{}],
  'keys.deleteKeepingShape': [{}],
  'keys.paste': [
    { clip, frame: 12 },
    { clip, frame: 8, mode: 'merge', value: 'relative' },
    { clip, frame: 4, mode: 'insert', value: 'carryOn' },
    { clip, onto: 'selected' },
    { clip: { ...clip, curves: {} } },
    { clip: { ...clip, curves: { 'tail.tx': clip!.curves['arm_l.rz'] } }, frame: 3 },
  ],
  'keys.setLead': [
    { kind: 'loop' },
    { kind: 'swing', side: 'both', count: 2 },
    { kind: 'hold', side: 'both' },
    { kind: 'slope' },
  ],
  'keys.bakeLead': [{ from: -60, to: 90 }, { to: 40 }, { from: 9, to: 3 }],
  'keys.setValue': [{ value: 3 }, { value: -0.5, relative: true }],
  'keys.transform': [
    { scaleValue: -1 },
    { scaleTime: -1, timePivot: 'centre' },
    { scaleTime: 2.5, scaleValue: 0.5, taper: 'end', valuePivot: 'zero', wholeFrames: false },
    { moveFrames: 3, moveValue: -4, valuePivot: 'typed', pivotValue: 9 },
    { scaleTime: 0 },
    { scaleValue: 2, pivotByChannel: { 'arm_l.rz': 3 }, moveByChannel: { 'hips.ty': 1 } },
    {},
  ],
  'keys.lock': [{}, { locked: false }],
  'keys.lockChannels': [
    { channels: ['hips.ty', 'arm_l.rz'] },
    { channels: ['arm_l.rz'], locked: false },
    { channels: ['tail.tx'] },
  ],
  'poses.paste': [
    { pose, frame: 9 },
    { pose, frame: 12, flip: true, exclude: ['hips'] },
    { pose: { values: {} }, frame: 1 },
    { pose: { values: { 'tail.tx': 1 } }, frame: 1 },
  ],
  'timing.completeColumns': [{}, { scope: 'selected' }],
  'timing.toSpline': [{}, { kind: 'flat', complete: false, scope: 'selected' }],
  'timing.toStepped': [{}, { scope: 'selected' }],
  'timing.setGap': [
    { frame: 0, by: 3 },
    { frame: 4, gap: 2, scope: 'selected' },
    { frame: 4, by: -1, scope: 'selected' },
    { frame: 0, gap: 0 },
    { frame: 99, gap: 3 },
  ],
  'timing.pattern': [{}, { shape: 'easeIn', amount: 1, total: 40 }, { total: 1 }],
  'timing.addHold': [{ frame: 8 }, { frame: 24, frames: 6, scope: 'selected' }, { frame: 5 }, { frame: 99 }],
  'timing.movingHold': [{ frame: 12 }, { frame: 8, frames: 8, drift: 0.3, scope: 'selected' }],
  'timing.removeTime': [{}, { scope: 'selected' }],
  'timing.offset': [
    {},
    { order: 'random', step: 4, seed: 7, wholeFrames: false },
    { order: 'selection', step: -2 },
    { step: 0 },
  ],
  'timing.stretch': [
    { factor: 1.5 },
    { factor: 0.5, pivot: 'middle', scope: 'selected', wholeFrames: false },
    {},
  ],
  'timing.warp': [
    {
      points: [
        [0, 0],
        [12, 18],
        [24, 24],
      ],
    },
    {
      points: [
        [0, 0],
        [12, 18],
        [24, 20],
      ],
      mode: 'resample',
      scope: 'selected',
    },
    {
      points: [
        [0, 0],
        [12, 18],
        [24, 6],
      ],
      mode: 'resample',
      backward: true,
    },
    {
      points: [
        [0, 0],
        [12, -4],
      ],
    },
    {
      points: [
        [0, 0],
        [0, 4],
      ],
    },
    {},
  ],
  'timing.reverse': [{}, { append: true }, { scope: 'selected' }],
  'timing.loop': [
    {},
    { times: 2, rise: true, winner: 'first' },
    { times: 1, winner: 'last', blend: 3 },
    { times: 4, as: 'leadOut', carry: false, scope: 'selected' },
  ],
  'timing.setColumns': [{ add: [7], remove: [0] }, { share: 0.2 }, {}],
  'poses.flip': [
    { frame: 8 },
    { frame: 8, plane: 'world' },
    { frame: 8, plane: 'node', about: 'tail' },
    { frame: 4, exclude: ['hips'], hands: false, props: false },
  ],
  'poses.mirror': [{ frame: 8 }, { frame: 8, from: 'right' }],
  'poses.flipRange': [{}, { append: true }, { append: true, exclude: ['arm_l'], carry: false }],
  'poses.blend': [
    { frame: 6, toward: 'rest' },
    { frame: 12, amount: 1.4 },
    { frame: 12, toward: 'next', amount: -0.5 },
    { frame: 12, toward: 'stored', pose },
    { frame: 12, toward: 'stored' },
  ],
  'poses.rest': [{ frame: 8 }],
  'poses.setPair': [
    { node: 'hand_l', pair: null, side: 'centre' },
    { node: 'hips', pair: 'hips', side: 'left' },
    { node: 'tail' },
    { node: 'arm_l', pair: 'arm_r' },
  ],
  'poses.setFlipSigns': [
    { node: 'arm_l', signs: { rx: -1, rz: 1 } },
    { node: 'arm_l', signs: { tx: 1 } },
    { node: 'tail' },
  ],
  'poses.setFacing': [
    { character: 'puppet', degrees: 90 },
    { character: 'puppet' },
    { character: 'tail', degrees: 0 },
  ],
  'passes.addOffset': [
    {},
    { name: 'Lift', rotations: 'orientations', bookends: { start: 4, end: 12 } },
    { bookends: { start: 4, end: 4 } },
  ],
  'passes.setWeight': [
    { pass: 'lift', weight: 0.4, frame: 9, from: 3 },
    { pass: 'lift', weight: 0.5 },
    { pass: 'lift', weight: 2, frame: 6 },
    { pass: 'gone', weight: 1 },
  ],
  'passes.pose': [
    { pass: 'lift', frame: 9, values: { 'arm_l.rz': 50, 'hips.ty': 3 } },
    { pass: 'gone', frame: 9, values: { 'arm_l.rz': 50 } },
  ],
  'passes.set': [
    { pass: 'lift', name: 'Higher', muted: true },
    { pass: 'lift', locked: false },
    { pass: 'gone', solo: true },
  ],
  'passes.remove': [{ pass: 'lift' }, { pass: 'gone' }],
  'passes.removeEmpty': [{}],
  'passes.move': [
    { pass: 'lift', place: 2 },
    { pass: 'lift', place: 1 },
    { pass: 'gone', place: 1 },
  ],
  'passes.setMembers': [{ pass: 'lift' }, { pass: 'lift', change: 'remove' }, { pass: 'gone' }],
  'passes.splitOut': [{ pass: 'lift' }, { pass: 'lift', name: 'Apart' }, { pass: 'gone' }],
  'passes.clear': [{ pass: 'lift' }, { pass: 'gone' }],
  'actions.save': [
    { name: 'Swing' },
    { name: 'Swing', what: 'layer' },
    { name: 'Swing', takeAway: true, kinds: ['rotation'] },
  ],
  'actions.apply': [
    { action, frame: 6 },
    {
      action: { ...(action as object), rate: { numerator: 30, denominator: 1 } },
      frame: 2,
      wholeFrames: false,
    },
    { action: { ...(action as object), rate: { numerator: 1, denominator: 1e6 } }, frame: 2 },
    { action, frame: 20, carryOn: true },
    { action: { format: 'kneader-action' }, frame: 0 },
  ],
};
