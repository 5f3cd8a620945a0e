/**
 * Change the rotation order of controls; their orientation stays what it was. Between keys a change of order would drift, so
 * keys are added on every frame of the keyed range when asked, and always where any of the three angles has one.
 */
import { z } from 'zod';
import { bisectRight } from '../../base/bisect.ts';
import { finding } from '../../base/finding.ts';
import type { Curve } from '../../curve/curve.ts';
import { EMPTY_CURVE, FLAG, SEGMENT, TANGENT } from '../../curve/curve.ts';
import { bakeLeads } from '../../curve/bake-lead.ts';
import { hasLead } from '../../curve/lead.ts';
import { evaluate } from '../../curve/evaluate.ts';
import { buildCurve } from '../../curve/rebuild.ts';
import { EULER_ORDERS, eulerFromQuat, quatFromEuler } from '../../math/euler.ts';
import type { EulerOrder, Quaternion, Triple } from '../../math/euler.ts';
import { angleBetween } from '../../math/quaternion.ts';
import type { Node } from '../../rig/node.ts';
import { selectedChannels } from '../../document/selection.ts';
import { curveOf, splitChannel, withCurves } from '../../document/shot.ts';
import type { ChannelId } from '../../document/shot.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { motionMeasures, notKept, sameMotion, UNASKED } from '../shared/same-motion.ts';

const AXES = ['rx', 'ry', 'rz'] as const;

export const rotationOrder = defineEdit({
  id: 'clean.rotationOrder',
  title: 'Change rotation order',
  summary: 'Gives the selected controls another order of rotation; they look the same.',
  words: 'gimbal euler order axes xyz convert rotation',
  group: 'clean',
  needs: 'channels',
  locks: 'strip',
  promise: 'sameMotion',
  options: z.object({
    order: z.enum(EULER_ORDERS).default('zxy').meta({
      title: 'Order',
      description: 'xyz means R = Rx·Ry·Rz.',
    }),
    everyFrame: z.boolean().default(true).meta({
      title: 'A key on every frame',
      description: 'So that nothing drifts between keys; thin afterwards. Off, only frames with keys hold.',
    }),
  }),
  run(shot, selection, { order, everyFrame }) {
    const ids = new Set(selectedChannels(shot, selection).map((id) => splitChannel(id).node));
    const nodes = shot.nodes.filter(
      (node) => ids.has(node.id) && AXES.every((axis) => node.channels.includes(axis)),
    );
    if (nodes.length === 0) return refused(shot, selection, finding('noRotations', {}));
    const locked = shot.locked.filter((id) =>
      nodes.some((node) => AXES.some((axis) => id === `${node.id}.${axis}`)),
    );
    if (locked.length > 0) return refused(shot, selection, finding('lockedInTheWay', {}, locked));
    const lockedKeys = nodes.filter((node) =>
      AXES.some((axis) =>
        curveOf(shot, null, `${node.id}.${axis}`).flags.some((flag) => (flag & FLAG.locked) !== 0),
      ),
    );
    if (lockedKeys.length > 0)
      return refused(
        shot,
        selection,
        finding(
          'lockedInTheWay',
          {},
          lockedKeys.map(({ id }) => id),
        ),
      );
    // Angles on a pass are offsets in the old order: they cannot follow.
    const onPass = nodes.filter(
      (node) =>
        shot.layers.some((pass) =>
          AXES.some((axis) => curveOf(shot, pass.id, `${node.id}.${axis}`).times.length > 0),
        ) ||
        shot.actions?.some(({ curves }) => AXES.some((axis) => curves[shot.nodes.indexOf(node)]?.[axis])),
    );
    if (onPass.length > 0)
      return refused(
        shot,
        selection,
        finding(
          'posedOnPass',
          {},
          onPass.map(({ id }) => id),
        ),
      );
    const turning = nodes.filter((node) => node.order !== order);
    if (turning.length === 0) return outcome(shot, shot, selection);
    const curves = new Map<ChannelId, Curve>();
    const baked: string[] = [];
    let worst = 0;
    for (const node of turning) {
      const old = AXES.map((axis) => curveOf(shot, null, `${node.id}.${axis}`));
      const together = turnTogether(old);
      if (!together) baked.push(node.id);
      const shown = together ? old : old.map((curve) => bakeLeads(curve, shot.range.start, shot.range.end));
      worst = Math.max(worst, reorder(node, shown, order, everyFrame, curves));
    }
    const turned = new Set(turning.map(({ id }) => id));
    const renamed = {
      ...shot,
      nodes: shot.nodes.map((node) => (turned.has(node.id) ? { ...node, order } : node)),
    };
    const after = withCurves(renamed, null, curves);
    const found = sameMotion(shot, after, [...turned], [shot.range]);
    return outcome(shot, after, selection, {
      touched: [...curves.keys()],
      findings: [
        ...(baked.length > 0 ? [finding('orderBakesRepeats', {}, baked)] : []),
        ...notKept(found, UNASKED),
      ],
      measures: [
        { name: 'controls', value: turning.length, unit: '' },
        { name: 'greatest difference on keys', value: worst, unit: '°' },
        ...motionMeasures(found),
      ],
    });
  },
});

