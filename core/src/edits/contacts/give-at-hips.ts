/** Give at the hips: where the leg of a foot that is held does not reach, the hips give way, by the smallest smooth shift that lets all legs reach, on an offset pass. */
import { z } from 'zod';
import { finding, refuse } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { measureContacts } from '../../bodies/contact-measures.ts';
import { curveWithin, shownBy } from '../../curve/curve-through.ts';
import type { Curve } from '../../curve/curve.ts';
import { contactsOf } from '../../document/contacts.ts';
import type { Contact } from '../../document/contacts.ts';
import { framesPerSecond, rigOf, withCurves } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { seatsOf } from '../../evaluation/seats.ts';
import type { CompiledChain } from '../../rig/relations/reach.ts';
import { hipsGive } from '../actions/hips-give.ts';
import type { HeldLeg } from '../actions/hips-give.ts';
import { placeOf } from '../actions/leg-seats.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { wayReader } from '../motion/flying.ts';
import { freshLayer } from '../shared/fresh-layer.ts';
import { underFilters } from '../passes/under-filters.ts';
import { chainOver } from './stands.ts';

export const giveAtHips = defineEdit({
  id: 'contacts.giveAtHips',
  title: 'Give at the hips',
  summary:
    'Where a leg does not reach its held foot the hips give way, by the least that lets all reach, on a pass.',
  words: 'foot lock hyperextend pop knee stretch root pelvis lower reach ik',
  group: 'motion',
  worksOn: 'contact',
  locks: 'none',
  options: z.object({
    ease: z.number().min(1).max(1000).nullable().default(null).meta({
      title: 'Eased over',
      unit: 'frames',
      step: 1,
      description: 'How long it comes and goes; null: a fifth of a second.',
    }),
    within: z.number().min(0.01).max(100).default(0.5).meta({
      title: 'Within',
      unit: 'mm',
      step: 0.1,
      description: 'As few keys as hold it so near.',
    }),
  }),
  run(shot, selection, { ease, within }) {
    const rig = rigOf(shot);
    const held = contactsOf(shot).filter(({ hold, node }) => hold && chainOver(rig, node));
    if (held.length === 0) return refused(shot, selection, finding('nothingHeld', {}));
    const chains = [...new Set(held.map(({ node }) => chainOver(rig, node)!))];
    const goals = seatsOf(
      shot,
      chains.map(({ target }) => target),
    );
    const legs = chains.map((chain): HeldLeg => ({
      leg: { root: chain.root, middle: chain.middle, end: chain.end },
      stands: spansOf(held.filter(({ node }) => chainOver(rig, node) === chain)),
      wantedAt: (frame) => placeOf(goals(frame, chain.target)),
    }));
    const frames = ease ?? framesPerSecond(shot.rate) / 5;
    const give = hipsGive(shot, legs, frames);
    if (!give) {
      const misses = stillMissed(shot, held);
      return outcome(shot, shot, selection, {
        findings: misses.length > 0 ? misses : [finding('allReach', {})],
      });
    }
    const { id } = rig.nodes[give.row]!;
    const inAxes = wayReader(shot, give.row);
    const changed = new Map<ChannelId, Curve>();
    const { start, end } = shot.range;
    const pass = freshLayer(shot, '', 'Hips give', {
      kind: 'offset',
      members: [id],
      settings: { rotations: 'channels' },
    });
    ['tx', 'ty', 'tz'].forEach((name, axis) => {
      const shown = shownBy((frame) => inAxes(give.shiftAt(frame), frame)[axis]!, []);
      const curve = curveWithin(shown, [start, end], within / 20);
      if (curve.values.some((value) => Math.abs(value) > 1e-6)) changed.set(`${id}.${name}`, curve);
    });
    if (changed.size === 0) refuse('allReach', {});
    const after = withCurves(underFilters(shot, pass), pass.id, changed);
    const slide = (of: Shot) =>
      measureContacts(of, held).reduce((most, { greatest }) => Math.max(most, greatest * 10), 0);
    return outcome(shot, after, selection, {
      touched: [...changed.keys()],
      findings: [finding('hipsGive', { node: id }, id, give.most), ...stillMissed(after, held)],
      measures: [
        { name: 'hips give way', value: give.most * 10, unit: 'mm', where: { node: id } },
        { name: 'feet slide at most', value: slide(after), before: slide(shot), unit: 'mm' },
        {
          name: 'keys',
          value: [...changed.values()].reduce((sum, { times }) => sum + times.length, 0),
          unit: '',
        },
      ],
    });
  },
});

/** Spans of one limb, those that overlap as one. */
function spansOf(contacts: readonly Contact[]): { first: number; last: number }[] {
  const spans: { first: number; last: number }[] = [];
  for (const { start, end } of [...contacts].sort((a, b) => a.start - b.start)) {
    const before = spans.at(-1);
    if (before && start <= before.last) before.last = Math.max(before.last, end);
    else spans.push({ first: start, last: end });
  }
  return spans;
}

/** cm: what is nearer is reached. */
const REACHED = 0.05;

/** Limbs whose goals are still out of reach. */
function stillMissed(shot: Shot, held: readonly Contact[]): Finding[] {
  const rig = rigOf(shot);
  return [...new Set(held.map(({ node }) => chainOver(rig, node)!))].flatMap((chain) => {
    const [most, frame] = farthestMiss(
      shot,
      chain,
      held.filter(({ node }) => chainOver(rig, node) === chain),
    );
    const { id } = rig.nodes[chain.end]!;
    return most > REACHED ? [finding('stillOutOfReach', { node: id, frame }, id, most * 10, frame)] : [];
  });
}

function farthestMiss(
  shot: Shot,
  { end, target }: CompiledChain,
  contacts: readonly Contact[],
): [cm: number, frame: number] {
  const seats = seatsOf(shot, [end, target]);
  let found: [number, number] = [0, 0];
  for (const { start, end: last } of contacts)
    for (let frame = Math.ceil(start); frame <= last; frame += 1) {
      const [a, b] = [placeOf(seats(frame, end)), placeOf(seats(frame, target))];
      const off = Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
      if (off > found[0]) found = [off, frame];
    }
  return found;
}