/** Whether what three curves do outside their keys stays what it is when they are written in another order. */
function turnTogether(curves: readonly Curve[]): boolean {
  const one = curves.find((curve) => hasLead(curve));
  if (!one) return true;
  const last = (curve: Curve) => curve.times[curve.times.length - 1];
  return curves.every(
    (curve) =>
      curve.times.length > 0 &&
      curve.times[0] === one.times[0] &&
      last(curve) === last(one) &&
      (['leadIn', 'leadOut', 'leadInCount', 'leadOutCount'] as const).every(
        (name) => curve[name] === one[name],
      ) &&
      // Straight on, or higher with each turn, is so in one order only.
      ![curve.leadIn, curve.leadOut].some((lead) => lead === 'slope' || lead === 'loopCarry'),
  );
}

/** Writes the three new curves; returns the greatest difference of orientation on their keys, in degrees. */
function reorder(
  node: Node,
  old: readonly Curve[],
  order: EulerOrder,
  everyFrame: boolean,
  curves: Map<ChannelId, Curve>,
): number {
  const keyed = [...new Set(old.flatMap((curve) => [...curve.times]))].sort((a, b) => a - b);
  if (keyed.length === 0) return 0;
  const holds = keyed.map((time) => old.every((curve) => holdsFrom(curve, time)));
  const times: number[] = [];
  const stepped: boolean[] = [];
  keyed.forEach((time, k) => {
    const next = keyed[k + 1];
    times.push(time);
    stepped.push(holds[k]!);
    if (!everyFrame || next === undefined || holds[k]) return;
    for (let frame = Math.floor(time) + 1; frame < next; frame += 1) {
      times.push(frame);
      stepped.push(false);
    }
  });
  const rows: Triple[] = [];
  let worst = 0;
  let near: Triple = [0, 0, 0];
  for (const time of times) {
    const was: Quaternion = [0, 0, 0, 1];
    const [x, y, z] = old.map((curve) => evaluate(curve, time)) as Triple;
    quatFromEuler(was, 0, x, y, z, node.order);
    near = eulerFromQuat(was, order, near);
    const now: Quaternion = [0, 0, 0, 1];
    quatFromEuler(now, 0, ...near, order);
    worst = Math.max(worst, angleBetween(was, now));
    rows.push(near);
  }
  const { leadIn, leadOut, leadInCount, leadOutCount } = old.find((curve) => hasLead(curve)) ?? EMPTY_CURVE;
  AXES.forEach((axis, k) => {
    const curve = buildCurve(times.length, (columns) => {
      columns.times.set(times);
      rows.forEach((row, i) => {
        columns.values[i] = row[k]!;
        if (stepped[i]) columns.segments[i] = SEGMENT.stepped;
      });
      columns.tangentsIn.fill(TANGENT.smooth);
      columns.tangentsOut.fill(TANGENT.smooth);
    });
    curves.set(`${node.id}.${axis}`, { ...curve, leadIn, leadOut, leadInCount, leadOutCount });
  });
  return worst;
}

/** Whether the curve holds from a key of it, or a time without one, to its next key. */
function holdsFrom(curve: Curve, time: number): boolean {
  const row = bisectRight(curve.times, time) - 1;
  return row < 0 || row + 1 >= curve.times.length || curve.segments[row] === SEGMENT.stepped;
}
